/**
 * An exit kit: exits, size and limits on entries as plain data, laid over any plan without touching its program. The same
 * kit serves a run, a sweep and a watch.
 */
import type { Distance, DistanceUnit } from "./orders.ts";
import type { Size } from "./sizing.ts";

/** A distance as data. With `study` it is `value` times what the expression gives when the order is sent, e.g. "atr(14)". */
export interface KitDistance {
  readonly unit: DistanceUnit;
  readonly value: number;
  /** Study expression in price units; only with unit "points". */
  readonly study?: string;
}

export interface KitExits {
  readonly stopLoss: KitDistance | null;
  readonly target: KitDistance | null;
  readonly trail: { readonly distance: KitDistance; readonly after: KitDistance | null; readonly step: KitDistance | null } | null;
  readonly breakEven: { readonly after: KitDistance; readonly keep: KitDistance } | null;
  readonly locks: readonly { readonly after: KitDistance; readonly keep: KitDistance }[];
  readonly timeLimit: { readonly bars: number } | { readonly minutes: number } | null;
  /** Nothing of this side is held past a session's close, or a week's. */
  readonly flat: FlatTime | null;
}

/** When a side is closed, and no longer entered: so many minutes ahead of the close; 0 fills at the close itself (R2.6). */
export interface FlatTime {
  readonly minutes: number;
  /** Every session's close, or only that of the last session ahead of a weekend. */
  readonly of: "session" | "week";
}

/** When entries of one side are allowed: by exchange time, or by bars since the session opened. Both ends of bars count. */
export type KitWindow =
  | { readonly by: "clock"; readonly from: string; readonly to: string }
  | { readonly by: "bars"; readonly from: number; readonly to: number };

/** A limit so many ticks better than the last close, which works for so many bars. One a side at a time. */
export interface EntryLimit {
  readonly ticks: number;
  readonly bars: number;
}

/** How far equity at a bar's close may lie below its highest close so far (R5.3): money, or percent of that height. */
export interface DrawdownLimit {
  readonly unit: "money" | "percent";
  readonly value: number;
}

/** Once a limit on losses is hit there are no more entries; with "flatten" what is open is closed at market as well. */
export type LimitAct = "no entries" | "flatten";

export interface ExitKit {
  readonly name: string;
  /** Whether the plan's own exits and closes stay in force. */
  readonly plansExits: boolean;
  readonly long: KitExits | null;
  readonly short: KitExits | null;
  readonly size: Size | null;
  /** Units of an entry at most, whoever sizes it. Left out: as the account allows. */
  readonly maxQuantity?: number | null;
  readonly sides: "both" | "long" | "short";
  /** Entries at market become limit orders. Left out: they stay as they are. */
  readonly entryLimit?: EntryLimit | null;
  /** No entry while a position is open. */
  readonly onePosition: boolean;
  readonly entriesPerSession: number | null;
  /** Bars without entries after a losing trade. */
  readonly coolDownBars: number | null;
  /** Money: a session in which losing trades have lost this much in all is over (`atLimit`). */
  readonly dailyLoss: number | null;
  /** A run in which equity has fallen so far is over (`atLimit`). Left out: no limit. */
  readonly drawdown?: DrawdownLimit | null;
  /** Left out: no entries. */
  readonly atLimit?: LimitAct;
  readonly longWindow: KitWindow | null;
  readonly shortWindow: KitWindow | null;
  /** Condition expression that must hold at an entry, e.g. "atr(14) < 3"; empty for none. */
  readonly filter: string;
  /** The filter is kept, but does not count. */
  readonly isFilterOff?: boolean;
}

export const NO_EXITS: KitExits = Object.freeze({
  stopLoss: null,
  target: null,
  trail: null,
  breakEven: null,
  locks: Object.freeze([]),
  timeLimit: null,
  flat: null,
});

export const EMPTY_KIT: ExitKit = Object.freeze({
  name: "",
  plansExits: true,
  long: null,
  short: null,
  size: null,
  sides: "both",
  onePosition: false,
  entriesPerSession: null,
  coolDownBars: null,
  dailyLoss: null,
  longWindow: null,
  shortWindow: null,
  filter: "",
});

/** Every study expression that a kit's exits use. */
export function studiesOf(kit: ExitKit): string[] {
  const found: string[] = [];
  for (const exits of [kit.long, kit.short]) {
    if (!exits) continue;
    const { stopLoss, target, trail, breakEven, locks } = exits;
    const all = [stopLoss, target, trail?.distance, trail?.after, trail?.step, breakEven?.after, breakEven?.keep];
    for (const lock of locks) all.push(lock.after, lock.keep);
    for (const distance of all) if (distance?.study) found.push(distance.study);
  }
  return [...new Set(found)];
}

/** The distance as the engine takes it, with what its study gives now. */
export function plainDistance(distance: KitDistance, evaluate: (study: string) => number): Distance {
  return distance.study
    ? { unit: distance.unit, value: distance.value * evaluate(distance.study) }
    : { unit: distance.unit, value: distance.value };
}
