/**
 * A rule sheet: a plan as data. Rules are sentences over columns; `writeProgram` makes the program of them that is run.
 * What is left out says so by `null`, an empty list or an empty text, never by a missing field.
 */
import type { KitExits, KitWindow } from "../engine/kit.ts";
import type { Size } from "../engine/sizing.ts";

export const SHEET_PRICES = ["open", "high", "low", "close", "volume", "spread"] as const;
export type SheetPrice = (typeof SHEET_PRICES)[number];

/** Which bars a value is taken from: those of the run where both are empty. */
export interface Where {
  /** A higher timeframe such as "1h"; "" for the run's own. */
  readonly timeframe: string;
  /** Symbol of another instrument; "" for the run's own. */
  readonly instrument: string;
}

export const OWN_BARS: Where = Object.freeze({ timeframe: "", instrument: "" });

export const SHEET_MATH = ["plus", "minus", "times", "over"] as const;
export const SHEET_OF_TWO = ["larger", "smaller"] as const;
export const SHEET_SINCE = ["highest", "lowest", "value"] as const;

/** What every column may be: displaced so many bars into the past. */
interface Displaced<N> {
  readonly ago: N | null;
}

/** A number for every bar. `N` is what stands for a number: itself in a sheet, an input in the program that it writes. */
export type SheetValue<N = number> =
  | { readonly kind: "number"; readonly value: N }
  | ({ readonly kind: "price"; readonly price: SheetPrice; readonly on: Where } & Displaced<N>)
  | ({
      readonly kind: "study";
      readonly study: string;
      /** One of the study's outputs. */
      readonly output: string;
      /** Its numbers, in declared order. */
      readonly numbers: readonly N[];
      /** Its column inputs, in declared order. */
      readonly sources: readonly SheetValue<N>[];
      /** The bars it is made of; only of studies that take bars. */
      readonly on: Where;
    } & Displaced<N>)
  | ({
      readonly kind: "math";
      readonly by: (typeof SHEET_MATH)[number];
      readonly left: SheetValue<N>;
      readonly right: SheetValue<N>;
    } & Displaced<N>)
  | ({ readonly kind: "size of"; readonly value: SheetValue<N> } & Displaced<N>)
  /** Since a test last held, that bar included: the highest or lowest of a value, or the value it had then. */
  | ({
      readonly kind: "since";
      readonly what: (typeof SHEET_SINCE)[number];
      readonly value: SheetValue<N>;
      readonly event: SheetTest<N>;
    } & Displaced<N>)
  | ({ readonly kind: "bars since"; readonly event: SheetTest<N> } & Displaced<N>)
  /** On how many of the last so many bars a test held. */
  | ({ readonly kind: "count"; readonly bars: N; readonly event: SheetTest<N> } & Displaced<N>)
  /** Bar by bar the larger, or the smaller, of two. */
  | ({
      readonly kind: "of two";
      readonly which: (typeof SHEET_OF_TWO)[number];
      readonly left: SheetValue<N>;
      readonly right: SheetValue<N>;
    } & Displaced<N>)
  /** A study of one of the workspace's own modules. */
  | ({
      readonly kind: "own";
      readonly module: string;
      readonly study: string;
      readonly given: readonly SheetValue<N>[];
    } & Displaced<N>);

/** Moments: true on the one bar on which it happens. */
export const SHEET_CROSSINGS = ["crosses above", "crosses below", "crosses"] as const;
/** States: true while it holds. */
export const SHEET_STANDINGS = ["is above", "is below", "is at or above", "is at or below"] as const;
export type Relation = (typeof SHEET_CROSSINGS)[number] | (typeof SHEET_STANDINGS)[number];

/** Each relation from the other side: "a above b" is "b below a"; so it is on a market turned upside down. */
export const TURNED_RELATIONS: Readonly<Record<Relation, Relation>> = {
  "crosses above": "crosses below",
  "crosses below": "crosses above",
  crosses: "crosses",
  "is above": "is below",
  "is below": "is above",
  "is at or above": "is at or below",
  "is at or below": "is at or above",
};

export const SHEET_ENDS = ["both", "neither", "lower", "upper"] as const;
export const SHEET_WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"] as const;
export type Weekday = (typeof SHEET_WEEKDAYS)[number];

