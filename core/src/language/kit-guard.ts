/** An exit kit at work on one market of a run: what it puts on entries, and which it refuses. */

import { type ExitKit, type FlatTime, type KitDistance, plainDistance, studiesOf } from "../engine/kit.ts";
import type { Distance, ExitMoves, Lock, Side, Trade } from "../engine/orders.ts";
import type { EngineSettings } from "../engine/settings.ts";
import { PlanTesterError } from "../errors.ts";
import { minutesOfDay } from "../market/calendar.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import type { Column, Condition } from "./columns.ts";

/** What the guard asks of the run around it. */
export interface KitRun {
  column(study: string): Column;
  condition(text: string): Condition;
  /** Index of the bar that an order sent now can first fill on. */
  nextBar(): number;
  /** Open of the session of now, UTC milliseconds. */
  sessionMs(): number;
  /** Index of the bar that a time lies in. */
  barAt(timeMs: number): number;
  minuteOfDay(): number;
  /** Bars since the session opened, the last completed one counting; 0 before the first. */
  barsSinceOpen(): number;
  isFlat(): boolean;
  /** Market entries that wait for the next open. */
  waitingEntries(): number;
  /** Says in the run's log what the kit has done. */
  note(text: string): void;
  /** Equity at the last close. */
  equity(): number;
  /** Cancels entries that stand at a price, or all. */
  cancelEntries(which: "at a price" | "all"): void;
  /** Whether the bar that is to come, or under way, opens at or after a flat time, or is the last ahead of that close. */
  isPast(flat: FlatTime): boolean;
  /** Whether the session of that bar has such a flat time at all. */
  ends(flat: FlatTime): boolean;
  /** Closes what is open of a side, now or at the session's close. Now: its entries are cancelled too. */
  flatten(side: Side, atClose: boolean, tag: string): void;
}

export interface LaidExits {
  readonly stopLoss: Distance | null;
  readonly target: Distance | null;
  readonly moves: ExitMoves | null;
}

/** What the limits of a kit have counted: plain data, by which they go on after a restart. Times are UTC milliseconds. */
export interface KitMemory {
  /** Open of the session that is counted. */
  readonly sessionMs: number;
  readonly entries: number;
  /** Money that the session's losing trades have lost. */
  readonly lost: number;
  /** Whether what that limit asks for has been done in it. */
  readonly isStopped: boolean;
  /** Exit of the last losing trade; null before there is one. */
  readonly lossMs: number | null;
  /** Highest equity at a close; null before one was looked at. */
  readonly highest: number | null;
  /** Why there are no more entries in this run, or "". */
  readonly over: string;
}

export class KitGuard {
  readonly kit: ExitKit;
  readonly #run: KitRun;
  readonly #studies = new Map<string, Column>();
  readonly #filter: Condition | null;
  #sessionMs = 0;
  #entries = 0;
  #lost = 0;
  #isStopped = false;
  #lossMs: number | null = null;
  #coolUntil = -1;
  #highest = Number.NEGATIVE_INFINITY;
  #over = "";

  /** @param memory of the same kit at work before a restart; null for a beginning */
  constructor(kit: ExitKit, run: KitRun, memory: KitMemory | null) {
    this.kit = kit;
    this.#run = run;
    for (const study of studiesOf(kit)) this.#studies.set(study, run.column(study));
    this.#filter = kit.filter.trim() === "" || kit.isFilterOff ? null : run.condition(kit.filter);
    if (!memory) return;
    this.#sessionMs = memory.sessionMs;
    this.#entries = memory.entries;
    this.#lost = memory.lost;
    this.#isStopped = memory.isStopped;
    this.#highest = memory.highest ?? Number.NEGATIVE_INFINITY;
    this.#over = memory.over;
    if (memory.lossMs !== null) this.#coolDown(memory.lossMs, run.barAt(memory.lossMs));
  }

