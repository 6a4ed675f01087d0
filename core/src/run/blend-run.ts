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
import type { JointSimulation, SharedMoment } from "../engine/joint-simulation.ts";
import { PHASE, type Phase } from "../engine/moment-queue.ts";
import type { RuinMode } from "../engine/settings.ts";
import type { PlanFailure } from "../errors.ts";
import { nominalMs } from "../market/timeframe.ts";
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
  readonly #moment: SharedMoment = {
    timeMs: Number.NEGATIVE_INFINITY,
    phase: PHASE.open,
    nowMs: Number.NEGATIVE_INFINITY,
    actor: -1,
    isTouched: false,
  };

  constructor({ cash, ruin, limits, members }: BlendRunOptions) {
    this.pool = new AccountPool(cash, ruin, limits);
    this.members = members.map(({ rate = 1, ...options }) => new Backtest({ ...options, shared: { pool: this.pool, rate } }));
    this.#joints = this.members.map(({ joint }) => joint);
    this.#joints.forEach((joint, m) => {
      joint.follow(this.#moment, m);
    });
    const timeframes = members.flatMap(({ feeds }) => feeds.map(({ store }) => store.bars.timeframe));
    // Days, weeks and months are longer than their name says where clocks are changed and where months have 31 days.
    this.pool.longestBarMs = 2 * Math.max(...timeframes.map(nominalMs));
    this.#endMs = this.#joints.map(({ endMs }) => endMs);
    this.#hasEnded = members.map(() => false);
    this.#times = new Float64Array(members.length);
    this.#phases = new Uint8Array(members.length);
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
    const moment = this.#moment;
    for (;;) {
      this.pool.watchRuin(moment.timeMs);
      const m = this.#next();
      if (m < 0 || this.#nextMs >= untilMs) return;
      moment.timeMs = moment.nowMs = this.#nextMs;
      moment.phase = this.#nextPhase;
      moment.actor = m;
      moment.isTouched = false;
      try {
        if (this.#nextIsEnd) this.#end(m);
        else this.#actAlone(m, Math.min(untilMs, this.#othersMs));
      } catch (error) {
        throw new MemberFailure(m, moment.timeMs, error);
      }
    }
  }

  /** A member does what is next, and what it does then, as long as that is before a time and means nothing to others. */
  #actAlone(m: number, beforeMs: number): void {
    const moment = this.#moment;
    const joint = this.#joints[m]!;
    for (;;) {
      joint.act();
      if (moment.isTouched || this.pool.isRuinStale) return;
      joint.refresh();
      const { nextMs } = joint;
      if (nextMs >= beforeMs) break;
      moment.timeMs = moment.nowMs = nextMs;
      moment.phase = joint.nextPhase;
    }
    this.#times[m] = joint.nextMs;
    this.#phases[m] = joint.nextPhase;
  }

  /** What comes next, as `#next` found it: the time, the phase, and whether it is the end of a member's bars. */
  #nextMs = 0;
  #nextPhase: Phase = PHASE.open;
  #nextIsEnd = false;
  /** When any other does something next. */
  #othersMs = Number.POSITIVE_INFINITY;
  /** What each member does next, as of when it last changed. */
  readonly #times: Float64Array;
  readonly #phases: Uint8Array;

  /** The member with the earliest moment of all; below 0 where all have ended. */
  #next(): number {
    const times = this.#times;
    const phases = this.#phases;
    const isWiped = this.pool.isOver;
    const count = this.#joints.length;
    let found = -1;
    let othersMs = Number.POSITIVE_INFINITY;
    for (let m = 0; m < count; m++) {
      if (this.#hasEnded[m]) continue;
      const joint = this.#joints[m]!;
      if (joint.refresh()) {
        times[m] = joint.nextMs;
        phases[m] = joint.nextPhase;
      }
      // A wiped-out account trades no more: what it holds goes at the next opens.
      const isOver = isWiped && joint.isOver;
      const isEnd = isOver || times[m] === Number.POSITIVE_INFINITY;
      const timeMs = isOver ? this.#moment.timeMs : isEnd ? this.#endMs[m]! : times[m]!;
      // The end comes after all closes of its time, and ahead of what opens then.
      const phase = isEnd ? PHASE.close : (phases[m] as Phase);
      if (found >= 0 && (this.#nextMs < timeMs || (this.#nextMs === timeMs && this.#nextPhase <= phase))) {
        if (timeMs < othersMs) othersMs = timeMs;
        continue;
      }
      if (found >= 0 && this.#nextMs < othersMs) othersMs = this.#nextMs;
      found = m;
      this.#nextMs = timeMs;
      this.#nextPhase = phase;
      this.#nextIsEnd = isEnd;
    }
    this.#othersMs = othersMs;
    return found;
  }

  #end(m: number): void {
    this.members[m]!.end();
    this.#hasEnded[m] = true;
  }

  /** The result of every plan; the account's equity is its cash and what each has made since its own. */
  results(failure: { readonly member: number; readonly failure: PlanFailure } | null = null): RunResult[] {
    return this.members.map((member, m) => {
      if (failure?.member === m) return member.result("failed", failure.failure);
      return member.result(this.#hasEnded[m] ? "complete" : "partial");
    });
  }
}
