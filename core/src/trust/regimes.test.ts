/** Thirds of the market's state: labels that know nothing of their own day, the test of what differs, and its refusals. */
import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { type RegimeQuestion, regimesOf } from "./regimes.ts";

const DAYS = 600;

/** A market whose volatility comes in spells, and a plan that earns by chance. */
function world(seed: number, earns: (day: number, wild: boolean) => number = () => 0): RegimeQuestion & { readonly wild: boolean[] } {
  const random = new Random(seed);
  const closes = new Float64Array(DAYS);
  const wild: boolean[] = [];
  let [price, isWild] = [100, false];
  for (let day = 0; day < DAYS; day++) {
    if (random.next() < 0.02) isWild = !isWild;
    wild.push(isWild);
    price *= Math.exp((isWild ? 0.02 : 0.005) * random.normal());
    closes[day] = price;
  }
  const returns = Float64Array.from({ length: DAYS }, (_none, day) => 0.01 * random.normal() + earns(day, wild[day]!));
  const trades = Array.from({ length: DAYS / 4 }, (_none, k) => ({ day: 4 * k, net: 10 * random.normal() }));
  return { closes, returns, trades, sessionsPerYear: 252, wild };
}

describe("labels", () => {
  test("are thirds of the days that have twenty days ahead of them, from the first trade on", () => {
    const { labels, parts } = regimesOf(world(1), "volatility");
    expect([...labels.subarray(0, 21)].every((label) => label === 255)).toBe(true);
    expect([...labels.subarray(21)].every((label) => label < 3)).toBe(true);
    expect(parts.map(({ days }) => days)).toEqual([193, 193, 193]);
    expect(parts.map(({ name }) => name)).toEqual(["calm", "middling", "wild"]);
    const late = world(1);
    const { labels: from } = regimesOf({ ...late, trades: late.trades.filter(({ day }) => day >= 100) }, "trend");
    expect(from.indexOf(from.find((label) => label < 3)!)).toBe(100);
  });

  test("a day's label does not change with what happens on it or after it, but for where the thirds are cut", () => {
    const question = world(2);
    const closes = Float64Array.from(question.closes);
    const before = regimesOf(question, "volatility").labels;
    closes[DAYS - 1] = 1000;
    expect(regimesOf({ ...question, closes }, "volatility").labels).toEqual(before);
  });

  test("find the spells that are there", () => {
    const question = world(3);
    const { labels } = regimesOf(question, "volatility");
    const share = (label: number): number => {
      const days = [...labels.keys()].filter((day) => labels[day] === label);
      return days.filter((day) => question.wild[day]).length / days.length;
    };
    expect(share(2)).toBeGreaterThan(share(0) + 0.4);
  });
});

describe("the test", () => {
  test("finds a plan that earns in wild markets alone", () => {
    expect(
      regimesOf(
        world(4, (_day, wild) => (wild ? 0.008 : -0.002)),
        "volatility",
      ).p,
    ).toBeLessThan(0.05);
  });

  test("calls noise what is noise, about as often as it says", () => {
    let found = 0;
    for (let seed = 1; seed <= 200; seed++) if (regimesOf(world(seed), "volatility").p! <= 0.05) found++;
    // 10 are expected of 200; 99 % of a binomial lie between 3 and 19.
    expect(found).toBeGreaterThanOrEqual(2);
    expect(found).toBeLessThanOrEqual(19);
  }, 60_000);

  test("sums of the thirds are those of all their trades", () => {
    const question = world(5);
    const { parts, labels } = regimesOf(question, "trend");
    const labelled = question.trades.filter(({ day }) => labels[day]! < 3);
    expect(parts.reduce((sum, { net }) => sum + net, 0)).toBeCloseTo(
      labelled.reduce((sum, { net }) => sum + net, 0),
      9,
    );
    expect(parts.reduce((sum, { trades }) => sum + trades, 0)).toBe(labelled.length);
  });

  test("is refused in words where a third is too small", () => {
    const question = world(6);
    const { p, problem } = regimesOf({ ...question, trades: question.trades.slice(0, 20) }, "volatility");
    expect(p).toBeNull();
    expect(problem).toMatch(/A third has \d+ days and \d trades; 40 days and 10 trades are needed/);
    expect(regimesOf({ ...question, trades: [] }, "trend").problem).toContain("0 days and 0 trades");
  });
});
