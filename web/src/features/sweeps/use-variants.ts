/** A sweep as its views need it: variants from their points, inputs, figures, and how well each does by the aim. */
import { aimOf, type SweepDetail, VariantSpace, valuesOf } from "@plan-tester/contract";
import { type InputValue, scoresOf } from "@plan-tester/core";
import { useMemo } from "react";
import { columnOf } from "../../lib/aims.ts";
import { type SweepViewProps, WIDTH } from "./sweep-view.ts";

export type SweepData = Omit<SweepViewProps, "selected" | "onSelect">;

export function useVariants({ request, inputSpecs }: SweepDetail, points: Float64Array, figures: Float64Array): SweepData {
  const space = useMemo(() => new VariantSpace(inputSpecs, request.inputs, request), [inputSpecs, request]);
  const { inputs, linked } = useMemo(() => {
    const labelOf = (name: string): string => inputSpecs.find((spec) => spec.name === name)?.label ?? name;
    return {
      inputs: request.ranges.map((range, a) => ({
        name: range.input,
        label: labelOf(range.input),
        values: valuesOf(range),
        ordered: space.ordered[a]!,
      })),
      linked: space.linked.map((name) => ({ name, label: labelOf(name) })),
    };
  }, [request.ranges, inputSpecs, space]);
  // Points are only ever added, so that their number says which they are.
  // biome-ignore lint/correctness/useExhaustiveDependencies: see above
  const variants = useMemo(
    () => Array.from(points, (point): Readonly<Record<string, InputValue>> => space.variantAt(point) ?? {}),
    [space, points.length],
  );
  const stretches = request.outOfSample ? 2 : 1;
  const aim = useMemo(() => aimOf(request.aim), [request.aim]);
  const isPlain = aim.terms.length === 1 && !aim.robust && aim.conditions.length === 0;
  const scores = useMemo(
    () => (isPlain ? null : scoresOf(aim, { figures, rowWidth: WIDTH * stretches, points, space })),
    [isPlain, aim, figures, stretches, points, space],
  );
  return {
    ...{ inputs, linked, variants, figures, stretches, scores },
    aim: columnOf(aim.terms[0]!.figure),
  };
}
