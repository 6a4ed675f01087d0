/** What the outcomes come to, as tables and sentences of docs/trust-study.md. */
import { MOST_P, mean, overfittingLimit, POWER_RATIOS, powerAt, quantile } from "@plan-tester/core";
import { FIGURES, type Figure, LENGTHS, MARKETS, type Outcome } from "./case.ts";
import { SEARCHES } from "./searches.ts";
import { KINDS } from "./worlds.ts";

const two = (value: number): string => value.toFixed(2).replace("-", "−");
const inHundred = (value: number): string => `${(100 * value).toFixed(0)} %`;
const share = (found: readonly boolean[]): number => found.filter(Boolean).length / Math.max(1, found.length);
const middle = (values: readonly number[]): number =>
  quantile(
    [...values].sort((a, b) => a - b),
    0.5,
  ) ?? Number.NaN;

/** Wilson's interval of a share at 95 % (Wilson 1927). */
export function wilson(hits: number, of: number): readonly [number, number] {
  const z = 1.959964;
  const p = hits / of;
  const centre = (p + (z * z) / (2 * of)) / (1 + (z * z) / of);
  const half = (z * Math.sqrt((p * (1 - p)) / of + (z * z) / (4 * of * of))) / (1 + (z * z) / of);
  return [Math.max(0, centre - half), Math.min(1, centre + half)];
}

const withInterval = (found: readonly boolean[]): string => {
  const hits = found.filter(Boolean).length;
  const [low, high] = wilson(hits, found.length);
  return `${inHundred(hits / found.length)} (${inHundred(low)} to ${inHundred(high)})`;
};

/** How likely a world with an edge scores higher than one without: ties count half (Mann & Whitney 1947). */
export function areaUnderCurve(edges: readonly number[], nulls: readonly number[]): number {
  let sum = 0;
  for (const edge of edges) for (const none of nulls) sum += edge > none ? 1 : edge === none ? 0.5 : 0;
  return sum / (edges.length * nulls.length);
}

const NAMES: Readonly<Record<Figure, string>> = {
  alone: "Sharpe ratio alone (95 %)",
  deflated: "deflated, spread found",
  deflatedByChance: "deflated, independent settings, spread of chance",
  ability: "all settings at once (superior ability)",
  overfitting: "probability of overfitting < 10 %, 5 % at three years",
  notSeen: "days not seen",
  luck: "luck test, counted",
  luckSmooth: "luck test, smoothed",
};

/** Scores are 1 less the chance: what is counted stands exactly at its limit, so the rounding of 1 - p must not decide. */
const believes = (figure: Figure, { scores, years }: Outcome): boolean => {
  const chance = 1 - scores[figure];
  return figure === "overfitting" ? chance < overfittingLimit(years) : chance <= MOST_P + 1e-12;
};

/** The setting that does best over all years searched of a kind of world, and its mean ratio in the years after: nothing chosen on them. */
export function trueRatio(own: readonly Outcome[]): number {
  const settings = own[0]!.ratios.length;
  const sums = new Float64Array(settings);
  for (const { ratios } of own) for (let s = 0; s < settings; s++) sums[s]! += ratios[s]!;
  const best = sums.indexOf(sums.reduce((most, sum) => Math.max(most, sum), Number.NEGATIVE_INFINITY));
  return mean(own.map(({ nextRatios }) => nextRatios[best]!))!;
}

const row = (...cells: readonly (string | number)[]): string => `| ${cells.join(" | ")} |`;
const table = (heads: readonly string[], rows: readonly string[]): string =>
  [row(...heads), row(...heads.map(() => "---")), ...rows].join("\n");

const isFor = ({ verdict }: Outcome): boolean => verdict === "for";
const gains = ({ nextNet }: Outcome): boolean => nextNet > 0;

/** Searches where there is nothing to find, and such where there is something all the time. */
const apart = (outcomes: readonly Outcome[]) => ({
  nulls: outcomes.filter(({ kind }) => kind.isNull),
  edges: outcomes.filter(({ kind }) => !kind.isNull && kind.symbol !== "TIDE"),
});