  get memory(): KitMemory {
    const highest = Number.isFinite(this.#highest) ? this.#highest : null;
    return {
      ...{ sessionMs: this.#sessionMs, entries: this.#entries, lost: this.#lost, isStopped: this.#isStopped },
      ...{ lossMs: this.#lossMs, highest, over: this.#over },
    };
  }

  #coolDown(lossMs: number, bar: number): void {
    this.#lossMs = lossMs;
    if (this.kit.coolDownBars !== null) this.#coolUntil = bar + 1 + this.kit.coolDownBars;
  }

  #roll(): void {
    const sessionMs = this.#run.sessionMs();
    if (sessionMs === this.#sessionMs) return;
    this.#sessionMs = sessionMs;
    this.#entries = 0;
    this.#lost = 0;
    this.#isStopped = false;
  }

  /** Why the kit refuses an entry that is sent now, or "". */
  admit(side: Side, atClose: boolean): string {
    this.#roll();
    const problem = this.#problemOf(side, atClose);
    return problem && `exit kit: ${problem}`;
  }

  #problemOf(side: Side, atClose: boolean): string {
    const { sides, onePosition, entriesPerSession, dailyLoss, longWindow, shortWindow } = this.kit;
    if (this.#over) return this.#over;
    if (sides !== "both" && (sides === "long") !== side > 0) return `only ${sides} entries`;
    const waiting = this.#run.waitingEntries();
    if (onePosition && (waiting > 0 || !this.#run.isFlat())) return "one position at a time";
    if (entriesPerSession !== null && this.#entries + waiting >= entriesPerSession)
      return `${entriesPerSession === 1 ? "1 entry" : `${entriesPerSession} entries`} in this session already`;
    if (this.#run.nextBar() < this.#coolUntil) return `cooling down after a loss until bar ${this.#coolUntil}`;
    if (dailyLoss !== null && this.#lost >= dailyLoss) return `the session has lost ${this.#lost.toFixed(2)}, the limit is ${dailyLoss}`;
    const window = side > 0 ? longWindow : shortWindow;
    if (window && !this.#isInside(window)) return `outside the entry window ${window.from} to ${window.to}`;
    const flat = this.flatTime(side);
    if (flat && flat.minutes > 0 && this.#run.isPast(flat)) return `flat ${flat.minutes} minutes before the close`;
    if (flat && atClose && this.#run.ends(flat)) return "nothing is held past this close";
    if (this.#filter && !this.#filter.now) return `the filter "${this.kit.filter}" does not hold`;
    return "";
  }

  #isInside(window: NonNullable<ExitKit["longWindow"]>): boolean {
    if (window.by === "bars") {
      const bars = this.#run.barsSinceOpen();
      return bars >= window.from && bars <= window.to;
    }
    const [from, to, now] = [minutesOfDay(window.from), minutesOfDay(window.to), this.#run.minuteOfDay()];
    return from <= to ? now >= from && now < to : now >= from || now < to;
  }

  flatTime(side: Side): FlatTime | null {
    return (side > 0 ? this.kit.long : this.kit.short)?.flat ?? null;
  }

  /** The flat time of a side has come. */
  flatten(side: Side): void {
    const atClose = this.flatTime(side)!.minutes === 0;
    this.#run.flatten(side, atClose, atClose ? "flat at the close" : "flat before the close");
  }

  /** Whether it looks at equity at each close. */
  get watchesEquity(): boolean {
    return !!this.kit.drawdown;
  }

  /** Equity has been marked at a bar's close. */
  marked(): void {
    // Case: the losses that reached it came while the plan was away.
    if (this.#run.sessionMs() === this.#sessionMs) this.#stopLosing();
    const { drawdown } = this.kit;
    if (!drawdown || this.#over) return;
    const equity = this.#run.equity();
    this.#highest = Math.max(this.#highest, equity);
    const fallen = this.#highest - equity;
    const most = drawdown.unit === "money" ? drawdown.value : (drawdown.value / 100) * Math.max(0, this.#highest);
    if (fallen < most) return;
    const unit = drawdown.unit === "percent" ? "%" : "money";
    this.#over = `equity has fallen ${fallen.toFixed(2)} from its highest close, the limit is ${drawdown.value} ${unit}`;
    this.#run.note(`exit kit: ${this.#over}; no entries for the rest of the run`);
    this.#stop("drawdown limit");
  }

  #stop(tag: string): void {
    this.#run.cancelEntries("all");
    if (this.kit.atLimit === "flatten") for (const side of [1, -1] as const) this.#run.flatten(side, false, tag);
  }

  /** An entry has filled: it counts, and what else stands at a price goes where the kit allows no more. */
  opened(): void {
    this.#roll();
    this.#entries++;
    const { onePosition, entriesPerSession } = this.kit;
    if (onePosition || (entriesPerSession !== null && this.#entries >= entriesPerSession)) this.#run.cancelEntries("at a price");
    // Case: what fills in the last bar ahead of the close, after its open, was not there when the others were closed.
    for (const side of [1, -1] as const) {
      const flat = this.flatTime(side);
      if (flat && this.#run.isPast(flat)) this.flatten(side);
    }
  }

  /** A trade has closed: losses count against the day and start the cool-down. */
  closed(trade: Trade): void {
    this.#roll();
    if (trade.net >= 0) return;
    this.#lost -= trade.net;
    this.#coolDown(trade.exitTime, trade.exitBar);
    this.#stopLosing();
  }

  #stopLosing(): void {
    const { dailyLoss } = this.kit;
    if (dailyLoss === null || this.#isStopped || this.#lost < dailyLoss) return;
    this.#isStopped = true;
    this.#stop("loss limit of the session");
  }

  /** The exits that the kit lays on an entry of one side; null where it has none for it. */
  exits(side: Side): LaidExits | null {
    const exits = side > 0 ? this.kit.long : this.kit.short;
    if (!exits) return null;
    const plain = (distance: KitDistance): Distance => plainDistance(distance, (study) => this.#studies.get(study)!.now);
    const maybe = (distance: KitDistance | null): Distance | null => (distance ? plain(distance) : null);
    const { trail, breakEven, timeLimit } = exits;
    const locks: Lock[] = exits.locks.map((lock) => ({ after: plain(lock.after), keep: plain(lock.keep), reason: "lock" }));
    if (breakEven) locks.unshift({ after: plain(breakEven.after), keep: plain(breakEven.keep), reason: "break-even" });
    const moves: ExitMoves | null =
      trail || locks.length > 0 || timeLimit
        ? {
            trail: trail ? { distance: plain(trail.distance), after: maybe(trail.after), step: maybe(trail.step) } : null,
            locks,
            timeLimit: !timeLimit ? null : "bars" in timeLimit ? timeLimit : { milliseconds: timeLimit.minutes * MINUTE_MS },
          }
        : null;
    return { stopLoss: maybe(exits.stopLoss), target: maybe(exits.target), moves };
  }
}

/** The guard of a run's settings, or null where they have no kit. */
export function guardOf(settings: Pick<EngineSettings, "kit">, run: KitRun, memory: KitMemory | null): KitGuard | null {
  if (!settings.kit) return null;
  try {
    return new KitGuard(settings.kit, run, memory);
  } catch (error) {
    if (!(error instanceof PlanTesterError)) throw error;
    throw new PlanTesterError("bad-settings", `Exit kit "${settings.kit.name}": ${error.message}`, error.details);
  }
}
