/** Bars that come to others of the same instrument: what both have is compared, bar by bar, before anything is changed. */
import { BAR_COLUMNS, type BarColumns } from "../market/bars.ts";
import { inOwnMemory } from "./row-blocks.ts";

const EXAMPLES = 20;

/** What of two bars of one time is shown. */
export interface BarPrices {
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly volume: number;
}

/** How many bars that come are there already, the same or with another value, and how many are new. */
export interface Overlap {
  readonly same: number;
  readonly differs: number;
  readonly fresh: number;
  /** The first that differ. */
  readonly examples: readonly { readonly timeMs: number; readonly there: BarPrices; readonly given: BarPrices }[];
}

export type OverlapChoice = "replace" | "keep";

const NUMBERS = BAR_COLUMNS.filter((name) => name !== "time");

const pricesAt = ({ open, high, low, close, volume }: BarColumns, i: number): BarPrices => ({
  ...{ open: open[i]!, high: high[i]!, low: low[i]!, close: close[i]!, volume: volume[i]! },
});

/**
 * Walks through two histories in the order of time.
 * @param visit is told of each time the index of its bar in both, -1 where one has none
 */
function walk(there: BarColumns, given: BarColumns, visit: (there: number, given: number) => void): void {
  const [a, b] = [there.time, given.time];
  for (let i = 0, j = 0; i < a.length || j < b.length; ) {
    const isFirst = j >= b.length || (i < a.length && a[i]! <= b[j]!);
    const isSecond = i >= a.length || (j < b.length && b[j]! <= a[i]!);
    visit(isFirst ? i++ : -1, isSecond ? j++ : -1);
  }
}

export function compareBars(there: BarColumns, given: BarColumns): Overlap {
  let [same, differs, fresh] = [0, 0, 0];
  const examples: Overlap["examples"][number][] = [];
  walk(there, given, (i, j) => {
    if (j < 0) return;
    if (i < 0) fresh++;
    else if (NUMBERS.every((name) => there[name]?.[i] === given[name]?.[j])) same++;
    else {
      differs++;
      if (examples.length < EXAMPLES) examples.push({ timeMs: there.time[i]!, there: pricesAt(there, i), given: pricesAt(given, j) });
    }
  });
  return { same, differs, fresh, examples };
}

/**
 * The bars of both in the order of time.
 * @param choice which of two bars of one time stays: that which comes, or that which is there
 * @param allocate where they are to lie
 */
export function mergeBars(there: BarColumns, given: BarColumns, choice: OverlapChoice, allocate = inOwnMemory): BarColumns {
  let count = 0;
  walk(there, given, () => count++);
  const names = BAR_COLUMNS.filter((name) => there[name] !== undefined && given[name] !== undefined);
  const merged = names.map((name) => ({ from: there[name]!, by: given[name]!, to: allocate(count) }));
  let at = 0;
  walk(there, given, (i, j) => {
    const isGiven = j >= 0 && (i < 0 || choice === "replace");
    for (const { from, by, to } of merged) to[at] = isGiven ? by[j]! : from[i]!;
    at++;
  });
  return Object.fromEntries(names.map((name, k) => [name, merged[k]!.to])) as unknown as BarColumns;
}
