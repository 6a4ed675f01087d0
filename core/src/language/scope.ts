/**
 * Where columns live: one scope for each series that a run looks at - its instruments, and their higher timeframes. A
 * column of one scope can be used in another: it is then read at the last bar completed there (R1.5).
 */
import { Cursor } from "./cursor.ts";
import type { StudyStore } from "./study-store.ts";

/** What all scopes of a run share. */
export interface RunScope {
  /** Once build() is over no study may be declared. */
  sealed: boolean;
  readonly scopes: Scope[];
  readonly own: OwnStudies;
}

/** Studies of the plan's own, by the order in which build() declares them. */
export interface OwnStudies {
  /** The name of each in keys. */
  readonly names: string[];
  /**
   * The function that starts study `index` in an instance of the plan that has seen nothing, or null where the plan is
   * trusted to keep nothing of what its steps see. Without it a step could hand values of later bars to a handler, or
   * to another study, in a variable that both know.
   */
  readonly freshStart: ((index: number) => unknown) | null;
  /** Set while such an instance is built: it is after one start function and computes nothing. */
  readonly search: StartSearch | null;
}

export interface StartSearch {
  readonly index: number;
  readonly names: readonly string[];
  start: unknown;
}

/** A run of columns alone, without a plan. */
export const newRunScope = (own: Partial<OwnStudies> = {}): RunScope => ({
  sealed: false,
  scopes: [],
  own: { names: [], freshStart: null, search: null, ...own },
});

export interface Scope {
  readonly run: RunScope;
  /** Names the series in keys: "" for the run's own bars, else "BRIN", "1d" or "BRIN 1d". */
  readonly name: string;
  readonly store: StudyStore;
  readonly cursor: Cursor;
  /** The instrument's own scope; a higher timeframe hangs on one. */
  readonly base: Scope | null;
  /** For each bar of the base the last bar completed here; only where there is a base. Made again as a live series grows. */
  map: Int32Array | null;
  /** Largest `first` of all columns used so far: handlers start there (R7.3). */
  warmUp: number;
  /** The bar that is forming now, where a plan acts inside the bar or asks for it. */
  forming: FormingBar | null;
}

/** A bar as far as it has come. */
export interface FormingBar {
  time: number;
  open: number;
  high: number;
  low: number;
  close: number;
  volume: number;
}

export function newScope(run: RunScope, name: string, store: StudyStore, base: Scope | null): Scope {
  const scope: Scope = {
    run,
    name,
    store,
    cursor: new Cursor(() => store.bars),
    base,
    map: base ? base.store.alignment(store) : null,
    warmUp: 0,
    forming: null,
  };
  run.scopes.push(scope);
  return scope;
}

/** The scope of the same instrument in a higher timeframe; one for each timeframe. */
export function higherScope(base: Scope, timeframe: string): Scope {
  const name = base.name === "" ? timeframe : `${base.name} ${timeframe}`;
  return base.run.scopes.find((scope) => scope.name === name) ?? newScope(base.run, name, base.store.higher(timeframe), base);
}
