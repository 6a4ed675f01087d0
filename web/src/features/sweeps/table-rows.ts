/** Which variants the table shows, and in which order. */
import { readConstraint } from "@plan-tester/contract";
import { type InputValue, SWEEP_FIGURES } from "@plan-tester/core";
import type { GridSort } from "../../ui/grid/use-grid.ts";
import { type SweepViewProps, WIDTH } from "./sweep-view.ts";

/** What rows are sorted by: the aim's score, an input, or a column of the row. */
export const BY_AIM = "aim";
export const byInput = (name: string): string => `input ${name}`;
export const byColumn = (at: number): string => `column ${at}`;

/** What is left out. */
export interface TableFilter {
  /** Conditions with commas between them, e.g. "fast < 20, trades >= 30, out.sharpe > 0". */
  readonly conditions: string;
  /** Inputs of each of whose values, or of several together, only the best is kept; none for all rows. */
  readonly bestOfEach: readonly string[];
}

type View = Pick<SweepViewProps, "inputs" | "linked" | "variants" | "figures" | "stretches" | "scores">;

/** Names that a condition of the filter may use. */
export const filterNames = ({ inputs, linked, stretches }: Pick<View, "inputs" | "linked" | "stretches">): string[] => [
  ...inputs.map(({ name }) => name),
  ...linked.map(({ name }) => name),
  ...SWEEP_FIGURES,
  ...(stretches === 2 ? SWEEP_FIGURES.map((figure) => `out.${figure}`) : []),
];

/** The number by which a variant is sorted. */
function valueBy({ inputs, variants, figures, stretches, scores }: View, key: string): (variant: number) => number {
  if (key === BY_AIM && scores) return (v) => scores[v]!;
  const input = inputs.find(({ name }) => byInput(name) === key);
  if (input) {
    // Words stand in the order in which they were given.
    const places = new Map(input.values.map((value, k) => [value, typeof value === "number" ? value : k]));
    return (v) => places.get(variants[v]![input.name]!) ?? Number.NaN;
  }
  const at = Number(key.split(" ")[1] ?? 0) || 0;
  return (v) => figures[v * WIDTH * stretches + at]!;
}

const compared = (a: number, b: number): number => (a === b ? 0 : a - b);

/** @throws PlanTesterError bad-input when a condition can't be read. */
export function tableRows(view: View, { key, down }: GridSort, { conditions, bestOfEach }: TableFilter): number[] {
  const { variants, figures, stretches } = view;
  const width = WIDTH * stretches;
  const names = filterNames(view);
  const tests = conditions
    .split(",")
    .filter((text) => text.trim())
    .map((text) => readConstraint(text.trim(), names));
  const values = (v: number): Record<string, InputValue> => {
    const all: Record<string, InputValue> = { ...variants[v] };
    SWEEP_FIGURES.forEach((figure, i) => {
      all[figure] = figures[v * width + i]!;
      if (stretches === 2) all[`out.${figure}`] = figures[v * width + WIDTH + i]!;
    });
    return all;
  };
  const isShown = (v: number): boolean => {
    if (Number.isNaN(figures[v * width]!)) return false;
    if (tests.length === 0) return true;
    const all = values(v);
    return tests.every((holds) => holds(all));
  };
  const own = valueBy(view, key);
  const sign = down ? -1 : 1;
  // What has no value stands last, whichever way one sorts.
  const rank = (v: number): number => (Number.isNaN(own(v)) ? Number.POSITIVE_INFINITY : sign * own(v));
  const order = variants.map((_variant, v) => v).filter(isShown);
  order.sort((a, b) => compared(rank(a), rank(b)) || a - b);
  if (bestOfEach.length === 0) return order;
  const met = new Set<string>();
  return order.filter((v) => {
    const values = JSON.stringify(bestOfEach.map((name) => variants[v]![name]));
    return !met.has(values) && met.add(values);
  });
}
