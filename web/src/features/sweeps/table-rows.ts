/** Which variants the table shows, and in which order. */
import { readConstraint } from "@plan-tester/contract";
import { type InputValue, SWEEP_FIGURES } from "@plan-tester/core";
import { type SweepViewProps, WIDTH } from "./sweep-view.ts";

/** Sorts by the aim's score rather than a column. */
export const BY_AIM = -1;

export interface TableOrder {
  /** A column of the row, or `BY_AIM`. */
  readonly at: number;
  readonly down: boolean;
}

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

/** @throws PlanTesterError bad-input when a condition can't be read. */
export function tableRows(view: View, { at, down }: TableOrder, { conditions, bestOfEach }: TableFilter): number[] {
  const { variants, figures, stretches, scores } = view;
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
  const own = at === BY_AIM && scores ? (v: number): number => scores[v]! : (v: number): number => figures[v * width + Math.max(0, at)]!;
  const sign = down ? -1 : 1;
  // What has no value stands last, whichever way one sorts.
  const key = (v: number): number => (Number.isNaN(own(v)) ? Number.POSITIVE_INFINITY : sign * own(v));
  const order = variants.map((_variant, v) => v).filter(isShown);
  order.sort((a, b) => key(a) - key(b) || a - b);
  if (bestOfEach.length === 0) return order;
  const met = new Set<string>();
  return order.filter((v) => {
    const values = JSON.stringify(bestOfEach.map((name) => variants[v]![name]));
    return !met.has(values) && met.add(values);
  });
}
