/**
 * What a plan's build function gets. Everything is made when it is asked for: a plan mostly uses a few of these names,
 * and a sweep builds a context for each variant.
 */
import type { LogLevel } from "../engine/orders.ts";
import { PlanTesterError } from "../errors.ts";
import { minutesOfDay } from "../market/calendar.ts";
import type { Random } from "../random.ts";
import { type ClockAction, type ClockView, weekdayOf } from "./clock.ts";
import { asColumn, type Column, Condition, Crossing, describe } from "./columns.ts";
import { checkHandler, EVENTS, type Events } from "./events.ts";
import type { InputValue } from "./inputs.ts";
import type { Market, PlanBars } from "./market.ts";
import { MirroredSide } from "./mirrored.ts";
import type { AccountView, Orders } from "./order-handle.ts";
import type { Position } from "./position.ts";
import type { Handler } from "./schedule.ts";
import type { RunScope } from "./scope.ts";

/** What the context needs of the host behind it. */
export interface Builder {
  readonly markets: readonly Market[];
  readonly events: Events;
  readonly clock: ClockView;
  readonly clockActions: ClockAction[];
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly random: Random;
  readonly run: RunScope;
  readonly shown: { label: string; pane: "price" | "own"; shift: number; column: Column }[];
  log(level: LogLevel, text: string): void;
  addNote(text: string, price: number | null): void;
  setFigure(label: string, value: number, unit: string): void;
  addCloseHandler(verb: string, condition: Condition | null, handler: unknown): void;
}

const MOST_SHOWN = 40;
const LEVELS: readonly unknown[] = ["info", "notice", "warning", "alert"];

export class PlanContext {
  readonly #host: Builder;

  constructor(host: Builder) {
    this.#host = host;
  }

  get #main(): Market {
    return this.#host.markets[0]!;
  }

  get bars(): PlanBars {
    return this.#main.bars;
  }

  get inputs(): Readonly<Record<string, InputValue>> {
    return { ...this.#host.inputs };
  }

  get enter(): unknown {
    return this.#main.enter;
  }

  get exit(): unknown {
    return this.#main.exit;
  }

  get position(): Position {
    return this.#main.position;
  }

  get orders(): Orders {
    return this.#main.orders;
  }

  get account(): AccountView {
    return this.#main.account;
  }

  get clock(): ClockView {
    return this.#host.clock;
  }

  get markets(): readonly Market[] {
    return [...this.#host.markets];
  }

  get market(): (symbol: unknown) => Market {
    return (symbol) => {
      const found = this.#host.markets.find((market) => market.symbol === symbol);
      if (found) return found;
      throw new PlanTesterError(
        "plan-error",
        `market(${describe(symbol)}): this run has ${this.#host.markets.map((market) => market.symbol).join(", ")}. Add it to the run's instruments.`,
      );
    };
  }

  get when(): (condition: unknown, handler: unknown) => void {
    return (condition, handler) => {
      if (!(condition instanceof Crossing))
        throw new PlanTesterError(
          "plan-error",
          condition instanceof Condition
            ? `when() takes a crossing, and "${condition}" is a state that may hold for many bars. Write when(becomes(…), …) for the bar on which it begins, or during(…) for every bar on which it holds.`
            : `when() takes a crossing such as crossesAbove(fast, slow); it got ${describe(condition)}.`,
        );
      this.#host.addCloseHandler("when()", condition, handler);
    };
  }

  get during(): (condition: unknown, handler: unknown) => void {
    return (condition, handler) => {
      if (!(condition instanceof Condition))
        throw new PlanTesterError("plan-error", `during() takes a condition such as isAbove(a, b); it got ${describe(condition)}.`);
      this.#host.addCloseHandler("during()", condition, handler);
    };
  }

  /** Does the same for longs and for shorts, turned. */
  get mirrored(): (write: unknown) => void {
    return (write) => {
      checkHandler(this.#host.run, "mirrored()", write);
      for (const sign of [1, -1] as const) (write as (side: MirroredSide) => void)(new MirroredSide(sign, this.#main));
    };
  }

  get on(): Record<string, unknown> {
    const host = this.#host;
    const on: Record<string, unknown> = {
      barClose: (handler: unknown) => host.addCloseHandler("on.barClose()", null, handler),
      clock: (wallTime: string, handler: unknown) => this.#timed("on.clock()", "clock", minutesOfDay(String(wallTime)), null, handler),
      afterOpen: (minutes: unknown, handler: unknown) => {
        if (typeof minutes !== "number" || !(minutes >= 0))
          throw new PlanTesterError(
            "plan-error",
            `on.afterOpen() takes minutes after the session's open first; it got ${describe(minutes)}.`,
          );
        this.#timed("on.afterOpen()", "after open", minutes, null, handler);
      },
      beforeClose: (minutes: unknown, handler: unknown) => {
        if (typeof minutes !== "number" || !(minutes >= 0))
          throw new PlanTesterError(
            "plan-error",
            `on.beforeClose() takes minutes before the session's close first; it got ${describe(minutes)}.`,
          );
        this.#timed("on.beforeClose()", "before close", minutes, null, handler);
      },
      weekly: (weekday: unknown, wallTime: string, handler: unknown) =>
        this.#timed("on.weekly()", "clock", minutesOfDay(String(wallTime)), weekdayOf(weekday), handler),
    };
    for (const name of EVENTS) on[name] = (handler: unknown) => host.events.listen(name, handler);
    return on;
  }

  #timed(verb: string, by: ClockAction["by"], minutes: number, weekday: number | null, handler: unknown): void {
    checkHandler(this.#host.run, verb, handler);
    this.#host.clockActions.push({ by, minutes, weekday, handler: handler as Handler });
  }

  get log(): (text: unknown, level?: unknown) => void {
    return (text, level = "info") => this.#host.log(LEVELS.includes(level) ? (level as LogLevel) : "info", String(text).slice(0, 500));
  }

  get figure(): (label: unknown, value: unknown, unit?: unknown) => void {
    return (label, value, unit) => {
      if (typeof value !== "number")
        throw new PlanTesterError(
          "plan-error",
          `figure("${String(label).slice(0, 40)}", …) takes a number second; it got ${describe(value)}.`,
        );
      this.#host.setFigure(String(label).slice(0, 60), value, unit === undefined ? "" : String(unit).slice(0, 20));
    };
  }

  get note(): (text: unknown, price?: unknown) => void {
    return (text, price) =>
      this.#host.addNote(String(text).slice(0, 80), typeof price === "number" && Number.isFinite(price) ? price : null);
  }

  get show(): (column: unknown, options?: { label?: unknown; pane?: unknown; shift?: unknown }) => void {
    return (column, options = {}) => {
      const host = this.#host;
      const shown = asColumn(column, "show()");
      if (host.run.sealed) throw new PlanTesterError("plan-error", "show() in a handler: show columns in build(), once.");
      if (host.shown.length >= MOST_SHOWN)
        throw new PlanTesterError("plan-error", `show() was called more than ${MOST_SHOWN} times: a chart can't carry more columns.`);
      host.shown.push({
        label: typeof options.label === "string" ? options.label.slice(0, 60) : String(shown),
        pane: options.pane === "own" ? "own" : "price",
        shift: typeof options.shift === "number" ? Math.round(options.shift) : 0,
        column: shown,
      });
    };
  }

  get random(): () => number {
    return () => this.#host.random.next();
  }
}