export function figuresTable(outcomes: readonly Outcome[]): string {
  const { nulls, edges } = apart(outcomes);
  const rows = FIGURES.map((figure) => {
    const of = (some: readonly Outcome[]): number[] => some.map(({ scores }) => scores[figure]);
    return row(
      NAMES[figure],
      withInterval(nulls.map((one) => believes(figure, one))),
      ...LENGTHS.map((years) => inHundred(share(edges.filter((one) => one.years === years).map((one) => believes(figure, one))))),
      two(areaUnderCurve(of(edges), of(nulls))),
    );
  });
  const verdictRow = row(
    "**verdict: for**",
    withInterval(nulls.map(isFor)),
    ...LENGTHS.map((years) => inHundred(share(edges.filter((one) => one.years === years).map(isFor)))),
    "",
  );
  return table(
    [
      `figure believes`,
      `without an edge (${nulls.length}), 95 % interval`,
      ...LENGTHS.map((years) => `with one, ${years === 1 ? "1 year" : `${years} years`}`),
      "area under the curve",
    ],
    [...rows, verdictRow],
  );
}

export function calibrationTable(outcomes: readonly Outcome[]): string {
  const nulls = outcomes.filter(({ kind }) => kind.isNull);
  const figures = ["ability", "notSeen", "luck", "luckSmooth"] as const;
  const line = (label: string, own: readonly Outcome[]): string =>
    row(label, own.length, ...figures.map((figure) => withInterval(own.map((one) => believes(figure, one)))), withInterval(own.map(isFor)));
  return table(
    ["without an edge", "searches", ...figures.map((figure) => `${NAMES[figure]}: p ≤ 5 %`), "verdict: for"],
    [
      ...KINDS.filter(({ isNull }) => isNull).map(({ name, what }) =>
        line(
          `${name} (${what})`,
          nulls.filter(({ kind }) => kind.name === name),
        ),
      ),
      ...SEARCHES.map(({ name }) =>
        line(
          name,
          nulls.filter(({ search }) => search.name === name),
        ),
      ),
      ...LENGTHS.map((years) =>
        line(
          years === 1 ? "1 year" : `${years} years`,
          nulls.filter((one) => one.years === years),
        ),
      ),
      line("all", nulls),
    ],
  );
}

interface Powered {
  readonly name: string;
  readonly what: string;
  readonly search: string;
  readonly ratio: number;
  readonly own: readonly Outcome[];
}

const poweredOf = (outcomes: readonly Outcome[]): Powered[] =>
  KINDS.flatMap(({ name, what }) =>
    SEARCHES.map((search) => {
      const own = outcomes.filter((one) => one.kind.name === name && one.search.name === search.name);
      return { name, what, search: search.name, ratio: trueRatio(own), own };
    }),
  ).sort((a, b) => a.ratio - b.ratio);

export function powerTable(outcomes: readonly Outcome[]): string {
  const rows = poweredOf(outcomes).map(({ name, search, ratio, own }) => {
    const counts = LENGTHS.map((years) => {
      const some = own.filter((one) => one.years === years);
      return `${some.filter(isFor).length} of ${some.length}`;
    });
    return row(
      name,
      search,
      two(ratio),
      ...counts,
      two(mean(own.map(({ best }) => best))!),
      two(mean(own.map(({ expected }) => expected))!),
      two(mean(own.map(({ next }) => next))!),
    );
  });
  return table(
    [
      "world",
      "search",
      "true ratio",
      "“for” after 1 year",
      "2 years",
      "3 years",
      "best ratio shown, mean",
      "ratio to expect, mean",
      "the year after, mean",
    ],
    rows,
  );
}

/** Worlds whose true ratio lies nearest to each of those that the app speaks of. */
export function nearTable(outcomes: readonly Outcome[]): string {
  const powered = poweredOf(outcomes);
  const nearest = (ratio: number): number =>
    POWER_RATIOS.reduce<number>((best, one) => (Math.abs(one - ratio) < Math.abs(best - ratio) ? one : best), POWER_RATIOS[0]);
  const rows = LENGTHS.map((years) =>
    row(
      years === 1 ? "1 year" : `${years} years`,
      ...POWER_RATIOS.map((ratio) => {
        const own = powered
          .filter((one) => nearest(one.ratio) === ratio)
          .flatMap((one) => one.own.filter((outcome) => outcome.years === years));
        const here = own.length === 0 ? "none" : `${two(share(own.map(isFor)))} of ${own.length}`;
        return `${here} (app: ${two(powerAt(years, ratio))})`;
      }),
    ),
  );
  return table(["“for” at a true ratio near", ...POWER_RATIOS.map(String)], rows);
}

