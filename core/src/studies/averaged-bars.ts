import { BARS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** 0.5^k is below 1e-12 after so many bars. */
const MEMORY = 42;

export const averagedBars: StudyDefinition = {
  name: "averagedBars",
  group: "price",
  unit: "price",
  summary: "Averaged candles as columns: bars whose open leans on the bar before, so that a move keeps its colour",
  formula:
    "close = (o + h + l + c) / 4; open = (open[1] + close[1]) / 2, the first (o + c) / 2; high = max(h, open, close); low = min(l, open, close)",
  warmUp: "none",
  source: "averaged candles, Valcu 2004, Using the Heikin-Ashi Technique",
  pane: "price",
  inputs: [BARS],
  outputs: ["open", "high", "low", "close"],
  settle: () => MEMORY,
  compute: ({ bars }) => {
    const n = bars.length;
    const [open, high, low, close] = [newColumn(n, 0), newColumn(n, 0), newColumn(n, 0), newColumn(n, 0)];
    for (let i = startAt(0); i < n; i++) {
      const middle = (bars.open[i]! + bars.high[i]! + bars.low[i]! + bars.close[i]!) / 4;
      const begin = i === 0 ? (bars.open[0]! + bars.close[0]!) / 2 : (open[i - 1]! + close[i - 1]!) / 2;
      open[i] = begin;
      close[i] = middle;
      high[i] = Math.max(bars.high[i]!, begin, middle);
      low[i] = Math.min(bars.low[i]!, begin, middle);
    }
    return [open, high, low, close].map((values) => ({ values, first: 0 }));
  },
};
