import { BARS, SESSIONS, type StudyDefinition } from "./definition.ts";
import { previousSessionOf } from "./previous-session.ts";
import { barByBar } from "./windows.ts";

export const pivots: StudyDefinition = {
  name: "pivots",
  group: "session",
  unit: "price",
  summary: "Pivot levels of the session before: the pivot, two resistances and two supports",
  formula: "pivot = (H + L + C) / 3; r1 = 2 * pivot - L; s1 = 2 * pivot - H; r2, s2 = pivot + and - (H - L)",
  warmUp: "until the second session of the data",
  source: "floor traders' levels, Person 2004",
  pane: "price",
  inputs: [BARS],
  outputs: ["pivot", "r1", "s1", "r2", "s2"],
  settle: () => 2 * SESSIONS(),
  compute: ({ bars }) => {
    const { high, low, close } = previousSessionOf(bars);
    const pivot = barByBar([high], (i) => (high.values[i]! + low.values[i]! + close.values[i]!) / 3);
    const range = (i: number): number => high.values[i]! - low.values[i]!;
    return [
      pivot,
      barByBar([pivot], (i) => 2 * pivot.values[i]! - low.values[i]!),
      barByBar([pivot], (i) => 2 * pivot.values[i]! - high.values[i]!),
      barByBar([pivot], (i) => pivot.values[i]! + range(i)),
      barByBar([pivot], (i) => pivot.values[i]! - range(i)),
    ];
  },
};