export function nextYearTable(outcomes: readonly Outcome[]): string {
  const rows = (["for", "open", "against"] as const).map((verdict) => {
    const own = outcomes.filter((one) => one.verdict === verdict);
    return row(
      verdict,
      own.length,
      `${own.filter(gains).length}`,
      own.length > 0 ? withInterval(own.map(gains)) : "",
      two(middle(own.map(({ next }) => next))),
    );
  });
  return table(["verdict", "searches", "gained in the year after", "share, 95 % interval", "ratio of the year after, median"], rows);
}

export interface Goal {
  readonly what: string;
  readonly wanted: string;
  readonly found: string;
  readonly isMet: boolean;
}

export function goalsOf(outcomes: readonly Outcome[]): Goal[] {
  const nulls = outcomes.filter(({ kind }) => kind.isNull);
  const believed = outcomes.filter(isFor);
  const strong = poweredOf(outcomes).filter(({ ratio }) => ratio >= 1.75);
  const after = (years: number): boolean[] => strong.flatMap(({ own }) => own.filter((one) => one.years === years).map(isFor));
  const goal = (what: string, wanted: string, found: readonly boolean[], isMet: (found: number) => boolean): Goal => ({
    ...{ what, wanted, found: `${withInterval(found)}, ${found.length} searches`, isMet: isMet(share(found)) },
  });
  return [
    goal("false belief: “for” where there is no edge", "7 % or less", nulls.map(isFor), (found) => found <= 0.07),
    goal("“for” gains in the year after", "80 % or more", believed.map(gains), (found) => found >= 0.8),
    goal("“for” at a true ratio of about 2 (1.75 and more) after two years", "60 % or more", after(2), (found) => found >= 0.6),
    goal("the same after three years", "80 % or more", after(3), (found) => found >= 0.8),
  ];
}

export const goalsTable = (outcomes: readonly Outcome[]): string =>
  table(
    ["goal", "wanted", "found", ""],
    goalsOf(outcomes).map(({ what, wanted, found, isMet }) => row(what, wanted, found, isMet ? "met" : "**missed**")),
  );

/** What the second family of plans, and moves that are not symmetric, change of what the first ones said. */
export function changesSentence(outcomes: readonly Outcome[]): string {
  const { nulls, edges } = apart(outcomes);
  const families = SEARCHES.map(({ name }) => {
    const of = (some: readonly Outcome[]): Outcome[] => some.filter(({ search }) => search.name === name);
    const power = LENGTHS.map((years) =>
      inHundred(
        share(
          of(edges)
            .filter((one) => one.years === years)
            .map(isFor),
        ),
      ),
    ).join(", ");
    return `the ${name} is believed in ${inHundred(share(of(nulls).map(isFor)))} of the worlds without an edge, and in ${power} of those with one after one, two and three years`;
  });
  const [tails, others] = [true, false].map((isTails) => nulls.filter(({ kind }) => (kind.name === "falls") === isTails));
  const beside = (of: (one: Outcome) => boolean): string =>
    `${inHundred(share(tails!.map(of)))} (${inHundred(share(others!.map(of)))} without them)`;
  return `By family: ${families.join("; ")}. Fat left tails, where there is nothing to find: the luck test believes in ${beside((one) => believes("luck", one))}, days not seen in ${beside((one) => believes("notSeen", one))}, the verdict in ${beside(isFor)}.`;
}

/** By how much the ratio shown, and the ratio to expect, lie above what the year after brings. */
export function biasSentence(outcomes: readonly Outcome[]): string {
  const parts = LENGTHS.map((years) => {
    const own = outcomes.filter((one) => one.years === years);
    const above = (of: (one: Outcome) => number): string => two(mean(own.map((one) => of(one) - one.next))!);
    return `${years === 1 ? "one year" : `${years} years`}: the best as shown ${above(({ best }) => best)}, the ratio to expect ${above(({ expected }) => expected)}`;
  });
  return `Above the ratio of the year after, on average over all worlds, after ${parts.join("; after ")}. The ratio to expect is the best less the mean of what ${MARKETS} markets without memory gave.`;
}
