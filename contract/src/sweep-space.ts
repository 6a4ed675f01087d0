/** The variants of a sweep: a lattice over the ranges of its inputs. */
import { type InputSpec, type InputValue, type InputValues, inputProblem, PlanTesterError } from "@plan-tester/core";
import { readConstraint } from "./constraint.ts";
import type { SweepRange, SweepRequest } from "./schemas.ts";

export const MOST_VARIANTS = 200_000;

/** The values a range stands for, in order; decimals are freed of rounding noise. */
export function valuesOf(range: SweepRange): readonly InputValue[] {
  if ("values" in range) return range.values;
  const steps = Math.floor((range.to - range.from) / range.step + 1e-9);
  return Array.from({ length: Math.max(0, steps + 1) }, (_, i) => Number((range.from + i * range.step).toPrecision(12)));
}

/** What decides which variants a sweep has. */
export type SweepSpace = Pick<SweepRequest, "ranges"> & Partial<Pick<SweepRequest, "constraints" | "search">>;

/** How many points the lattice of the ranges has. */
export function countVariants(ranges: readonly SweepRange[]): number {
  return ranges.reduce((count, range) => count * valuesOf(range).length, 1);
}

function listsOf(specs: readonly InputSpec[], ranges: readonly SweepRange[]): (readonly InputValue[])[] {
  return ranges.map((range) => {
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
}

const PRIMES = [2, 3, 5, 7, 11, 13, 17, 19];

/** The radical inverse of a number in a base: low-discrepancy points on [0, 1). Halton 1960. */
function halton(n: number, base: number): number {
  let [value, share] = [0, 1 / base];
  for (let rest = n; rest > 0; rest = Math.floor(rest / base)) {
    value += (rest % base) * share;
    share /= base;
  }
  return value;
}

/** Numbers of the lattice's points: all in order, or so many spread over it, each once. The last range moves fastest. */
function* pointsOf(lists: readonly (readonly InputValue[])[], count: number, search: SweepSpace["search"]): Generator<number> {
  if (!search || search.count >= count) {
    for (let n = 0; n < count; n++) yield n;
    return;
  }
  const seen = new Set<number>();
  // Beyond so many tries the points that are left are too few to be met by chance.
  const tries = count * 4 + 1000;
  for (let k = 0; k < tries && seen.size < search.count; k++) {
    const at = 1 + search.seed * 7919 + k;
    const n = lists.reduce((number, values, r) => number * values.length + Math.floor(halton(at, PRIMES[r]!) * values.length), 0);
    if (seen.has(n)) continue;
    seen.add(n);
    yield n;
  }
}

/**
 * Every variant of a sweep.
 * @throws PlanTesterError bad-input when an input is unknown, a value does not fit it, a constraint can't be read, or there are too many or none.
 */
export function variantsOf(
  specs: readonly InputSpec[],
  base: InputValues,
  { ranges, constraints = [], search = null }: SweepSpace,
): Record<string, InputValue>[] {
  const lists = listsOf(specs, ranges);
  const count = countVariants(ranges);
  const wanted = search ? Math.min(search.count, count) : count;
  if (wanted > MOST_VARIANTS || count > Number.MAX_SAFE_INTEGER)
    throw new PlanTesterError(
      "limit",
      `These ranges make ${count} variants; the most is ${MOST_VARIANTS}. Widen the steps, or try a number of them.`,
      { count },
    );
  const names = specs.map(({ name }) => name);
  const defaults = Object.fromEntries(specs.map((spec) => [spec.name, spec.default]));
  const conditions = constraints.map((text) => readConstraint(text, names));
  const variants: Record<string, InputValue>[] = [];
  for (const n of pointsOf(lists, count, search)) {
    const variant: Record<string, InputValue> = { ...base };
    let rest = n;
    for (let r = lists.length - 1; r >= 0; r--) {
      variant[ranges[r]!.input] = lists[r]![rest % lists[r]!.length]!;
      rest = Math.floor(rest / lists[r]!.length);
    }
    if (conditions.length > 0) {
      const whole = { ...defaults, ...variant };
      if (!conditions.every((holds) => holds(whole))) continue;
    }
    variants.push(variant);
  }
  if (variants.length === 0)
    throw new PlanTesterError("bad-input", "No variant meets the conditions between inputs. Loosen them, or widen the ranges.", {});
  return variants;
}
