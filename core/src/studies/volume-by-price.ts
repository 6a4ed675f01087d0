import type { BarSeries } from "../market/bars.ts";
import { BARS, numberInput, type StudyDefinition, WINDOW } from "./definition.ts";
import { slidingExtreme } from "./extremes.ts";
import { newColumn, startAt } from "./growth.ts";

/** Adds the volume of bars to equal rows of a range: that of each bar is spread evenly over its own range. */
function fillRows(rows: Float64Array, { high, low, volume }: BarSeries, from: number, to: number, bottom: number, height: number): void {
  const last = rows.length - 1;
  const rowAt = (price: number): number => Math.max(0, Math.min(last, Math.floor((price - bottom) / height)));
  let traded = 0;
  for (let k = from; k <= to; k++) traded += volume[k]!;
  for (let k = from; k <= to; k++) {
    // While nothing was traded every bar counts the same.
    const weight = traded === 0 ? 1 : volume[k]!;
    const range = high[k]! - low[k]!;
    const [begin, end] = [rowAt(low[k]!), rowAt(high[k]!)];
    if (begin === end) rows[begin]! += weight;
    else
      for (let row = begin; row <= end; row++) {
        const above = row === last ? high[k]! : Math.min(high[k]!, bottom + (row + 1) * height);
        rows[row]! += (weight * Math.max(0, above - Math.max(low[k]!, bottom + row * height))) / range;
      }
  }
}

/** Rows about the fullest one, by the fuller neighbour first, until they hold a share of all. */
function valueArea(rows: Float64Array, control: number, share: number): readonly [from: number, to: number] {
  let total = 0;
  for (let row = 0; row < rows.length; row++) total += rows[row]!;
  let [from, to] = [control, control];
  let held = rows[control]!;
  while (held < share * total && (from > 0 || to < rows.length - 1)) {
    const [under, over] = [from > 0 ? rows[from - 1]! : -1, to < rows.length - 1 ? rows[to + 1]! : -1];
    if (over >= under) to++;
    else from--;
    held += Math.max(over, under);
  }
  return [from, to];
}

export const volumeByPrice: StudyDefinition = {
  name: "volumeByPrice",
  group: "volume",
  unit: "price",
  summary: "Volume by price of the last span bars: the price with most of it, and the area about it that holds a share",
  formula:
    "the range of span bars in equal rows, each bar's volume spread evenly over its own range; control = middle of the fullest row, the lower of equal ones; high, low = edges of the rows about it, the fuller neighbour first, that hold share of all",
  warmUp: "span - 1 bars",
  source: "Steidlmayer and Koy 1986, Markets and Market Logic",
  pane: "price",
  inputs: [BARS, numberInput("span", 60, 1, 2000, true), numberInput("rows", 24, 2, 500, true), numberInput("share", 0.7, 0.01, 1)],
  outputs: ["control", "high", "low"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const [length, count, share] = numbers as readonly [number, number, number];
    const n = bars.length;
    const top = slidingExtreme({ values: bars.high, first: 0 }, length, 1);
    const bottom = slidingExtreme({ values: bars.low, first: 0 }, length, -1);
    const { first } = top;
    const [control, upper, lower] = [newColumn(n, first), newColumn(n, first), newColumn(n, first)];
    const rows = new Float64Array(count);
    for (let i = startAt(first); i < n; i++) {
      const [under, over] = [bottom.values[i]!, top.values[i]!];
      const height = (over - under) / count;
      if (height <= 0) {
        control[i] = upper[i] = lower[i] = under;
        continue;
      }
      rows.fill(0);
      fillRows(rows, bars, i - length + 1, i, under, height);
      let fullest = 0;
      for (let row = 1; row < count; row++) if (rows[row]! > rows[fullest]!) fullest = row;
      const [from, to] = valueArea(rows, fullest, share);
      control[i] = under + (fullest + 0.5) * height;
      upper[i] = under + (to + 1) * height;
      lower[i] = under + from * height;
    }
    return [control, upper, lower].map((values) => ({ values, first }));
  },
};
