/** For tests: every variant of a lattice at once. */
import type { InputSpec, InputValue, InputValues } from "@plan-tester/core";
import { type SweepScope, sweepSpace } from "./sweep-space.ts";

export function variantsOf(specs: readonly InputSpec[], base: InputValues, scope: SweepScope): Record<string, InputValue>[] {
  const space = sweepSpace(specs, base, scope);
  return space.points(scope.search).map((point) => space.variantAt(point)!);
}
