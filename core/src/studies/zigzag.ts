import { ALL_HISTORY, type ColumnValues, numberInput, SOURCE_COLUMN, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** Whether `x` has left `extreme` by a share, downward for a positive sign. */
const hasLeft = (x: number, extreme: number, share: number, sign: number): boolean => sign * (extreme - x) >= share * Math.abs(extreme);

/** The first bar at which a leg is confirmed, and whether it leads up. */
function firstLeg({ values, first }: ColumnValues, share: number): { readonly at: number; readonly isUp: boolean; readonly from: number } {
  const n = values.length;
  let [top, bottom] = [values[first]!, values[first]!];
  for (let i = first + 1; i < n; i++) {
    const x = values[i]!;
    if (hasLeft(x, bottom, share, -1)) return { at: i, isUp: true, from: bottom };
    if (hasLeft(x, top, share, 1)) return { at: i, isUp: false, from: top };
    top = Math.max(top, x);
    bottom = Math.min(bottom, x);
  }
  return { at: n, isUp: true, from: Number.NaN };
}

export const zigzag: StudyDefinition = {
  name: "zigzag",
  group: "extreme",
  unit: "as the source",
  summary: "Zigzag of confirmed legs: the last turning point that price has left by so many percent, and the direction since",
  formula:
    "a low becomes the turning point once x has risen percent from it, a high once x has fallen percent from it; direction 1 after a low, -1 after a high",
  warmUp: "until the first leg of percent: a turning point is known then, never before",
  source: "percentage filter, Alexander 1961, Price Movements in Speculative Markets",
  pane: "price",
  inputs: [SOURCE_COLUMN, numberInput("percent", 2, 0.001, 1000)],
  outputs: ["value", "direction"],
  settle: ALL_HISTORY,
  compute: ({ columns, numbers }) => {
    const source = columns[0]!;
    const { values } = source;
    const n = values.length;
    const share = numbers[0]! / 100;
    const leg = firstLeg(source, share);
    const first = leg.at;
    const turn = newColumn(n, first);
    const direction = newColumn(n, first);
    // The best value of the leg that goes on.
    const best = newColumn(n, first);
    for (let i = startAt(first); i < n; i++) {
      const x = values[i]!;
      if (i === first) [turn[i], direction[i], best[i]] = [leg.from, leg.isUp ? 1 : -1, x];
      else {
        const way = direction[i - 1]!;
        const isOver = hasLeft(x, best[i - 1]!, share, way);
        turn[i] = isOver ? best[i - 1]! : turn[i - 1]!;
        direction[i] = isOver ? -way : way;
        best[i] = isOver || way * x > way * best[i - 1]! ? x : best[i - 1]!;
      }
    }
    return [
      { values: turn, first },
      { values: direction, first },
    ];
  },
};
