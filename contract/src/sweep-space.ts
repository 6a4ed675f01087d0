/** The variants of a sweep: a lattice over the ranges of its inputs, with conditions and links between them. */
import {
  type InputSpec,
  type InputValue,
  type InputValues,
  inputProblem,
  PlanTesterError,
  pointsIn,
  type Search,
  type SearchSpace,
  spreadPoints,
} from "@plan-tester/core";
import { type Constraint, type Link, readConstraint, readLink } from "./constraint.ts";
import type { SweepRange, SweepRequest } from "./schemas.ts";

const MOST_VARIANTS = 200_000;
const MOST_AXES = 8;

/** The values a range stands for, in order; decimals are freed of rounding noise. */
export function valuesOf(range: SweepRange): readonly InputValue[] {
  if ("values" in range) return range.values;
  return Array.from({ length: sizeOf(range) }, (_, i) => Number((range.from + i * range.step).toPrecision(12)));
}

/** What decides which variants a sweep has. */
export type SweepScope = Pick<SweepRequest, "ranges"> & Partial<Pick<SweepRequest, "constraints">> & { readonly search?: Search | null };

const sizeOf = (range: SweepRange): number =>
  "values" in range ? range.values.length : Math.max(0, Math.floor((range.to - range.from) / range.step + 1e-9) + 1);

/** How many points the lattice of the ranges has. */
export const countVariants = (ranges: readonly SweepRange[]): number => pointsIn(ranges.map(sizeOf));

const tooMany = (count: number): PlanTesterError =>
  new PlanTesterError(
    "limit",
    `These ranges make ${count} variants; the most is ${MOST_VARIANTS}. Widen the steps, or search a number of them.`,
    { count },
  );

function listsOf(specs: readonly InputSpec[], ranges: readonly SweepRange[]): (readonly InputValue[])[] {
  return ranges.map((range) => {
    const spec = specs.find((candidate) => candidate.name === range.input);
    if (!spec) throw new PlanTesterError("bad-input", `The plan has no input "${range.input}" to sweep.`, {});
    const size = sizeOf(range);
    if (size > MOST_VARIANTS) throw tooMany(size);
    const values = valuesOf(range);
    if (size === 0) throw new PlanTesterError("bad-input", `The range of ${spec.label} is empty: its end lies before its start.`, {});
    for (const value of values) {
      const problem = inputProblem(spec, value);
      if (problem) throw new PlanTesterError("bad-input", `The range of ${spec.label} does not fit: ${problem}`, {});
    }
    return values;
  });
}

/** An input whose values come in an order that means something. */
const isOrdered = (specs: readonly InputSpec[], range: SweepRange): boolean =>
  "from" in range || ["whole", "decimal", "yes-no", "time"].includes(specs.find(({ name }) => name === range.input)?.kind ?? "");

/** The lattice of a sweep; a point stands for a variant, or for none where a condition turns it down. */
export class VariantSpace implements SearchSpace {
  readonly sizes: readonly number[];
  readonly ordered: readonly boolean[];
  /** Inputs that follow others, in the order of the conditions that say so. */
  readonly linked: readonly string[];
  readonly #names: readonly string[];
  readonly #lists: readonly (readonly InputValue[])[];
  readonly #base: InputValues;
  readonly #defaults: InputValues;
  readonly #conditions: readonly Constraint[];
  readonly #links: readonly Link[];

  /** @throws PlanTesterError bad-input when an input is unknown, a value does not fit it, or a condition can't be read. */
  constructor(specs: readonly InputSpec[], base: InputValues, { ranges, constraints = [] }: SweepScope) {
    this.#lists = listsOf(specs, ranges);
    this.#names = ranges.map(({ input }) => input);
    this.#base = base;
    this.#defaults = Object.fromEntries(specs.map((spec) => [spec.name, spec.default]));
    this.sizes = this.#lists.map(({ length }) => length);
    this.ordered = ranges.map((range) => isOrdered(specs, range));
    const links: Link[] = [];
    const conditions: Constraint[] = [];
    for (const text of constraints) {
      const link = readLink(text, specs, this.#names);
      if (link) links.push(link);
      else
        conditions.push(
          readConstraint(
            text,
            specs.map(({ name }) => name),
          ),
        );
    }
    this.#links = links;
    this.#conditions = conditions;
    this.linked = links.map(({ input }) => input);
  }

  readonly admits = (point: number): boolean =>
    (this.#conditions.length === 0 && this.#links.length === 0) || this.variantAt(point) !== null;

  /** The variant at a point; null where a condition is not met, or a linked input would leave its bounds. */
  variantAt(point: number): Record<string, InputValue> | null {
    const variant: Record<string, InputValue> = { ...this.#base };
    let rest = point;
    for (let r = this.#lists.length - 1; r >= 0; r--) {
      const values = this.#lists[r]!;
      variant[this.#names[r]!] = values[rest % values.length]!;
      rest = Math.floor(rest / values.length);
    }
    if (this.#conditions.length === 0 && this.#links.length === 0) return variant;
    const whole = { ...this.#defaults, ...variant };
    for (const { input, follow } of this.#links) {
      const value = follow(whole);
      if (value === null) return null;
      variant[input] = value;
      whole[input] = value;
    }
    return this.#conditions.every((holds) => holds(whole)) ? variant : null;
  }

  /** Every admitted point in order, or so many spread over the lattice. */
  points(search: Search | null = null): number[] {
    const count = pointsIn(this.sizes);
    if (search && search.count < count) return spreadPoints(this, search.count, search.seed);
    const points: number[] = [];
    for (let point = 0; point < count; point++) if (this.admits(point)) points.push(point);
    return points;
  }
}

/**
 * The lattice of a sweep, checked.
 * @throws PlanTesterError bad-input as for `VariantSpace`, limit when there are more than may be tried, or more axes than can be spread over.
 */
export function sweepSpace(specs: readonly InputSpec[], base: InputValues, scope: SweepScope): VariantSpace {
  if (scope.ranges.length > MOST_AXES)
    throw new PlanTesterError(
      "limit",
      `At most ${MOST_AXES} inputs can vary in one sweep; these are ${scope.ranges.length}. Leave some out, or link them.`,
      {},
    );
  const space = new VariantSpace(specs, base, scope);
  const count = pointsIn(space.sizes);
  const most = scope.search ? Math.min(scope.search.count, count) : count;
  if (most > MOST_VARIANTS || count > Number.MAX_SAFE_INTEGER) throw tooMany(count);
  return space;
}

export const NO_VARIANT = "No variant meets the conditions between inputs. Loosen them, or widen the ranges.";
