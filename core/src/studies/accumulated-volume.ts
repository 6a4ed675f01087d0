/** Volume added up over all of the history, with a sign that each bar decides. */
import type { BarSeries } from "../market/bars.ts";
import { ALL_HISTORY, BARS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

const definition = (
  name: string,
  summary: string,
  formula: string,
  source: string,
  share: (bars: BarSeries, i: number) => number,
): StudyDefinition => ({
  name,
  group: "volume",
  unit: "volume",
  summary,
  formula,
  warmUp: "none; begins at 0 on the first bar",
  source,
  pane: "own",
  inputs: [BARS],
  outputs: ["value"],
  settle: ALL_HISTORY,
  compute: ({ bars }) => {
    const { volume, length } = bars;
    const out = newColumn(length, 0);
    const start = startAt(0);
    let sum = start > 0 ? out[start - 1]! : 0;
    for (let i = start; i < length; i++) {
      if (i > 0) sum += share(bars, i) * volume[i]!;
      out[i] = sum;
    }
    return [{ values: out, first: 0 }];
  },
});

export const onBalanceVolume = definition(
  "onBalanceVolume",
  "On-balance volume: volume added on a rise of the close, taken off on a fall",
  "y = y[1] + sign(close - close[1]) * volume",
  "Granville 1963",
  ({ close }, i) => Math.sign(close[i]! - close[i - 1]!),
);

export const accumulation = definition(
  "accumulation",
  "Accumulation line: volume weighted by where the bar closed in its range",
  "y = y[1] + ((close - low) - (high - close)) / (high - low) * volume; nothing for a bar without range",
  "accumulation and distribution, Williams 1973",
  ({ high, low, close }, i) => {
    const range = high[i]! - low[i]!;
    return range === 0 ? 0 : (2 * close[i]! - low[i]! - high[i]!) / range;
  },
);
