/** Days resampled: in their own order they fall as deep as the run did, and blocks keep together what came together. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { drawdowns } from "../figures/drawdown.ts";
import { walk } from "../testing/bars.ts";
import { type DayMoves, dayMoves, deepestFall, drawdownAhead, fallBands, shareBeyond } from "./drawdown-ahead.ts";

const CAPITAL = 1000;
const bars = walk(24 * 60, 3);
const equity = fc.array(fc.integer({ min: -40, max: 40 }), { minLength: 2, maxLength: bars.length }).map((steps) => {
  let sum = CAPITAL;
  return Float64Array.from(steps, (step) => {
    sum += step;
    return sum;
  });
});
const inOrder = (n: number): number[] => Array.from({ length: n }, (_none, d) => d);

test("in their own order the days fall as deep as equity does at the closes of bars", () => {
  fc.assert(
    fc.property(equity, (values) => {
      const moves = dayMoves(bars, values, CAPITAL);
      const { money } = drawdowns(values, CAPITAL, bars.closeTime, bars.time[0]!);
      expect(deepestFall(moves, inOrder(moves.end.length))).toBe(money.size);
    }),
  );
});

test("in any order as deep as the bars of those days, one after the other", () => {
  fc.assert(
    fc.property(equity, fc.infiniteStream(fc.nat()), (values, stream) => {
      const moves = dayMoves(bars, values, CAPITAL);
      const n = moves.end.length;
      const order = inOrder(n).map(() => stream.next().value % n);
      let [now, peak, deepest] = [CAPITAL, CAPITAL, 0];
      const dayOf = daysOf(values.length);
      for (const day of order) {
        const own = inOrder(values.length).filter((i) => dayOf[i] === day);
        const before = own[0] === 0 ? CAPITAL : values[own[0]! - 1]!;
        for (const i of own) {
          const at = now + values[i]! - before;
          peak = Math.max(peak, at);
          deepest = Math.max(deepest, peak - at);
        }
        now += values[own.at(-1)!]! - before;
      }
      expect(deepestFall(moves, order)).toBeCloseTo(deepest, 9);
    }),
    { numRuns: 40 },
  );
});

/** Number of the day of each of the first bars. */
function daysOf(length: number): number[] {
  const days: number[] = [];
  for (let i = 0; i < length; i++) days.push(bars.session[i]! - bars.session[0]!);
  return days;
}

describe("draws", () => {
  /** Days that end at their high or low. */
  const moves = (values: readonly number[]): DayMoves => ({
    end: Float64Array.from(values),
    high: Float64Array.from(values, (value) => Math.max(0, value)),
    low: Float64Array.from(values, (value) => Math.min(0, value)),
    fall: Float64Array.from(values, (value) => Math.max(0, -value)),
  });

  test("are the same for the same seed, in order, and none of fewer than two days", () => {
    const some = moves(inOrder(200).map((d) => ((d * 37) % 21) - 9));
    const [one, again, other] = [1, 1, 2].map((seed) => drawdownAhead(some, 10, seed));
    expect(again).toEqual(one);
    expect(other).not.toEqual(one);
    expect(one!.middle).toBeLessThan(one!.likely);
    expect(one!.likely).toBeLessThan(one!.rare);
    expect(drawdownAhead(moves([3]))).toBeNull();
  });

  test("blocks keep a bad stretch together: it falls deeper than the same days one by one", () => {
    const clustered = inOrder(400).map((d) => (d % 40 < 8 ? -10 : 4));
    const mixed = inOrder(400).map((d) => (d % 5 === 0 ? -10 : 4));
    expect(drawdownAhead(moves(clustered))!.middle).toBeGreaterThan(2 * drawdownAhead(moves(mixed))!.middle);
    // Drawn one by one they are the same days.
    const [a, b] = [clustered, mixed].map((days) => drawdownAhead(moves(days), 1)!.middle) as [number, number];
    expect(Math.abs(a - b) / a).toBeLessThan(0.2);
  });

  test("how many fall by more than so much", () => {
    const ahead = drawdownAhead(moves(inOrder(200).map((d) => ((d * 37) % 21) - 9)))!;
    for (const limit of [0, ahead.middle, ahead.likely, ahead.rare, 1e9]) {
      const beyond = Array.from(ahead.deepest).filter((fall) => fall > limit).length / ahead.draws;
      expect(shareBeyond(ahead, limit)).toBeCloseTo(beyond, 12);
    }
    expect(shareBeyond(ahead, ahead.likely)).toBeLessThanOrEqual(0.05);
  });

  test("so large a share of the draws falls by no more than each band", () => {
    const ahead = drawdownAhead(moves(inOrder(200).map((d) => ((d * 37) % 21) - 9)))!;
    const bands = fallBands(ahead);
    expect(bands.map(({ share }) => share)).toEqual([0.05, 0.25, 0.5, 0.75, 0.95, 0.99]);
    for (const { share, fall } of bands) {
      const within = Array.from(ahead.deepest).filter((deepest) => deepest <= fall).length / ahead.draws;
      expect(within).toBeGreaterThanOrEqual(share - 1 / ahead.draws);
      expect(shareBeyond(ahead, fall - 1e-9)).toBeGreaterThanOrEqual(1 - share - 1 / ahead.draws);
    }
    expect(bands.find(({ share }) => share === 0.95)!.fall).toBe(ahead.likely);
  });

  test("what only rises never falls", () => {
    expect(drawdownAhead(moves(inOrder(50).map(() => 2)))).toMatchObject({ middle: 0, likely: 0, rare: 0 });
  });
});
