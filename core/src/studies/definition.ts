/**
 * What a study is: a pure computation of whole columns, with the metadata from which the plan language, the command
 * line, the documentation and the generic tests are derived. A study sees columns only, never where a run stands in them.
 */
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";

export type StudyInput =
  | { readonly kind: "bars"; readonly name: "bars" }
  | { readonly kind: "column"; readonly name: string }
  | {
      readonly kind: "number";
      readonly name: string;
      readonly min: number;
      readonly max: number;
      readonly whole: boolean;
      readonly default: number;
    };

/** A column and the index of its first full value; everything before it is NaN. */
export interface ColumnValues {
  readonly values: Float64Array;
  readonly first: number;
}

export interface StudyArguments {
  readonly bars: BarSeries;
  readonly columns: readonly ColumnValues[];
  readonly numbers: readonly number[];
}

export const STUDY_GROUPS = [
  "average",
  "oscillator",
  "band",
  "stop",
  "range",
  "extreme",
  "volume",
  "statistic",
  "session",
  "price",
] as const;
export type StudyGroup = (typeof STUDY_GROUPS)[number];

export interface StudyDefinition {
  readonly name: string;
  readonly group: StudyGroup;
  /** Unit of its outputs: "price", "as the source", "0 to 100", "bars", "%" and the like. */
  readonly unit: string;
  readonly summary: string;
  readonly formula: string;
  /** When the first full value stands, in words and symbols. */
  readonly warmUp: string;
  /** Paper, book or convention the formula follows. */
  readonly source: string;
  /** Where a chart draws it: over the prices, or in a pane of its own. */
  readonly pane: "price" | "own";
  readonly inputs: readonly StudyInput[];
  readonly outputs: readonly string[];
  /**
   * How many bars of its inputs, the current one included, its value still depends on (to 1e-12), by its numbers. Infinity
   * where everything since the first bar counts.
   */
  readonly settle: (numbers: readonly number[]) => number;
  readonly compute: (args: StudyArguments) => readonly ColumnValues[];
}

/**
 * Checks a study's numbers against its declared bounds.
 * @throws PlanTesterError bad-study naming the study, the input, the value and the bounds.
 */
export function checkNumbers(definition: StudyDefinition, numbers: readonly number[]): void {
  const declared = definition.inputs.filter((input) => input.kind === "number");
  declared.forEach((input, i) => {
    const value = numbers[i];
    if (
      value === undefined ||
      !Number.isFinite(value) ||
      value < input.min ||
      value > input.max ||
      (input.whole && !Number.isInteger(value))
    )
      throw new PlanTesterError(
        "bad-study",
        `${definition.name}(): ${input.name} is ${String(value)}; it must be a ${input.whole ? "whole " : ""}number from ${input.min} to ${input.max}.`,
        { study: definition.name, input: input.name, value },
      );
  });
}

/** Settles within its window: the first number, or the sum of all of them for a chain of windows. */
export const WINDOW = (numbers: readonly number[]): number => numbers[0]! + 1;
export const WINDOWS = (numbers: readonly number[]): number => numbers.reduce((sum, value) => sum + Math.ceil(value), 2);
/** An exponential average forgets a value by 2/(n+1) a bar: after 16 n bars 1e-13 of it is left; by 1/n: after 32 n. */
export const EXPONENTIAL = (numbers: readonly number[]): number => 34 * WINDOWS(numbers);
/** Nothing before the session counts: no session has more bars than this (23 hours of minutes, and the one before). */
export const SESSIONS = (): number => 3000;
export const ALL_HISTORY = (): number => Number.POSITIVE_INFINITY;

/** A number input with bounds. */
export const numberInput = (name: string, defaultValue: number, min: number, max: number, whole = false): StudyInput => ({
  kind: "number",
  name,
  min,
  max,
  whole,
  default: defaultValue,
});

/** A further "how many bars" input under a name of its own. */
export const barsInput = (name: string, defaultValue: number, min = 1): StudyInput => numberInput(name, defaultValue, min, 100_000, true);

/** The usual "how many bars" input. */
export function span(defaultValue: number, min = 1): StudyInput {
  return { kind: "number", name: "span", min, max: 100_000, whole: true, default: defaultValue };
}

export const SOURCE_COLUMN: StudyInput = { kind: "column", name: "source" };
export const BARS: StudyInput = { kind: "bars", name: "bars" };

/** A further column input under a name of its own. */
export const columnInput = (name: string): StudyInput => ({ kind: "column", name });
