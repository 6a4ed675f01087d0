import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { SWEEP_FIGURES, type SweepFigure } from "../run/variant.ts";
import { type Aim, bestOf, scoresOf } from "./aim.ts";
import { expectedImprovement } from "./model-based.ts";
import { ranksOf } from "./ranks.ts";
import { nextPoints, SEARCH_METHODS, type Search } from "./search.ts";
import { placesOf, pointAt, pointsIn, type SearchSpace } from "./space.ts";
import { normalScores, Surrogate } from "./surrogate.ts";

const spaceOf = (sizes: readonly number[], admits = (_point: number): boolean => true, ordered = sizes.map(() => true)): SearchSpace => ({
  sizes,
  ordered,
  admits,
});

/** Searches to the end. */
function searched(space: SearchSpace, search: Search, score: (point: number) => number) {
  const points: number[] = [];
  const scores: number[] = [];
  for (let round = 0; round < 10_000; round++) {
    const next = nextPoints(space, search, { points: points.slice(), scores: scores.slice() });
    if (next.length === 0) return { points, scores };
    for (const point of next) {
      points.push(point);
      scores.push(score(point));
    }
  }
  throw new Error("the search does not end");
}

/** A broad hill with ripples on it, highest at one place. */
const hill =
  (sizes: readonly number[], top: readonly number[]) =>
  (point: number): number =>
    placesOf(point, sizes).reduce((sum, place, a) => {
      const away = (place - top[a]!) / sizes[a]!;
      return sum - away * away + 0.004 * Math.cos(place * 1.7);
    }, 0);

describe("points of a lattice", () => {
  test("a point and its places stand for each other, the last axis moving fastest", () => {
    const sizes = [3, 4, 5];
    expect(placesOf(0, sizes)).toEqual([0, 0, 0]);
    expect(placesOf(1, sizes)).toEqual([0, 0, 1]);
    expect(placesOf(59, sizes)).toEqual([2, 3, 4]);
    for (let point = 0; point < pointsIn(sizes); point++) expect(pointAt(placesOf(point, sizes), sizes)).toBe(point);
  });
});

describe.each(SEARCH_METHODS)("a search by %s", (method) => {
  const sizes = [30, 30, 12];
  const top = [22, 7, 9];
  const score = hill(sizes, top);

  test("tries no point twice, none that is not admitted, and no more than it may", () => {
    const admits = (point: number): boolean => placesOf(point, sizes)[0]! >= placesOf(point, sizes)[1]!;
    for (const count of [1, 40, method === "model" ? 100 : 300]) {
      const { points } = searched(spaceOf(sizes, admits), { method, count, seed: 3 }, score);
      expect(new Set(points).size).toBe(points.length);
      expect(points.length).toBeLessThanOrEqual(count);
      expect(points.length).toBeGreaterThan(0);
      expect(points.every(admits)).toBe(true);
    }
  });

  test("is the same for the same seed, and another for another", () => {
    const by = (seed: number): number[] => searched(spaceOf(sizes), { method, count: 90, seed }, score).points;
    expect(by(5)).toEqual(by(5));
    if (method !== "coarse to fine") expect(by(6)).not.toEqual(by(5));
  });

  test("left after any round and taken up again it goes the same way", () => {
    const search = { method, count: 90, seed: 2 };
    const space = spaceOf(sizes);
    const whole = searched(space, search, score);
    // What is known after the first round is enough to ask for the second.
    const first = nextPoints(space, search, { points: [], scores: [] });
    expect(whole.points.slice(0, first.length)).toEqual(first);
    const second = nextPoints(space, search, { points: first, scores: first.map(score) });
    expect(whole.points.slice(first.length, first.length + second.length)).toEqual(second);
  });

  test("goes on where some settings have no score", () => {
    const patchy = (point: number): number => (point % 3 === 0 ? Number.NaN : score(point));
    const { points } = searched(spaceOf(sizes), { method, count: 120, seed: 1 }, patchy);
    expect(points.length).toBe(120);
  });

  test("ends when nothing counts at all", () => {
    const { points } = searched(spaceOf([6, 5]), { method, count: 25, seed: 1 }, () => Number.NaN);
    expect(points.length).toBeGreaterThan(0);
    expect(points.length).toBeLessThanOrEqual(25);
  });

  test("a small lattice is used up and then it ends", () => {
    const { points } = searched(spaceOf([4, 3]), { method, count: 12, seed: 1 }, hill([4, 3], [1, 1]));
    expect([...points].sort((a, b) => a - b)).toEqual(Array.from({ length: 12 }, (_none, point) => point));
  });
});

