/** The example plans that the demo workspace opens with: source files in demo/plans and what each runs on. */

import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import type { TestPosition } from "@plan-tester/core";
import { workspaceRoot } from "./root.ts";

export interface Example {
  readonly id: string;
  readonly file: string;
  readonly symbol: string;
  readonly timeframe: string;
  /** Period of the run it opens with, session dates. */
  readonly from: string;
  readonly to: string;
  /** Further instruments of its run. */
  readonly alsoOn?: readonly string[];
  /** A rule sheet: the example whose program says the same. */
  readonly saysAs?: string;
  /** Opens with a forced test position. */
  readonly testPosition?: TestPosition;
  readonly note: string;
}

const YEAR = { from: "2024-03-01", to: "2025-02-28" };
const TWO_YEARS = { from: "2023-03-01", to: "2025-02-28" };

export const EXAMPLES: readonly Example[] = [
  {
    id: "kelp-ebb-fade",
    file: "kelp-ebb-fade.plan.ts",
    symbol: "KELP",
    timeframe: "15m",
    ...YEAR,
    note: "A band fade over three sessions. The pull it lives on is real: about half of every move comes back within days.",
  },
  {
    id: "brine-cross",
    file: "brine-cross.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "A cross of two averages with stop and target. As it is set noise turns it about: try a slow average of a month.",
  },
  {
    id: "auk-opening-break",
    file: "auk-opening-break.plan.ts",
    symbol: "AUKL",
    timeframe: "15m",
    ...YEAR,
    note: "An opening-range break with a square-off time. Both entries are stop orders of one group. The edge is smaller than its costs.",
  },
  {
    id: "puffin-dip",
    file: "puffin-dip.plan.ts",
    symbol: "PUFN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "An oscillator with its size from the risk. Hard to tell from luck: count the trades, and compare with holding.",
  },
  {
    id: "brine-channel",
    file: "brine-channel.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
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
  {
    id: "brine-displaced",
    file: "brine-displaced.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "Displaced averages of highs and lows, one position at a time, with texts on the chart.",
  },
  {
    id: "kelp-swing",
    file: "kelp-swing.plan.ts",
    symbol: "KELP",
    timeframe: "15m",
    ...YEAR,
    note: "An oscillator with bar colour, and exits in percent. Put it on GANN to see what noise makes of it.",
  },
  {
    id: "tide-turn",
    file: "tide-turn.plan.ts",
    symbol: "TIDE",
    timeframe: "15m",
    ...YEAR,
    note: "A cross with a momentum filter and a window for entries; exits ask neither.",
  },
  {
    id: "puffin-two-clocks",
    file: "puffin-two-clocks.plan.ts",
    symbol: "PUFN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "Two timeframes have to agree. With orders off it only alerts.",
  },
  {
    id: "isles-short-line",
    file: "isles-short-line.plan.ts",
    symbol: "AUKL",
    timeframe: "1h",
    ...TWO_YEARS,
    alsoOn: ["PUFN", "TIDE", "BRIN"],
    note: "A stop line, short only, on a basket of four.",
  },
  {
    id: "auk-state",
    file: "auk-state.plan.ts",
    symbol: "AUKL",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "A state entry with exits set in the opened event. Mind the guard that keeps it from repeating.",
  },
  {
    id: "brine-base-entry",
    file: "brine-base-entry.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "An entry alone: lay the exit kits of demo/kits over it and compare.",
  },
  {
    id: "auk-open-extreme",
    file: "auk-open-extreme.plan.ts",
    symbol: "AUKL",
    timeframe: "15m",
    ...YEAR,
    note: "The open is the session's extreme: a break away from it, flat before the close.",
  },
  {
    id: "isles-structure",
    file: "isles-structure.plan.ts",
    symbol: "AUKL",
    timeframe: "1h",
    ...TWO_YEARS,
    alsoOn: ["PUFN", "TIDE", "KELP"],
    note: "A stop entry at the last bar's high, a stop at an average, a target of one R, over a list.",
  },
  {
    id: "kelp-windows",
    file: "kelp-windows.plan.ts",
    symbol: "KELP",
    timeframe: "15m",
    ...YEAR,
    note: "Channel breaks in a window of bars since the open, with a time limit for each side.",
  },
  {
    id: "twin-shares",
    file: "twin-shares.plan.ts",
    symbol: "AUKL",
    timeframe: "1h",
    ...TWO_YEARS,
    alsoOn: ["PUFN"],
    note: "Two linked positions, turned together. The spread of these two has no reason to close.",
  },
  {
    id: "worded-rules",
    file: "worded-rules.plan.ts",
    symbol: "BRIN",
    timeframe: "15m",
    ...YEAR,
    note: "Conditions as text inputs, each with a timeframe; at market or by limit.",
  },
  {
    id: "tide-adaptive-break",
    file: "tide-adaptive-break.plan.ts",
    symbol: "TIDE",
    timeframe: "15m",
    ...TWO_YEARS,
    note: "A look-back that adapts to volatility, acting once a session.",
  },
  {
    id: "puffin-mid-line",
    file: "puffin-mid-line.plan.ts",
    symbol: "PUFN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "The middle of an oscillator, sized by the distance to a structural stop.",
  },
  {
    id: "brine-ladder",
    file: "brine-ladder.plan.ts",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "A profit ladder from a module of its own.",
  },
  {
    id: "gannet-reference",
    file: "gannet-reference.plan.ts",
    symbol: "GANN",
    timeframe: "15m",
    ...YEAR,
    note: "Steps around a reference price that moves with each fill. GANN is noise: costs decide.",
  },
  {
    id: "isles-shares",
    file: "isles-shares.plan.ts",
    symbol: "AUKL",
    timeframe: "1h",
    ...TWO_YEARS,
    alsoOn: ["PUFN", "KELP", "TIDE"],
    note: "Target shares over four instruments, once a week, with a protective stop.",
  },
  {
    id: "kelp-band-trail",
    file: "kelp-band-trail.plan.ts",
    symbol: "KELP",
    timeframe: "1h",
    ...TWO_YEARS,
    testPosition: { side: 1, bar: 20, units: 1 },
    note: "A stop on a band line, shown at work by a forced test position.",
  },
  {
    id: "tide-hour-blend",
    file: "tide-hour-blend.plan.ts",
    symbol: "TIDE",
    timeframe: "15m",
    ...YEAR,
    note: "A bias by hour of day, learnt as it goes, blended with a break.",
  },
  {
    id: "brine-cross-sheet",
    file: "brine-cross-sheet.plan.ts",
    saysAs: "brine-cross",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "A rule sheet: the cross of two averages, with shorts that mirror longs. Its trades are those of the program.",
  },
  {
    id: "puffin-dip-sheet",
    file: "puffin-dip-sheet.plan.ts",
    saysAs: "puffin-dip",
    symbol: "PUFN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "A rule sheet: an oversold dip in a rising share. Switch the trend off and see what it was worth.",
  },
  {
    id: "kelp-swing-sheet",
    file: "kelp-swing-sheet.plan.ts",
    saysAs: "kelp-swing",
    symbol: "KELP",
    timeframe: "15m",
    ...YEAR,
    note: "A rule sheet: an oscillator turns at its edge. The short threshold is the long one turned about the middle.",
  },
  {
    id: "kelp-windows-sheet",
    file: "kelp-windows-sheet.plan.ts",
    saysAs: "kelp-windows",
    symbol: "KELP",
    timeframe: "15m",
    ...YEAR,
    note: "A rule sheet: channel breaks inside a window of bars, with other exits for each side.",
  },
  {
    id: "brine-base-entry-sheet",
    file: "brine-base-entry-sheet.plan.ts",
    saysAs: "brine-base-entry",
    symbol: "BRIN",
    timeframe: "1h",
    ...TWO_YEARS,
    note: "A rule sheet without exits of its own: lay exit kits over it.",
  },
];

/** Names of the modules that the examples import. */
export const MODULES: readonly string[] = ["profit-ladder"];

/** Text of a module, null when there is none of this name. */
export function moduleText(name: string): string | null {
  const file = join(workspaceRoot(), "demo", "plans", `${name}.module.ts`);
  return existsSync(file) ? readFileSync(file, "utf8") : null;
}

/** Exit kits for "Brine base entry", by the names of their files, and what each is for. */
export const KITS: Readonly<Record<string, string>> = {
  fixed: "A stop at a distance that never changes: the yardstick for the others.",
  "fixed-filtered": "The same stop, but entered only while the range of late is small beside its own habit.",
  "range-scaled": "A stop that is as wide as three bars are on average.",
  "range-scaled-capped": "The same, but never wider than in calm times: what is lost in wild ones stays small.",
  stepped: "Two widths, one for calm and one for wild stretches.",
};

export function kitText(name: string): string {
  return readFileSync(join(workspaceRoot(), "demo", "kits", `${name}.json`), "utf8");
}

export function exampleSource(example: Example): string {
  return readFileSync(join(workspaceRoot(), "demo", "plans", example.file), "utf8");
}
