/** What the views of a sweep share: its variants, inputs and figures, and which figure is looked at. */
import type { InputValue } from "@plan-tester/core";
import { SWEEP_DEFINITIONS, type SweepFigureDefinition } from "../../lib/aims.ts";
import { number } from "../../lib/format.ts";

export interface SweepInput {
  readonly name: string;
  readonly label: string;
  readonly values: readonly InputValue[];
  /** Whether their order means something; that of instruments does not. */
  readonly ordered: boolean;
}

export interface SweepViewProps {
  /** The axes of the lattice. */
  readonly inputs: readonly SweepInput[];
  /** Inputs that follow others. */
  readonly linked: readonly Pick<SweepInput, "name" | "label">[];
  readonly variants: readonly Readonly<Record<string, InputValue>>[];
  /** Row-major: variant, then stretch, then figure. */
  readonly figures: Float64Array;
  readonly stretches: 1 | 2;
  /** Column that is aimed at, the first of a blend. */
  readonly aim: number;
  /** How well each variant does by the aim; null where the aim is that column and nothing else. */
  readonly scores: Float64Array | null;
  readonly selected: number | null;
  readonly onSelect: (variant: number) => void;
}

export const WIDTH = SWEEP_DEFINITIONS.length;

/** A figure's column in a row: stretch, then figure. */
export const definitionAt = (column: number): SweepFigureDefinition => SWEEP_DEFINITIONS[column % WIDTH]!;

export const valueAt = ({ figures, stretches }: Pick<SweepViewProps, "figures" | "stretches">, variant: number, column: number): number =>
  figures[variant * WIDTH * stretches + column]!;

/** Whether a first value is better than a second. */
export const isBetter = (column: number, a: number, b: number): boolean => (definitionAt(column).more === false ? a < b : a > b);

const MOST_DECIMALS = 4;

/** A value of an input as it is written. */
export function valueText(value: InputValue | undefined): string {
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value !== "number") return String(value);
  return number(value, Math.min(MOST_DECIMALS, String(value).split(".")[1]?.length ?? 0));
}

/** Variants that are done, the best by a column first. */
export function ranked(view: Pick<SweepViewProps, "variants" | "figures" | "stretches">, column: number): number[] {
  const done = view.variants.map((_variant, i) => i).filter((i) => !Number.isNaN(valueAt(view, i, column)));
  return done.sort((a, b) => {
    const [x, y] = [valueAt(view, a, column), valueAt(view, b, column)];
    return x === y ? a - b : isBetter(column, x, y) ? -1 : 1;
  });
}
