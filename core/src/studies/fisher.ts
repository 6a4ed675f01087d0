import { SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { newColumn, startAt } from "./growth.ts";

/** The logarithm has no end: what is transformed stays this far from 1 and -1. */
const MOST = 0.999;
/** 0.67^k and 0.5^k, one after the other, are below 1e-12 after so many bars. */
const MEMORY = 160;

export const fisher: StudyDefinition = {
  name: "fisher",
  group: "oscillator",
  unit: "about -4 to 4",
  summary: "Fisher transform of where a value stands in its range: turning points stand out as sharp peaks",
  formula:
    "v = 0.33 * 2 * ((x - L) / (H - L) - 0.5) + 0.67 * v[1], kept within 0.999, 0 for H = L; value = 0.5 * ln((1 + v) / (1 - v)) + 0.5 * value[1]",
  warmUp: "span - 1 bars after the source's first value; v and value begin at 0",
  source: "Ehlers 2002, Using the Fisher Transform",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(10)],
  outputs: ["value"],
  settle: (numbers) => numbers[0]! + MEMORY,
  compute: ({ columns, numbers }) => {
    const top = slidingExtreme(columns[0]!, numbers[0]!, 1);
    const bottom = slidingExtreme(columns[0]!, numbers[0]!, -1);
    const { values } = columns[0]!;
    const { first } = top;
    const n = values.length;
    const smoothed = newColumn(n, first);
    const out = newColumn(n, first);
    for (let i = startAt(first); i < n; i++) {
      const range = top.values[i]! - bottom.values[i]!;
      const place = range === 0 ? 0 : 2 * ((values[i]! - bottom.values[i]!) / range - 0.5);
      const [v, before] = i === first ? [0, 0] : [smoothed[i - 1]!, out[i - 1]!];
      const now = Math.max(-MOST, Math.min(MOST, 0.33 * place + 0.67 * v));
      smoothed[i] = now;
      out[i] = 0.5 * Math.log((1 + now) / (1 - now)) + 0.5 * before;
    }
    return [{ values: out, first }];
  },
};
