/**
 * Several plans on one account, each on instruments, timeframes and costs of its own: their clocks are taken moment by moment
 * in order of time, so that what one asks of the account is answered by what all have done until then. At one time paths come
 * first, then closes, then opens, and within a phase plans come in declared order.
 *
 * Every plan has its own ledger: without limits that are shared, and with sizes that don't follow equity, each does to the
 * last bit what it does alone, and the account is the sum of them.
 */
import type { AccountLimits } from "../engine/account-limits.ts";
import { AccountPool } from "../engine/account-pool.ts";
import type { JointSimulation } from "../engine/joint-simulation.ts";
import { PHASE, type Phase } from "../engine/moment-queue.ts";
import type { RuinMode } from "../engine/settings.ts";
import type { PlanFailure } from "../errors.ts";
import { Backtest, type BacktestOptions } from "./backtest.ts";
import type { RunResult } from "./result.ts";

export interface BlendRunOptions {
  /** Of the account that all share. */
  readonly cash: number;
  readonly ruin: RuinMode;
  /** What all together may lose. Left out: no limit. Those of the members' own accounts don't count. */
  readonly limits?: AccountLimits | null;
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

export class BlendRun {
  readonly pool: AccountPool;
  readonly members: readonly Backtest[];
  readonly #joints: readonly JointSimulation[];
  /** Of each member: when its last bar closes, and whether it has ended. */
  readonly #endMs: readonly number[];
  readonly #hasEnded: boolean[];
  #momentMs = Number.NEGATIVE_INFINITY;
  #phase: Phase = PHASE.open;

  constructor({ cash, ruin, limits, members }: BlendRunOptions) {
    this.pool = new AccountPool(cash, ruin, limits);
    this.members = members.map(
      ({ rate = 1, ...options }, m) =>
        new Backtest({ ...options, shared: { pool: this.pool, rate, place: (timeMs) => this.#standOthers(m, timeMs) } }),
    );
    this.#joints = this.members.map(({ joint }) => joint);
    this.#endMs = this.#joints.map(({ endMs }) => endMs);
    this.#hasEnded = members.map(() => false);
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
      const m = this.#next();
      if (m < 0 || this.#nextMs >= untilMs) return;
      this.#momentMs = this.#nextMs;
      this.#phase = this.#nextPhase;
      this.#standOthers(m, this.#momentMs);
      try {
        if (this.#nextIsEnd) this.#end(m);
        else this.#joints[m]!.act();
      } catch (error) {
        throw new MemberFailure(m, this.#momentMs, error);
      }
    }
  }

  /** What comes next, as `#next` found it: the time, the phase, and whether it is the end of a member's bars. */
  #nextMs = 0;
  #nextPhase: Phase = PHASE.open;
  #nextIsEnd = false;

  /** The member with the earliest moment of all; below 0 where all have ended. */
  #next(): number {
    let found = -1;
    for (let m = 0; m < this.#joints.length; m++) {
      if (this.#hasEnded[m]) continue;
      const joint = this.#joints[m]!;
      joint.refresh();
      // A wiped-out account trades no more: what it holds goes at the next opens.
      const isOver = joint.isOver;
      const nextMs = joint.nextMs;
      const isEnd = isOver || nextMs === Number.POSITIVE_INFINITY;
      const timeMs = isOver ? this.#momentMs : isEnd ? this.#endMs[m]! : nextMs;
      // The end comes after all closes of its time, and ahead of what opens then.
      const phase = isEnd ? PHASE.close : joint.nextPhase;
      if (found >= 0 && (this.#nextMs < timeMs || (this.#nextMs === timeMs && this.#nextPhase <= phase))) continue;
      found = m;
      this.#nextMs = timeMs;
      this.#nextPhase = phase;
      this.#nextIsEnd = isEnd;
    }
    return found;
  }

  #end(m: number): void {
    this.members[m]!.end();
    this.#hasEnded[m] = true;
  }

  /** It is this time for all other plans too: what they hold is worth what was known by then. */
  #standOthers(actor: number, nowMs: number): void {
    for (let m = 0; m < this.#joints.length; m++)
      if (m !== actor && !this.#hasEnded[m]) this.#joints[m]!.standBy(this.#momentMs, this.#phase, nowMs, m < actor);
  }

  /** The result of every plan; the account's equity is its cash and what each has made since its own. */
  results(failure: { readonly member: number; readonly failure: PlanFailure } | null = null): RunResult[] {
    return this.members.map((member, m) => {
      if (failure?.member === m) return member.result("failed", failure.failure);
      return member.result(this.#hasEnded[m] ? "complete" : "partial");
    });
  }
}
