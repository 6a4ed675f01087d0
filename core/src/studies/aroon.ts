import { BARS, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sinceExtreme } from "./extreme-age.ts";
import { barByBar } from "./windows.ts";

export const aroon: StudyDefinition = {
  name: "aroon",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Aroon: how fresh the highest high and the lowest low are, and their gap",
  formula: "up = 100 * (span - bars since the highest high of span + 1 bars) / span; down by the lowest low; gap = up - down",
  warmUp: "span bars",
  source: "Chande 1995, A Time Price Oscillator",
  pane: "own",
  inputs: [BARS, span(25)],
  outputs: ["up", "down", "gap"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const length = numbers[0]!;
    // 100 when the extreme is the newest, 0 when it is the oldest.
    const fresh = (age: number): number => (100 * (length - age)) / length;
    const up = sinceExtreme({ values: bars.high, first: 0 }, length + 1, 1, fresh);
    const down = sinceExtreme({ values: bars.low, first: 0 }, length + 1, -1, fresh);
    return [up, down, barByBar([up, down], (i) => up.values[i]! - down.values[i]!)];
  },
};
