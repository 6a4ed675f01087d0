/**
 * One side of a rule that is written once for both: words that say of a long what they are named by, and of a short the same
 * on a market turned upside down. So no side can be left unturned in a copy.
 */
import { PlanTesterError } from "../errors.ts";
import { studyNamed } from "../studies/catalogue.ts";
import {
  asColumn,
  Column,
  type Crossing,
  crossesAbove,
  crossesBelow,
  describe,
  isAbove,
  isAtOrAbove,
  isAtOrBelow,
  isBelow,
  type State,
  scopeOf,
  type Value,
} from "./columns.ts";
import { declareStudy } from "./declare-study.ts";
import type { Market, PlanBars } from "./market.ts";
import { isFalling, isRising } from "./memory.ts";

/** What a side trades with. */
type Trades = Pick<Market, "enter" | "exit" | "position">;

export class MirroredSide {
  readonly #sign: 1 | -1;
  readonly #doors: Trades;

  constructor(sign: 1 | -1, doors: Trades) {
    this.#sign = sign;
    this.#doors = doors;
  }

  get #isLong(): boolean {
    return this.#sign > 0;
  }

  get name(): "long" | "short" {
    return this.#isLong ? "long" : "short";
  }

  /** 1 for longs, -1 for shorts. */
  get sign(): 1 | -1 {
    return this.#sign;
  }

  get enter(): unknown {
    return (this.#doors.enter as Record<string, unknown>)[this.name];
  }

  get exit(): unknown {
    return (this.#doors.exit as Record<string, unknown>)[this.name];
  }

  /** Whether a position of this side is open. */
  get isOpen(): boolean {
    return this.#isLong ? this.#doors.position.long : this.#doors.position.short;
  }

  crossesAbove(a: Column, b: Value): Crossing {
    return this.#isLong ? crossesAbove(a, b) : crossesBelow(a, b);
  }

  crossesBelow(a: Column, b: Value): Crossing {
    return this.#isLong ? crossesBelow(a, b) : crossesAbove(a, b);
  }

  isAbove(a: Column, b: Value): State {
    return this.#isLong ? isAbove(a, b) : isBelow(a, b);
  }

  isBelow(a: Column, b: Value): State {
    return this.#isLong ? isBelow(a, b) : isAbove(a, b);
  }

  isAtOrAbove(a: Column, b: Value): State {
    return this.#isLong ? isAtOrAbove(a, b) : isAtOrBelow(a, b);
  }

  isAtOrBelow(a: Column, b: Value): State {
    return this.#isLong ? isAtOrBelow(a, b) : isAtOrAbove(a, b);
  }

  isRising(source: Column, span: number): State {
    return this.#isLong ? isRising(source, span) : isFalling(source, span);
  }

  isFalling(source: Column, span: number): State {
    return this.#isLong ? isFalling(source, span) : isRising(source, span);
  }

  /** The bars' highs; their lows for a short. */
  high(bars: PlanBars): Column {
    return this.#isLong ? bars.high : bars.low;
  }

  low(bars: PlanBars): Column {
    return this.#isLong ? bars.low : bars.high;
  }

  /** The highest high of so many bars; the lowest low for a short. */
  highest(bars: PlanBars, span: number): Column {
    return extreme(this.#isLong ? "highest" : "lowest", this.high(bars), span);
  }

  lowest(bars: PlanBars, span: number): Column {
    return extreme(this.#isLong ? "lowest" : "highest", this.low(bars), span);
  }

  /** The upper of two bands; the lower for a short. */
  upper(bands: { readonly upper: Column; readonly lower: Column }): Column {
    return asColumn(this.#isLong ? bands?.upper : bands?.lower, `side.upper()`);
  }

  lower(bands: { readonly upper: Column; readonly lower: Column }): Column {
    return asColumn(this.#isLong ? bands?.lower : bands?.upper, `side.lower()`);
  }

  /** A threshold of something that swings about a middle: 30 about 50 is 70 for a short. */
  threshold(value: number, middle: number): number {
    for (const given of [value, middle])
      if (typeof given !== "number")
        throw new PlanTesterError(
          "plan-error",
          `side.threshold(30, 50) takes a threshold and the middle it is turned about; it got ${describe(given)}.`,
        );
    return this.#isLong ? value : 2 * middle - value;
  }

  /** So far above a price or column; below it for a short. */
  beyond(from: number, by: number): number;
  beyond(from: Column, by: Value): Column;
  beyond(from: Value, by: Value): Value {
    if (from instanceof Column) return this.#isLong ? from.plus(by) : from.minus(by);
    if (typeof from !== "number" || typeof by !== "number")
      throw new PlanTesterError(
        "plan-error",
        `side.beyond() takes a column or a price, and how far beyond it; it got ${describe(typeof from === "number" ? by : from)}.`,
      );
    return from + this.#sign * by;
  }
}

function extreme(study: "highest" | "lowest", source: Column, span: number): Column {
  return declareStudy(studyNamed(study), scopeOf(source), [source], [span])[0]!;
}