describe("what searches find", () => {
  const sizes = [40, 40, 40];
  const score = hill(sizes, [31, 6, 22]);
  const best = Math.max(...Array.from({ length: pointsIn(sizes) }, (_none, point) => score(point)));
  const shortfall = (method: Search["method"], count: number, seed: number): number =>
    best - Math.max(...searched(spaceOf(sizes), { method, count, seed }, score).scores);
  const middle = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
  const seeds = [1, 2, 3, 4, 5];

  test.each([
    ["coarse to fine", 400],
    ["evolution", 400],
    ["model", 120],
  ] as const)("%s comes closer to the top of a hill than as many points spread evenly", (method, count) => {
    const found = middle(seeds.map((seed) => shortfall(method, count, seed)));
    const spread = middle(seeds.map((seed) => shortfall("spread", count, seed)));
    expect(found).toBeLessThan(spread / 2);
  });

  test("names without order are searched too: the best of twelve instruments and its setting", () => {
    const space = spaceOf([12, 50], undefined, [false, true]);
    const at = (point: number): number => {
      const [name, place] = placesOf(point, space.sizes) as [number, number];
      return (name === 7 ? 1 : 0.4) - Math.abs(place - 33) / 50;
    };
    for (const method of ["evolution", "model", "coarse to fine"] as const) {
      const { points, scores } = searched(space, { method, count: 200, seed: 1 }, at);
      expect(placesOf(points[scores.indexOf(Math.max(...scores))]!, space.sizes)[0]).toBe(7);
    }
  });
});

describe("the surrogate", () => {
  const axes = [{ size: 11, ordered: true }];

  test("of one observation has the closed form of a Gaussian process", () => {
    const model = Surrogate.fit(axes, [[5]], [2]);
    // With one observation every length scale is as likely; the first, 0.3, stays. 0.98 is what is not noise.
    const k = 0.98 * Math.exp(-0.5 * (0.2 / 0.3) ** 2);
    const guess = model.guess([7]);
    expect(guess.mean).toBeCloseTo(k * 2, 12);
    expect(Surrogate.deviationOf(guess)).toBeCloseTo(Math.sqrt(0.98 - k * k), 12);
    expect(model.likelihood).toBeCloseTo(-0.5 * (4 + Math.log(2 * Math.PI)), 12);
  });

  test("of two observations solves the two equations", () => {
    const model = Surrogate.fit(axes, [[2], [8]], [1, -1]);
    const { mean, row } = model.guess([4]);
    // Whatever scale was chosen: k(a,b) can be read off the factor, [1, 0; c, sqrt(1 - c²)].
    const at = model.guess([2]);
    expect(at.row[0]).toBeCloseTo(0.98, 12);
    const c = model.guess([8]).row[0]!;
    const [ka, kb] = [row[0]!, row[1]! * Math.sqrt(1 - c * c) + c * row[0]!];
    const weights = [(1 + c) / (1 - c * c), (-1 - c) / (1 - c * c)];
    expect(mean).toBeCloseTo(ka * weights[0]! + kb * weights[1]!, 10);
  });

  test("learns a smooth curve: near what it knows, and unsure where it knows nothing", () => {
    const places = [0, 2, 4, 6].map((place) => [place]);
    const model = Surrogate.fit(
      axes,
      places,
      places.map(([place]) => Math.sin(place! / 2)),
    );
    expect(Math.abs(model.guess([3]).mean - Math.sin(1.5))).toBeLessThan(0.1);
    expect(Surrogate.deviationOf(model.guess([10]))).toBeGreaterThan(2 * Surrogate.deviationOf(model.guess([3])));
  });

  test("a guess brought up to date equals a new one", () => {
    const model = Surrogate.fit(axes, [[1], [9]], [0.5, -0.5]);
    const guess = model.guess([5]);
    model.add([6], 1.5);
    model.renew(guess);
    expect(guess).toEqual(model.guess([5]));
  });

  test("scores are the normal scores of ranks, equal ones alike", () => {
    const [a, b, c] = normalScores(Float64Array.of(10, 300, 20));
    // The quantile at (3 - 3/8) / (3 + 1/4).
    expect(b).toBeCloseTo(0.8694, 3);
    expect(a).toBeCloseTo(-b!, 10);
    expect(c).toBeCloseTo(0, 10);
    expect([...normalScores(Float64Array.of(4, 4, 4))].every((score) => Math.abs(score) < 1e-12)).toBe(true);
  });

  test("expected improvement: what is sure to be worse gives none, an even chance gives 0.399 of the spread", () => {
    expect(expectedImprovement(1, 0, 2)).toBe(0);
    expect(expectedImprovement(3, 0, 2)).toBe(1);
    expect(expectedImprovement(2, 0.5, 2)).toBeCloseTo(0.5 / Math.sqrt(2 * Math.PI), 12);
  });
});

