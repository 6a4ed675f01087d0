/** Members of blends for tests: equity that walks by seeded steps. */
import fc from "fast-check";
import { type BlendCurves, blendCurves, type MemberCurve } from "../blend/curves.ts";
import { Random } from "../random.ts";
import { START } from "./bars.ts";

const HOUR = 3_600_000;

/** @param everyMs between closes @param lateMs after START its first close */
export function member(
  steps: readonly number[],
  { everyMs = 6 * HOUR, lateMs = HOUR, cash = 1000, rate = 1 as MemberCurve["rate"] } = {},
): MemberCurve {
  let equity = cash;
  return {
    time: Float64Array.from(steps, (_step, i) => START + lateMs + i * everyMs),
    equity: Float64Array.from(steps, (step) => {
      equity += step;
      return equity;
    }),
    ...{ cash, rate },
  };
}

/** A drift with noise of its own and noise of all. */
export function drifting(seed: number, length: number, drift: number, shared: number): number[] {
  const [own, all] = [new Random(seed), new Random(1)];
  return Array.from({ length }, () => Math.round((drift + own.normal() * 10 + shared * all.normal()) * 4) / 4);
}

const steps = fc.array(fc.integer({ min: -40, max: 44 }), { minLength: 2, maxLength: 90 });

/** One to five members with other closes. */
export const blends: fc.Arbitrary<{ readonly members: MemberCurve[]; readonly curves: BlendCurves }> = fc
  .array(fc.record({ steps, hours: fc.constantFrom(1, 3, 6, 24), late: fc.integer({ min: 1, max: 60 }) }), { minLength: 1, maxLength: 5 })
  .map((list) => list.map((one) => member(one.steps, { everyMs: one.hours * HOUR, lateMs: one.late * HOUR })))
  .map((members) => ({ members, curves: blendCurves(members, "UTC") }));
