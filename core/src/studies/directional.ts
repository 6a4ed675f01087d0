import { BARS, EXPONENTIAL, type StudyDefinition, span } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { wilderAverage } from "./smoothing.ts";
import { trueRangeOf } from "./true-range.ts";
import { barByBar } from "./windows.ts";

export const directional: StudyDefinition = {
  name: "directional",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Directional movement: its two sides and their average strength (ADX)",
  formula: "plus, minus = 100 * wilder(+DM or -DM) / wilder(trueRange); adx = wilder(100 * abs(plus - minus) / (plus + minus)); 0 for 0/0",
  warmUp: "span bars for plus and minus, span - 1 more for adx",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "own",
  inputs: [BARS, span(14)],
  outputs: ["adx", "plus", "minus"],
  settle: (numbers) => 2 * EXPONENTIAL(numbers),
  compute: ({ bars, numbers }) => {
    const { high, low, length } = bars;
    const up = newColumn(length, 1);
    const down = newColumn(length, 1);
    for (let i = startAt(1); i < length; i++) {
      const rise = high[i]! - high[i - 1]!;
      const fall = low[i - 1]! - low[i]!;
      up[i] = rise > fall && rise > 0 ? rise : 0;
      down[i] = fall > rise && fall > 0 ? fall : 0;
    }
    const n = numbers[0]!;
    const range = wilderAverage({ values: trueRangeOf(bars).values, first: 1 }, n);
    const share = (moves: Float64Array) => {
      const average = wilderAverage({ values: moves, first: 1 }, n);
      return barByBar([average, range], (i) => (range.values[i]! === 0 ? 0 : (100 * average.values[i]!) / range.values[i]!));
    };
    const plus = share(up);
    const minus = share(down);
    const strength = barByBar([plus, minus], (i) => {
      const sum = plus.values[i]! + minus.values[i]!;
      return sum === 0 ? 0 : (100 * Math.abs(plus.values[i]! - minus.values[i]!)) / sum;
    });
    return [wilderAverage(strength, n), plus, minus];
  },
};
