/** The example plans that the demo workspace opens with: source files in demo/plans and what each runs on. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { workspaceRoot } from "./root.ts";

export interface Example {
  readonly id: string;
  readonly file: string;
  readonly symbol: string;
  readonly timeframe: string;
  /** Period of the run it opens with, session dates. */
  readonly from: string;
  readonly to: string;
  readonly note: string;
}

const YEAR = { from: "2024-03-01", to: "2025-02-28" };

export const EXAMPLES: readonly Example[] = [
  {
    id: "kelp-ebb-fade",
    file: "kelp-ebb-fade.plan.ts",
    symbol: "KELP",
    timeframe: "15m",
    ...YEAR,
    note: "A band fade. The pull it lives on is real: half of any distance from the season is gone in 1,100 minutes. Costs eat almost half of it.",
  },
  {
    id: "brine-cross",
    file: "brine-cross.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    from: "2023-03-01",
    to: "2025-02-28",
    note: "A cross of two averages with stop and target. Few trades a year: the averages say little until there are a hundred.",
  },
  {
    id: "auk-opening-break",
    file: "auk-opening-break.plan.ts",
    symbol: "AUKL",
    timeframe: "15m",
    ...YEAR,
    note: "An opening-range break with a square-off time. Both entries are stop orders of one group.",
  },
  {
    id: "puffin-dip",
    file: "puffin-dip.plan.ts",
    symbol: "PUFN",
    timeframe: "1h",
    from: "2023-03-01",
    to: "2025-02-28",
    note: "An oscillator with its size from the risk. Hard to tell from luck: count the trades, and compare with holding.",
  },
  {
    id: "brine-channel",
    file: "brine-channel.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    from: "2023-03-01",
    to: "2025-02-28",
    note: "A channel break with stop entries, trailed by a shorter channel.",
  },
  {
    id: "crown-high-water",
    file: "crown-high-water.plan.ts",
    symbol: "XSC/ORM",
    timeframe: "15m",
    ...YEAR,
    note: "A day trend whose working stop is lifted on each new high. Its average trade is smaller than its cost: a plan to learn from, not to trade.",
  },
];

export function exampleSource(example: Example): string {
  return readFileSync(join(workspaceRoot(), "demo", "plans", example.file), "utf8");
}
