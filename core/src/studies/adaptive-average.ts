import { ALL_HISTORY, barsInput, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { efficiencyOf } from "./efficiency.ts";
import { newColumn, startAt } from "./growth.ts";

export const adaptiveAverage: StudyDefinition = {
  name: "adaptiveAverage",
  group: "average",
  unit: "as the source",
  summary: "Adaptive moving average: quick in a straight move, slow in noise",
  formula: "y = y[1] + c^2 * (x - y[1]), c between 2 / (slow + 1) and 2 / (fast + 1) by efficiency(x, span); begins at x[1]",
  warmUp: "span bars after the source's first value",
  source: "Kaufman 1995, Smarter Trading",
  pane: "price",
  inputs: [SOURCE_COLUMN, span(10), barsInput("fast", 2), barsInput("slow", 30)],
  outputs: ["value"],
  settle: ALL_HISTORY,
  compute: ({ columns, numbers }) => {
    const { values } = columns[0]!;
    const quick = 2 / (numbers[1]! + 1);
    const calm = 2 / (numbers[2]! + 1);
    const { values: ratio, first } = efficiencyOf(columns[0]!, numbers[0]!);
    const n = values.length;
    const out = newColumn(n, first);
    const start = startAt(first);
    let y = start > first ? out[start - 1]! : first > 0 && first <= n ? values[first - 1]! : Number.NaN;
    for (let i = start; i < n; i++) {
      const c = calm + ratio[i]! * (quick - calm);
      y += c * c * (values[i]! - y);
      out[i] = y;
    }
    return [{ values: out, first }];
  },
};
