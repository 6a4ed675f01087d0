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
  session(): number;
  minuteOfDay(): number;
  /** Bars since the session opened, the last completed one counting; 0 before the first. */
  barsSinceOpen(): number;
  isFlat(): boolean;
  /** Market entries that wait for the next open. */
  waitingEntries(): number;
  /** Cancels entries that stand at a price. */
  cancelEntries(): void;
  /** Whether the bar that is to come, or under way, opens at or after a flat time, or is the last ahead of that close. */
  isPast(flat: FlatTime): boolean;
  /** Cancels a side's entries and closes what is open of it: now, or at the session's close. */
  flatten(side: Side, atClose: boolean): void;
}

export interface LaidExits {
  readonly stopLoss: Distance | null;
  readonly target: Distance | null;
  readonly moves: ExitMoves | null;
}

export class KitGuard {
  readonly kit: ExitKit;
  readonly #run: KitRun;
  readonly #studies = new Map<string, Column>();
  readonly #filter: Condition | null;
  #session = -1;
  #entries = 0;
  #lost = 0;
  #coolUntil = -1;

  constructor(kit: ExitKit, run: KitRun) {
    this.kit = kit;
    this.#run = run;
    for (const study of studiesOf(kit)) this.#studies.set(study, run.column(study));
    this.#filter = kit.filter.trim() === "" ? null : run.condition(kit.filter);
  }

  #roll(): void {
    const session = this.#run.session();
    if (session === this.#session) return;
    this.#session = session;
    this.#entries = 0;
    this.#lost = 0;
  }

  /** Why the kit refuses an entry now, or "". */
  admit(side: Side): string {
    this.#roll();
    const problem = this.#problemOf(side);
    return problem && `exit kit: ${problem}`;
  }

  #problemOf(side: Side): string {
    const { sides, onePosition, entriesPerSession, dailyLoss, longWindow, shortWindow } = this.kit;
    if (sides !== "both" && (sides === "long") !== side > 0) return `only ${sides} entries`;
    const waiting = this.#run.waitingEntries();
    if (onePosition && (waiting > 0 || !this.#run.isFlat())) return "one position at a time";
    if (entriesPerSession !== null && this.#entries + waiting >= entriesPerSession)
      return `${entriesPerSession} entries in this session already`;
    if (this.#run.nextBar() < this.#coolUntil) return `cooling down after a loss until bar ${this.#coolUntil}`;
    if (dailyLoss !== null && this.#lost >= dailyLoss) return `the session has lost ${this.#lost.toFixed(2)}, the limit is ${dailyLoss}`;
    const window = side > 0 ? longWindow : shortWindow;
    if (window && !this.#isInside(window)) return `outside the entry window ${window.from} to ${window.to}`;
    const flat = this.flatTime(side);
    if (flat && flat.minutes > 0 && this.#run.isPast(flat)) return `flat ${flat.minutes} minutes before the close`;
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
    this.#run.flatten(side, this.flatTime(side)!.minutes === 0);
  }

  /** An entry has filled: it counts, and what else stands at a price goes where the kit allows no more. */
  opened(): void {
    this.#roll();
    this.#entries++;
    const { onePosition, entriesPerSession } = this.kit;
    if (onePosition || (entriesPerSession !== null && this.#entries >= entriesPerSession)) this.#run.cancelEntries();
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
    if (this.kit.coolDownBars !== null) this.#coolUntil = trade.exitBar + 1 + this.kit.coolDownBars;
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
export function guardOf(settings: Pick<EngineSettings, "kit">, run: KitRun): KitGuard | null {
  if (!settings.kit) return null;
  try {
    return new KitGuard(settings.kit, run);
  } catch (error) {
    if (!(error instanceof PlanTesterError)) throw error;
    throw new PlanTesterError("bad-settings", `Exit kit "${settings.kit.name}": ${error.message}`, error.details);
  }
}
