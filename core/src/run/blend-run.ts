/**
 * Several plans on one account, each on instruments, timeframes and costs of its own: their clocks are taken moment by moment
 * in order of time, so that what one asks of the account is answered by what all have done until then. At one time paths come
 * first, then closes, then opens, and within a phase plans come in declared order.
 *
 * Every plan has its own ledger: without limits that are shared, and with sizes that don't follow equity, each does to the
 * last bit what it does alone, and the account is the sum of them.
 */
import { AccountPool } from "../engine/account-pool.ts";
import { PHASE, type Phase } from "../engine/moment-queue.ts";
import type { RuinMode } from "../engine/settings.ts";
import type { PlanFailure } from "../errors.ts";
import { Backtest, type BacktestOptions } from "./backtest.ts";
import type { RunResult } from "./result.ts";

export interface BlendRunOptions {
  /** Of the account that all share. */
  readonly cash: number;
  readonly ruin: RuinMode;
  /** Each with the settings of its own run, whose cash its ledger begins with. */
  readonly members: readonly (Omit<BacktestOptions, "shared" | "record"> & {
    /** Account money for one of the member's own; 1 where left out. */
    readonly rate?: number;
  })[];
}

/** A plan of the blend has failed. */
export class MemberFailure extends Error {
  readonly member: number;
  /** The time of the run, UTC milliseconds. */
  readonly at: number;

  constructor(member: number, at: number, cause: unknown) {
    super(cause instanceof Error ? cause.message : String(cause), { cause });
    this.member = member;
    this.at = at;
  }
}

/** What a member does next. */
interface Moment {
  readonly m: number;
  readonly timeMs: number;
  readonly phase: Phase;
  /** Its bars are over. */
  readonly isEnd: boolean;
}

export class BlendRun {
  readonly pool: AccountPool;
  readonly members: readonly Backtest[];
  /** Of each member: when its last bar closes, and whether it has ended. */
  readonly #endMs: readonly number[];
  readonly #hasEnded: boolean[];
  #momentMs = Number.NEGATIVE_INFINITY;
  #phase: Phase = PHASE.open;

  constructor({ cash, ruin, members }: BlendRunOptions) {
    this.pool = new AccountPool(cash, ruin);
    this.members = members.map(
      ({ rate = 1, ...options }, m) =>
        new Backtest({ ...options, shared: { pool: this.pool, rate, place: (timeMs) => this.#standOthers(m, timeMs) } }),
    );
    this.#endMs = this.members.map(({ joint }) => joint.endMs);
    this.#hasEnded = members.map(() => false);
  }

  /** How far it has come: the time of the last moment, UTC milliseconds. */
  get nowMs(): number {
    return this.#momentMs;
  }

  /** When the first bar of any member opens, and the last one closes. */
  get span(): { readonly fromMs: number; readonly toMs: number } {
    return {
      fromMs: Math.min(...this.members.map(({ closeTime }) => closeTime[0] ?? Number.POSITIVE_INFINITY)),
      toMs: Math.max(...this.#endMs),
    };
  }

  get isOver(): boolean {
    return this.#hasEnded.every(Boolean);
  }

  /**
   * Goes on up to a time (exclusive). May be called again to go on.
   * @throws MemberFailure when a plan fails; what was done stays.
   */
  advance(untilMs: number): void {
    for (;;) {
      this.pool.watchRuin();
      const next = this.#next();
      if (next === null || next.timeMs >= untilMs) return;
      const { m, timeMs, phase } = next;
      this.#momentMs = timeMs;
      this.#phase = phase;
      this.#standOthers(m, timeMs);
      try {
        if (next.isEnd) this.#end(m);
        else this.members[m]!.joint.act();
      } catch (error) {
        throw new MemberFailure(m, timeMs, error);
      }
    }
  }

  /** The earliest moment of all; null where all have ended. */
  #next(): Moment | null {
    let found: Moment | null = null;
    for (let m = 0; m < this.members.length; m++) found = this.#earlier(m, found);
    return found;
  }

  #earlier(m: number, found: Moment | null): Moment | null {
    if (this.#hasEnded[m]) return found;
    const { joint } = this.members[m]!;
    joint.refresh();
    // A wiped-out account trades no more: what it holds goes at the next opens.
    const isDone = joint.isOver || joint.nextMs === Number.POSITIVE_INFINITY;
    const timeMs = joint.isOver ? this.#momentMs : isDone ? this.#endMs[m]! : joint.nextMs;
    // The end comes after all closes of its time, and ahead of what opens then.
    const phase = isDone ? PHASE.close : joint.nextPhase;
    if (found && (found.timeMs < timeMs || (found.timeMs === timeMs && found.phase <= phase))) return found;
    return { m, timeMs, phase, isEnd: isDone };
  }

  #end(m: number): void {
    this.members[m]!.end();
    this.#hasEnded[m] = true;
  }

  /** It is this time for all other plans too: what they hold is worth what was known by then. */
  #standOthers(actor: number, nowMs: number): void {
    for (let m = 0; m < this.members.length; m++)
      if (m !== actor && !this.#hasEnded[m]) this.members[m]!.joint.standBy(this.#momentMs, this.#phase, nowMs, m < actor);
  }

  /** The result of every plan; the account's equity is its cash and what each has made since its own. */
  results(failure: { readonly member: number; readonly failure: PlanFailure } | null = null): RunResult[] {
    return this.members.map((member, m) => {
      if (failure?.member === m) return member.result("failed", failure.failure);
      return member.result(this.#hasEnded[m] ? "complete" : "partial");
    });
  }
}