/** A yes or no for every bar. */
export type SheetTest<N = number> =
  | { readonly kind: "compare"; readonly left: SheetValue<N>; readonly relation: Relation; readonly right: SheetValue<N> }
  | {
      readonly kind: "between";
      readonly value: SheetValue<N>;
      readonly low: SheetValue<N>;
      readonly high: SheetValue<N>;
      /** Which of the two bounds count. */
      readonly ends: (typeof SHEET_ENDS)[number];
    }
  /** Each of the last so many values is above (below) the one before. */
  | { readonly kind: "trend"; readonly value: SheetValue<N>; readonly way: "rising" | "falling"; readonly bars: N }
  /** The colour of a bar: against its own open, or against the close before. */
  | { readonly kind: "bar"; readonly way: "up" | "down"; readonly against: "open" | "close before"; readonly on: Where }
  /** Exchange time of the bar's open, "HH:MM": from the first up to, not including, the second; may pass midnight. */
  | { readonly kind: "time"; readonly from: string; readonly to: string }
  | { readonly kind: "weekday"; readonly days: readonly Weekday[] };

/** What rows and groups share. */
interface Entry {
  /** Stays the same when the row is moved or changed; unique in its sheet. */
  readonly id: string;
  /** Of one's own; "" for the one made of its words. */
  readonly name: string;
  readonly comment: string;
  /** Switched off: it counts for nothing, and is kept. */
  readonly isOff: boolean;
}

export interface SheetRow<N = number> extends Entry {
  readonly kind: "row";
  readonly test: SheetTest<N>;
  /** It has held for so many bars in a row, this one included; null where once is enough. */
  readonly heldFor: N | null;
  /** It held now or at most so many bars ago; null where it has to hold now. */
  readonly within: N | null;
}

/** Whether a rule happens on one bar, rather than holds for a while. */
export const isMoment = <N>({ test, heldFor, within }: SheetRow<N>): boolean =>
  test.kind === "compare" && (SHEET_CROSSINGS as readonly string[]).includes(test.relation) && heldFor === null && within === null;

export const SHEET_JOINS = ["all", "any", "none"] as const;

export interface SheetGroup<N = number> extends Entry {
  readonly kind: "group";
  readonly of: (typeof SHEET_JOINS)[number];
  readonly rules: readonly SheetRule<N>[];
}

export type SheetRule<N = number> = SheetRow<N> | SheetGroup<N>;

export type SheetOrder =
  | { readonly kind: "market" }
  | {
      /** "price given": a stop or a limit order, by where the level lies against the last close. */
      readonly kind: "stop" | "limit" | "price given";
      /** The level for a long entry; that of a short is mirrored. */
      readonly level: SheetValue;
      /** Ticks beyond the level for a stop order, before it for a limit order. */
      readonly offsetTicks: number;
      /** How many bars it works; 0 for the session. */
      readonly goodForBars: number;
      /** The first entry to fill cancels the other side's. */
      readonly cancelsOther: boolean;
    };

export interface SheetGuards {
  /** What an entry does while a position is open: nothing, add to it, or close the other side and reverse. */
  readonly whileOpen: "wait" | "add" | "reverse";
  readonly entriesPerSession: number | null;
  /** Bars without entries after a losing trade. */
  readonly coolDownBars: number | null;
}

/** A size by volatility needs a study: in a program only. */
export type SheetSize = Exclude<Size, { readonly by: "volatility percent" }>;

/** One list of rules for each part of a sheet. */
export const SHEET_PARTS = ["longEntry", "shortEntry", "longExit", "shortExit", "filters"] as const;
export type SheetPart = (typeof SHEET_PARTS)[number];

export interface RuleSheet extends Readonly<Record<SheetPart, SheetGroup>> {
  readonly version: 1;
  readonly title: string;
  readonly description: string;
  /** The short side is made of the long side; rules of its own under `shortEntry` and `shortExit` with the id "short x" stand in for that of x turned. */
  readonly shortMirrorsLong: boolean;
  /** Rules of states alone: enter on the bar on which they begin to hold, or on every bar on which they hold. */
  readonly entersOn: "beginning" | "every bar";
  readonly longWindow: KitWindow | null;
  readonly shortWindow: KitWindow | null;
  readonly order: SheetOrder;
  readonly longExits: KitExits;
  /** null: as those of the long side. */
  readonly shortExits: KitExits | null;
  /** null: one unit. */
  readonly size: SheetSize | null;
  readonly guards: SheetGuards;
  /** What happens at an entry and an exit: orders, or alerts that say so. */
  readonly acts: "orders" | "alerts";
}
