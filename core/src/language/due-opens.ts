/**
 * What of a plan is due as minutes open, one by one: its start, sessions and clock times. The same that `schedules` of the
 * host lays out over known bars.
 */
import type { BarSeries } from "../market/bars.ts";
import { type ClockAction, ClockDue, clockText } from "./clock.ts";
import type { PlanHost } from "./host.ts";

/** A minute that opens, and the bar of the run in which it lies. */
export interface OpeningMinute {
  readonly bar: number;
  readonly isFirst: boolean;
  readonly timeMs: number;
  readonly closeMs: number;
}

export class DueOpens {
  readonly #host: PlanHost;
  readonly #isMain: boolean;
  readonly #actions: readonly { readonly action: ClockAction; readonly due: ClockDue }[];
  #hasStarted = false;
  #testBar = -1;

  /** @param bars bars so far; sessions that are over, and times of the present one that are past, are not made up for. */
  constructor(host: PlanHost, feed: number, bars: BarSeries, completed: number) {
    this.#host = host;
    this.#isMain = feed === 0;
    this.#actions = host.actionsOf(feed).map((action) => ({ action, due: new ClockDue(action) }));
    const { session, time, closeTime } = bars;
    let first = Math.max(0, completed - 1);
    while (first > 0 && session[first - 1] === session[completed - 1]) first--;
    for (let i = Math.max(1, first); i < completed; i++)
      for (const { due } of this.#actions) due.atBar(bars, session[i]!, time[i]!, closeTime[i]!);
  }

  get hasStarted(): boolean {
    return this.#hasStarted;
  }

  /** Inside the bar under way nothing is due at opens before this time. */
  earliestMs(bars: BarSeries): number {
    return this.#actions.reduce((earliest, { due }) => Math.min(earliest, due.earliestMs(bars)), Number.POSITIVE_INFINITY);
  }

  run(bars: BarSeries, minute: OpeningMinute): void {
    const host = this.#host;
    const { bar, isFirst, timeMs, closeMs } = minute;
    const mayRun = bar >= host.firstOpen;
    const session = bars.session[bar]!;
    if (this.#isMain && isFirst && mayRun) this.begin(bars, bar);
    for (const { action, due } of this.#actions) {
      const hit = bar === 0 ? null : isFirst ? due.atBar(bars, session, timeMs, closeMs) : due.atOpen(bars, timeMs, closeMs);
      if (!hit || !mayRun || (this.#isMain && !this.#hasStarted)) continue;
      if (hit === "late") host.log("notice", `a session had no bars left when ${clockText(action)} came: done at the next open`);
      host.runClockAction(action);
    }
  }

  /** A bar of the period begins: with the first one, the plan. */
  begin(bars: BarSeries, bar: number): void {
    const host = this.#host;
    if (!this.#hasStarted) {
      this.#testBar = bar + Math.max(0, host.testPosition?.bar ?? 0);
      host.runEvent("start");
      this.#hasStarted = true;
    }
    if (host.testPosition && bar === this.#testBar) host.openTestPosition();
    if (bar > 0 && bars.session[bar] !== bars.session[bar - 1]) host.runEvent("sessionOpen");
  }
}
