/** The variants of a sweep: a lattice over the ranges of its inputs. */
import { type InputSpec, type InputValue, type InputValues, inputProblem, PlanTesterError } from "@plan-tester/core";
import type { SweepRange } from "./schemas.ts";

export const MOST_VARIANTS = 200_000;

/** The values a range stands for, in order; decimals are freed of rounding noise. */
export function valuesOf(range: SweepRange): readonly InputValue[] {
  if ("values" in range) return range.values;
  const steps = Math.floor((range.to - range.from) / range.step + 1e-9);
  return Array.from({ length: Math.max(0, steps + 1) }, (_, i) => Number((range.from + i * range.step).toPrecision(12)));
}

/** How many variants the ranges make, without making them. */
export function countVariants(ranges: readonly SweepRange[]): number {
  return ranges.reduce((count, range) => count * valuesOf(range).length, 1);
}

/**
 * Every combination, the last range moving fastest.
 * @throws PlanTesterError bad-input when an input is unknown, a value does not fit it, or there are too many.
 */
export function variantsOf(specs: readonly InputSpec[], base: InputValues, ranges: readonly SweepRange[]): Record<string, InputValue>[] {
  const lists = ranges.map((range) => {
    const spec = specs.find((candidate) => candidate.name === range.input);
    if (!spec) throw new PlanTesterError("bad-input", `The plan has no input "${range.input}" to sweep.`, {});
    const values = valuesOf(range);
    if (values.length === 0)
      throw new PlanTesterError("bad-input", `The range of ${spec.label} is empty: its end lies before its start.`, {});
    for (const value of values) {
      const problem = inputProblem(spec, value);
      if (problem) throw new PlanTesterError("bad-input", `The range of ${spec.label} does not fit: ${problem}`, {});
    }
    return values;
  });
  const count = lists.reduce((product, values) => product * values.length, 1);
  if (count > MOST_VARIANTS)
    throw new PlanTesterError("limit", `These ranges make ${count} variants; the most is ${MOST_VARIANTS}. Widen the steps.`, { count });
  const variants: Record<string, InputValue>[] = [];
  for (let n = 0; n < count; n++) {
    const variant: Record<string, InputValue> = { ...base };
    let rest = n;
    for (let r = lists.length - 1; r >= 0; r--) {
      variant[ranges[r]!.input] = lists[r]![rest % lists[r]!.length]!;
      rest = Math.floor(rest / lists[r]!.length);
    }
    variants.push(variant);
  }
  return variants;
}