describe("an aim", () => {
  const width = SWEEP_FIGURES.length;
  const space = { sizes: [5], ordered: [true] };
  const figuresOf = (columns: Partial<Record<SweepFigure, readonly number[]>>): Float64Array => {
    const figures = new Float64Array(5 * width);
    for (const [name, values] of Object.entries(columns))
      values.forEach((value, row) => {
        figures[row * width + SWEEP_FIGURES.indexOf(name as SweepFigure)] = value;
      });
    return figures;
  };
  const scores = (aim: Partial<Aim> & Pick<Aim, "terms">, columns: Parameters<typeof figuresOf>[0]): number[] => [
    ...scoresOf(
      { robust: false, conditions: [], ...aim },
      { figures: figuresOf(columns), rowWidth: width, points: [0, 1, 2, 3, 4], space },
    ),
  ];
  const one = (figure: SweepFigure) => [{ figure, weight: 1 }];

  test("of one figure is the figure, turned round where less is better", () => {
    expect(scores({ terms: one("sharpe") }, { sharpe: [1, 2, Number.NaN, 0, -1] })).toEqual([1, 2, Number.NaN, 0, -1]);
    expect(scores({ terms: one("maxDrawdown") }, { maxDrawdown: [5, 1, 2, 3, 4] })).toEqual([-5, -1, -2, -3, -4]);
  });

  test("of two figures is the weighted mean of their ranks, whatever their units", () => {
    const terms = [
      { figure: "netProfit", weight: 3 },
      { figure: "maxDrawdown", weight: 1 },
    ] as const;
    const found = scores({ terms }, { netProfit: [0, 1e6, 10, 20, 30], maxDrawdown: [1, 5, 4, 3, 2] });
    expect(found).toEqual([0.25, 0.75, 0.25, 0.5, 0.75]);
  });

  test("robust counts the middle of a setting and its neighbours", () => {
    expect(scores({ terms: one("sharpe"), robust: true }, { sharpe: [1, 9, 1, 2, 3] })).toEqual([5, 1, 2, 2, 2.5]);
  });

  test("robust knows no neighbours among names", () => {
    // Two instruments by two settings; one more is not tried.
    const figures = figuresOf({ sharpe: [1, 3, 100, 300] });
    const tried = { figures, rowWidth: width, points: [0, 1, 2, 3] };
    const aim: Aim = { terms: one("sharpe"), robust: true, conditions: [] };
    expect([...scoresOf(aim, { ...tried, space: { sizes: [2, 2], ordered: [false, true] } })]).toEqual([2, 2, 200, 200]);
    expect([...scoresOf(aim, { ...tried, space: { sizes: [2, 2], ordered: [true, true] } })]).toEqual([51.5, 51.5, 51.5, 51.5]);
  });

  test("what does not meet a condition does not count, but still is a neighbour", () => {
    const conditions = [
      { figure: "trades", is: "at least", value: 30 },
      { figure: "maxDrawdown", is: "at most", value: 100 },
    ] as const;
    const columns = { sharpe: [1, 9, 1, 2, 3], trades: [40, 20, 30, 50, 60], maxDrawdown: [50, 50, 50, 200, 100] };
    expect(scores({ terms: one("sharpe"), conditions }, columns)).toEqual([1, Number.NaN, 1, Number.NaN, 3]);
    expect(scores({ terms: one("sharpe"), robust: true, conditions }, columns)).toEqual([5, Number.NaN, 2, Number.NaN, 2.5]);
  });

  test("the best is the first of the highest; nothing is best where nothing counts", () => {
    expect(bestOf(Float64Array.of(Number.NaN, 1, 3, 3))).toBe(2);
    expect(bestOf(Float64Array.of(Number.NaN, Number.NaN))).toBe(-1);
  });

  test("ranks run from 0 to 1 and stay when values are stretched", () => {
    const random = new Random(7);
    const values = Float64Array.from({ length: 60 }, () => Math.floor(random.next() * 20));
    const ranks = ranksOf(values);
    expect(Math.min(...ranks)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...ranks)).toBeLessThanOrEqual(1);
    expect(ranksOf(values.map((value) => Math.exp(value)))).toEqual(ranks);
    values.forEach((a, i) => {
      for (const [k, b] of values.entries()) if (a < b) expect(ranks[i]!).toBeLessThan(ranks[k]!);
    });
  });
});
