import fc from "fast-check";
import { expect, test } from "vitest";
import { EquityColumn } from "../engine/equity.ts";
import { makeSeries, sliceSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { dailyEquity } from "./daily.ts";
import { drawdowns, drawdownsIn } from "./drawdown.ts";
import { deepestFall } from "./equity-figures.ts";
import { dailyIn, deepestFallsIn } from "./equity-sums.ts";

const CAPITAL = 1000;
const FOUR_HOURS = 4 * 3_600_000;

/** Six bars a day, so that days end inside stretches, between them and on single bars. */
function seriesOf(closes: readonly number[]) {
  const column = (value: (i: number) => number): Float64Array => Float64Array.from(closes, (_, i) => value(i));
  return makeSeries(
    {
      time: column((i) => Date.UTC(2024, 0, 1) + i * FOUR_HOURS),
      open: column((i) => closes[i]!),
      high: column((i) => closes[i]! + 1),
      low: column((i) => closes[i]! - 1),
      close: column((i) => closes[i]!),
      volume: column(() => 1),
    },
    "4h",
    ALWAYS_OPEN,
  );
}

/** What happens over some bars: nothing is open, one position is held (maybe told of in pieces), or a bar by itself. */
const stretch = fc.record({
  kind: fc.constantFrom("flat", "held", "at"),
  length: fc.integer({ min: 1, max: 60 }),
  pieces: fc.integer({ min: 1, max: 4 }),
  base: fc.integer({ min: 500, max: 1500 }),
  perPrice: fc.integer({ min: -3, max: 3 }),
});

test("sums, and drawdowns by stretches, equal what is worked out from a whole column, however bars come in", () => {
  const closes = fc.array(fc.integer({ min: 50, max: 150 }), { minLength: 1, maxLength: 300 });
  fc.assert(
    fc.property(closes, fc.array(stretch, { minLength: 1, maxLength: 40 }), (prices, stretches) => {
      const bars = seriesOf(prices);
      const column = new EquityColumn(new Float64Array(bars.length), bars.close);
      let next = 0;
      for (let k = 0; next < bars.length; k++) {
        const { kind, length, pieces, base, perPrice } = stretches[k % stretches.length]!;
        const end = Math.min(bars.length, next + (kind === "at" ? 1 : length));
        if (kind === "flat") column.flat(base, next, end);
        else if (kind === "at") column.at(next, base);
        else
          for (let piece = 0; piece < pieces; piece++)
            column.held(
              base,
              perPrice,
              next + Math.floor(((end - next) * piece) / pieces),
              next + Math.floor(((end - next) * (piece + 1)) / pieces),
            );
        next = end;
      }
      // As in a run that was stopped, too.
      for (const n of [bars.length, Math.ceil(bars.length / 2)]) {
        const [equity, part] = [column.values.subarray(0, n), sliceSeries(bars, 0, n)];
        expect(drawdownsIn(column.stretches, equity, CAPITAL, part)).toEqual(drawdowns(equity, CAPITAL, part.closeTime, part.time[0]!));
      }
      const falls = deepestFallsIn(column.stretches, CAPITAL, bars);
      expect(falls.money).toBe(deepestFall(column.values, CAPITAL));
      expect(falls.share).toBeCloseTo(drawdowns(column.values, CAPITAL, bars.closeTime, bars.time[0]!).relative.size, 12);
      expect(dailyIn(column.stretches, CAPITAL, bars)).toEqual(dailyEquity(bars, column.values, CAPITAL));
    }),
  );
});
