import fc from "fast-check";
import { expect, test } from "vitest";
import { differencesBetween, type SizedTrade } from "./differences.ts";

const trade = (entryTime: number, net: number, part: Partial<SizedTrade> = {}): SizedTrade => ({
  ...{ symbol: "ONE", side: 1, entryTime, exitTime: entryTime + 5, net, quantity: 1 },
  ...part,
});
const twice = ({ net, quantity, ...rest }: SizedTrade): SizedTrade => ({ ...rest, net: 2 * net, quantity: 2 * quantity });
const own = [trade(1, 10), trade(2, -4), trade(3, 7)];

test.each([
  ["the same at twice the size", own.map(twice), {}],
  ["one that was refused", own.slice(1).map(twice), { missing: { trades: 1, money: -20 } }],
  ["one that the other does not have", [...own.map(twice), trade(9, 3)], { further: { trades: 1, money: 3 } }],
  ["one that was smaller", [trade(1, 10), ...own.slice(1).map(twice)], { sized: { trades: 1, money: -10 } }],
  ["one that ended otherwise", [trade(1, 1, { quantity: 2 }), ...own.slice(1).map(twice)], { other: { trades: 1, money: -19 } }],
  [
    "of another side",
    [trade(1, 20, { side: -1, quantity: 2 }), ...own.slice(1).map(twice)],
    { missing: { trades: 1, money: -20 }, further: { trades: 1, money: 20 } },
  ],
])("%s", (_what, shared, wanted) => {
  expect(differencesBetween(own, 2, shared)).toMatchObject(wanted);
});

test("the money of all differences is that between the results", () => {
  const trades = fc.array(
    fc.record({ entryTime: fc.nat({ max: 6 }), net: fc.integer({ min: -50, max: 50 }), quantity: fc.integer({ min: 1, max: 3 }) }),
    { maxLength: 12 },
  );
  fc.assert(
    fc.property(trades, trades, fc.integer({ min: 1, max: 3 }), (a, b, factor) => {
      const [mine, shared] = [a, b].map((list) => list.map(({ entryTime, net, quantity }) => trade(entryTime, net, { quantity })));
      const sum = (list: readonly SizedTrade[]): number => list.reduce((total, { net }) => total + net, 0);
      expect(differencesBetween(mine!, factor, shared!).money).toBe(sum(shared!) - factor * sum(mine!));
    }),
  );
});
