/** Volume-weighted average prices since a bar on which they begin anew, with bands. */
import type { BarSeries } from "../market/bars.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { ALL_HISTORY, BARS, type ColumnValues, columnInput, numberInput, SESSIONS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** Mean and bands: weighted mean and squares by West's updates (1979), so that nothing is lost to large prices. */
function vwapSince(bars: BarSeries, first: number, width: number, begins: (i: number) => boolean): readonly ColumnValues[] {
  const { high, low, close, volume, length: n } = bars;
  const [mean, upper, lower, weight, squares] = [0, 1, 2, 3, 4].map(() => newColumn(n, first)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  for (let i = startAt(first); i < n; i++) {
    const typical = (high[i]! + low[i]! + close[i]!) / 3;
    const isNew = i === first || begins(i);
    const [before, had, was] = isNew ? [typical, 0, 0] : [weight[i - 1]! === 0 ? typical : mean[i - 1]!, weight[i - 1]!, squares[i - 1]!];
    const total = had + volume[i]!;
    const away = typical - before;
    mean[i] = total === 0 ? typical : before + (away * volume[i]!) / total;
    weight[i] = total;
    squares[i] = was + volume[i]! * away * (typical - mean[i]!);
    const deviation = total === 0 ? 0 : Math.sqrt(Math.max(0, squares[i]!) / total);
    upper[i] = mean[i]! + width * deviation;
    lower[i] = mean[i]! - width * deviation;
  }
  return [mean, upper, lower].map((values) => ({ values, first }));
}

const common = {
  group: "volume",
  unit: "price",
  source: "weighted mean and deviation, West 1979",
  pane: "price",
  outputs: ["value", "upper", "lower"],
} as const;
const WIDTH = numberInput("width", 2, 0, 100);
const FORMULA =
  "value = sum(t * volume) / sum(volume), t = (high + low + close) / 3; upper, lower = value + and - width * sqrt(sum(volume * (t - value)^2) / sum(volume)); the typical price while nothing was traded";

/** Monday is the first day of a week: 1970-01-01 was a Thursday. */
const weekOf = (date: string): number => Math.floor((Date.parse(`${date}T00:00:00Z`) / DAY_MS + 3) / 7);

export const weeklyVwap: StudyDefinition = {
  ...common,
  name: "weeklyVwap",
  summary: "Volume-weighted average price of the week so far, with deviation bands",
  formula: `since the week's first session: ${FORMULA}`,
  warmUp: "none",
  inputs: [BARS, WIDTH],
  settle: () => 7 * SESSIONS(),
  compute: ({ bars, numbers }) => {
    const { session, sessions } = bars;
    const isNewWeek = (i: number): boolean =>
      session[i] !== session[i - 1] && weekOf(sessions.dates[session[i]!]!) !== weekOf(sessions.dates[session[i - 1]!]!);
    return vwapSince(bars, 0, numbers[0]!, isNewWeek);
  },
};

export const anchoredVwap: StudyDefinition = {
  ...common,
  name: "anchoredVwap",
  summary: "Volume-weighted average price since an event, with deviation bands; the anchor counts bars since it, as barsSince() does",
  formula: `since anchor was last 0 or fell: ${FORMULA}`,
  warmUp: "the anchor's first value",
  inputs: [BARS, columnInput("anchor"), WIDTH],
  settle: ALL_HISTORY,
  compute: ({ bars, columns, numbers }) => {
    const { values, first } = columns[0]!;
    return vwapSince(bars, first, numbers[0]!, (i) => values[i] === 0 || values[i]! < values[i - 1]!);
  },
};
