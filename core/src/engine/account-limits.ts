/**
 * Limits on what an account may lose (R5.8). They are looked at when equity is marked at a close (R5.3), whoever trades on
 * the account. Times are UTC milliseconds, money is the account's.
 */
import { firstAtOrAfter } from "./ascending.ts";

/**
 * What a limit does once it is hit, until the session ends: "no entries" cancels working entries and refuses new ones;
 * "flatten" closes what is open at the next open as well; "stop" does the same for good.
 */
export const ACCOUNT_LIMIT_ACTS = ["no entries", "flatten", "stop"] as const;
export type AccountLimitAct = (typeof ACCOUNT_LIMIT_ACTS)[number];

export interface AccountLimit {
  /** Money, or percent of the equity that is counted from. */
  readonly unit: "money" | "percent";
  readonly value: number;
  readonly act: AccountLimitAct;
}

export interface AccountLimits {
  /** Below the highest equity at a close. Where the account goes on after a hit, it counts from equity at the next session's begin. */
  readonly drawdown: AccountLimit | null;
  /** Below equity at the last close ahead of the session, by the calendar of the account's first instrument. */
  readonly dailyLoss: AccountLimit | null;
}

/** The last time that there is: finite, since blocks travel as JSON. */
const LAST_MS = 8.64e15;

export const LIMIT_NAMES = { drawdown: "drawdown limit", dailyLoss: "daily loss limit" } as const;

export interface LimitHit {
  readonly limit: keyof AccountLimits;
  readonly act: AccountLimitAct;
  readonly timeMs: number;
  /** Money that equity was below what it is counted from. */
  readonly lost: number;
  /** In words, for a log. */
  readonly text: string;
}

/** Why entries are refused, up to a time. */
export interface EntryBlock {
  readonly untilMs: number;
  readonly text: string;
}

interface Counted {
  /** Equity that a loss is counted from. */
  from: number;
  /** The session up to whose close it has been hit; -Infinity before. */
  hitUntilMs: number;
}

/** What limits have counted: plain data, by which they go on after a restart. */
export interface LimitMemory {
  readonly dayEndMs: number;
  readonly lastEquity: number;
  readonly drawdown: Readonly<Counted>;
  readonly dailyLoss: Readonly<Counted>;
  readonly block: EntryBlock | null;
}

/** Closes of sessions, by which a day ends. */
export type DayEnds = (timeMs: number) => number;

/** By a table of sessions: the first close at or after a time. */
export const dayEndsOf =
  ({ closeMs }: { readonly closeMs: Float64Array }): DayEnds =>
  (timeMs) =>
    closeMs[firstAtOrAfter(closeMs, timeMs, closeMs.length)] ?? LAST_MS;

const NO_HITS: readonly LimitHit[] = [];

const words = ({ unit, value }: AccountLimit): string => (unit === "percent" ? `${value} %` : value.toFixed(2));

export class LimitWatch {
  readonly hits: LimitHit[] = [];
  readonly #limits: AccountLimits;
  #dayEnds: DayEnds = () => LAST_MS;
  #dayEndMs = Number.NEGATIVE_INFINITY;
  #lastEquity: number;
  #drawdown: Counted;
  #dailyLoss: Counted;
  #block: EntryBlock | null = null;

  constructor(limits: AccountLimits, cash: number) {
    this.#limits = limits;
    this.#lastEquity = cash;
    this.#drawdown = { from: cash, hitUntilMs: Number.NEGATIVE_INFINITY };
    this.#dailyLoss = { from: cash, hitUntilMs: Number.NEGATIVE_INFINITY };
  }

  /** Sessions of the first instrument. */
  byDays(dayEnds: DayEnds): void {
    this.#dayEnds = dayEnds;
  }

  get memory(): LimitMemory {
    const [dayEndMs, lastEquity, block] = [this.#dayEndMs, this.#lastEquity, this.#block];
    return { dayEndMs, lastEquity, drawdown: { ...this.#drawdown }, dailyLoss: { ...this.#dailyLoss }, block };
  }

  restore({ dayEndMs, lastEquity, drawdown, dailyLoss, block }: LimitMemory): void {
    this.#dayEndMs = dayEndMs;
    this.#lastEquity = lastEquity;
    this.#drawdown = { ...drawdown };
    this.#dailyLoss = { ...dailyLoss };
    this.#block = block;
  }

  /** Why entries are refused, or null; in force up to its time. */
  get block(): EntryBlock | null {
    return this.#block;
  }

  /** Equity has been marked at a close. @returns the limits that it hits, which are then in force */
  noteClose(equity: number, timeMs: number): readonly LimitHit[] {
    if (timeMs > this.#dayEndMs) this.#beginDay(timeMs);
    this.#lastEquity = equity;
    this.#drawdown.from = Math.max(this.#drawdown.from, equity);
    const before = this.hits.length;
    this.#look("dailyLoss", this.#dailyLoss, equity, timeMs);
    this.#look("drawdown", this.#drawdown, equity, timeMs);
    return this.hits.length === before ? NO_HITS : this.hits.slice(before);
  }

  #beginDay(timeMs: number): void {
    this.#dailyLoss.from = this.#lastEquity;
    // Case: it was hit, and the account goes on.
    if (this.#drawdown.hitUntilMs === this.#dayEndMs) this.#drawdown.from = this.#lastEquity;
    this.#dayEndMs = this.#dayEnds(timeMs);
  }

  #look(name: keyof AccountLimits, counted: Counted, equity: number, timeMs: number): void {
    const limit = this.#limits[name];
    if (!limit || timeMs <= counted.hitUntilMs) return;
    const lost = counted.from - equity;
    const most = limit.unit === "money" ? limit.value : (limit.value / 100) * Math.max(0, counted.from);
    if (!(lost > 0) || lost < most) return;
    const isForGood = limit.act === "stop";
    counted.hitUntilMs = isForGood ? LAST_MS : this.#dayEndMs;
    const since = name === "drawdown" ? "from its highest close" : "in this session";
    const what = `the account's ${LIMIT_NAMES[name]} is hit`;
    const until = `no entries ${isForGood ? "any more" : "until the session ends"} (R5.8)`;
    const text = `${what}: equity has lost ${lost.toFixed(2)} ${since}, the limit is ${words(limit)}; ${until}`;
    if (!this.#block || counted.hitUntilMs >= this.#block.untilMs) this.#block = { untilMs: counted.hitUntilMs, text: `${what}: ${until}` };
    this.hits.push({ limit: name, act: limit.act, timeMs, lost, text });
  }
}
