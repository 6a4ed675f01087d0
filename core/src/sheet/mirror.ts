/**
 * A long rule turned into the short one: above and below, rising and falling, highest and lowest, upper and lower change
 * places; a threshold of an oscillator is turned about its middle (30 becomes 70 for one from 0 to 100); what has no side,
 * such as a range, a volume or a time, stays.
 */
import { studyNamed } from "../studies/catalogue.ts";
import { type SheetGroup, type SheetRow, type SheetRule, type SheetTest, type SheetValue, TURNED_RELATIONS } from "./sheet.ts";

/**
 * How a value turns. "price": upside down, with no number to turn it about. A number: about that sum, so that x becomes
 * sum - x. "still": it has no side.
 */
type Turn = "price" | "still" | number;

/** What stands for `about - number`. */
export type TurnNumber<N> = (number: N, about: number) => N;

const PARTNERS: Readonly<Record<string, string>> = (() => {
  const pairs = [
    ["highest", "lowest"],
    ["highestOver", "lowestOver"],
    ["sessionHigh", "sessionLow"],
    ["swingHigh", "swingLow"],
    ["barsSinceHighest", "barsSinceLowest"],
  ] as const;
  return Object.fromEntries(
    pairs.flatMap(([a, b]) => [
      [a, b],
      [b, a],
    ]),
  );
})();

const OUTPUT_PARTNERS: Readonly<Record<string, string>> = (() => {
  const pairs = [
    ["upper", "lower"],
    ["high", "low"],
    ["up", "down"],
    ["plus", "minus"],
    ["r1", "s1"],
    ["r2", "s2"],
    ["r3", "s3"],
  ] as const;
  return Object.fromEntries(
    pairs.flatMap(([a, b]) => [
      [a, b],
      [b, a],
    ]),
  );
})();

/** Studies about a middle of their own, whatever they are taken of, as the sum of what mirrors each other. */
const ABOUT: Readonly<Record<string, number>> = {
  rsi: 100,
  stochastic: 100,
  placeInRange: 100,
  percentRank: 100,
  moneyFlow: 100,
  cci: 0,
  momentum: 0,
  rateOfChange: 0,
  macd: 0,
  trix: 0,
  reading: 0,
  zScore: 0,
  volumePressure: 0,
  barBody: 0,
  percentRange: -100,
  riseFall: 0,
  trueStrength: 0,
  midMomentum: 0,
  threeSpan: 100,
  fisher: 0,
  detrended: 0,
  skewness: 0,
};

/** Studies and outputs that have no side, whatever they are taken of. */
const STILL: ReadonlySet<string> = new Set([
  "trueRange",
  "atr",
  "averageRange",
  "volumeRatio",
  "standardDeviation",
  "historicalVolatility",
  "efficiency",
  "barsSinceOpen",
  "minuteOfDay",
  "minutesToClose",
  "weekday",
  "barRange",
  "directional.adx",
  "directional.plus",
  "directional.minus",
  "aroon.up",
  "aroon.down",
  "regression.fit",
  "previousSession.range",
  "barsSinceHighest",
  "barsSinceLowest",
  "vortex",
  "choppiness",
  "parkinsonVolatility",
  "garmanKlassVolatility",
  "rogersSatchellVolatility",
  "yangZhangVolatility",
  "kurtosis",
  "autocorrelation",
  "halfLife",
]);

/** Whose value is a price, whatever is given beside the bars. */
const PRICES: ReadonlySet<string> = new Set(["anchoredVwap"]);

/** Outputs about a middle where the study is not. */
const OUTPUT_ABOUT: Readonly<Record<string, number>> = {
  "aroon.gap": 0,
  "regression.slope": 0,
  "stopLine.direction": 0,
  "parabolic.direction": 0,
  "zigzag.direction": 0,
};

function turnOfStudy<N>({ study, output, sources }: Extract<SheetValue<N>, { kind: "study" }>): Turn {
  const name = `${study}.${output}`;
  if (STILL.has(study) || STILL.has(name)) return "still";
  if (PRICES.has(study)) return "price";
  if (study === "correlation" || study === "beta" || name === "cointegration.beta") {
    const sided = sources.filter((source) => turnOf(source) !== "still").length;
    return sided === 1 ? 0 : "still";
  }
  const source = sources[0] ? turnOf(sources[0]) : "price";
  if (source === "still") return "still";
  // What is left of a column turns with it.
  if (study === "cointegration") return 0;
  return OUTPUT_ABOUT[name] ?? ABOUT[study] ?? source;
}

function turnOfMath<N>({ by, left, right }: Extract<SheetValue<N>, { kind: "math" }>): Turn {
  const [a, b] = [turnOf(left), turnOf(right)];
  if (a === "still") return b === "still" ? "still" : by === "plus" || (by === "times" && b === 0) ? b : "price";
  if (b === "still") return by === "times" || by === "over" ? (a === 0 ? 0 : a === "price" ? "price" : "still") : a;
  if (by === "minus") return typeof a === "number" && typeof b === "number" ? a - b : 0;
  // Case: a ratio of two levels turns about 1, to first order: 2 % above becomes 2 % below.
  if (by === "over") return 2;
  return typeof a === "number" && typeof b === "number" ? a + b : "price";
}

/** As the one of both that turns; a number turns with what it stands beside. */
function turnOfTwo<N>({ left, right }: Extract<SheetValue<N>, { kind: "of two" }>): Turn {
  const turn = turnOf(left);
  return turn === "still" ? turnOf(right) : turn;
}

/** How a value turns. */
export function turnOf<N>(value: SheetValue<N>): Turn {
  switch (value.kind) {
    case "number":
    case "bars since":
    case "count":
    case "size of":
      return "still";
    case "price":
      return value.price === "volume" || value.price === "spread" ? "still" : "price";
    case "study":
      return turnOfStudy(value);
    case "math":
      return turnOfMath(value);
    case "since":
      return turnOf(value.value);
    case "of two":
      return turnOfTwo(value);
    case "own":
      return value.given.some((given) => turnOf(given) !== "still") || value.given.length === 0 ? "price" : "still";
  }
}

const swapped = (names: Readonly<Record<string, string>>, name: string): string => names[name] ?? name;

export function mirrorValue<N>(value: SheetValue<N>, reflect: TurnNumber<N>): SheetValue<N> {
  const turned = (inner: SheetValue<N>): SheetValue<N> => mirrorValue(inner, reflect);
  switch (value.kind) {
    case "number":
      return value;
    case "price":
      return { ...value, price: value.price === "high" ? "low" : value.price === "low" ? "high" : value.price };
    case "study": {
      const { study, numbers, sources } = value;
      const output = swapped(OUTPUT_PARTNERS, value.output);
      const hasSide = sources[0] === undefined || turnOf(sources[0]) !== "still";
      return {
        ...value,
        study: hasSide ? swapped(PARTNERS, study) : study,
        output: studyNamed(study).outputs.includes(output) ? output : value.output,
        // The share of values that are below becomes that of those above.
        numbers: study === "quantileOf" && hasSide ? [numbers[0]!, reflect(numbers[1]!, 1)] : numbers,
        sources: sources.map(turned),
      };
    }
    case "math":
      return mirrorMath(value, reflect);
    case "size of":
      return { ...value, value: turned(value.value) };
    case "since": {
      const what = turnOf(value.value) === "still" ? value.what : swapped({ highest: "lowest", lowest: "highest" }, value.what);
      return { ...value, what: what as typeof value.what, value: turned(value.value), event: mirrorTest(value.event, reflect) };
    }
    case "bars since":
    case "count":
      return { ...value, event: mirrorTest(value.event, reflect) };
    case "of two": {
      const turn = turnOfTwo(value);
      const [left, right] = [bound(value.left, turn, reflect), bound(value.right, turn, reflect)];
      return { ...value, which: turn === "still" ? value.which : value.which === "larger" ? "smaller" : "larger", left, right };
    }
    case "own":
      return { ...value, given: value.given.map(turned) };
  }
}

/** A distance that is added to a level is taken from it, and the other way round; a factor of a price turns about 1. */
function mirrorMath<N>(value: Extract<SheetValue<N>, { kind: "math" }>, reflect: TurnNumber<N>): SheetValue<N> {
  const [a, b] = [turnOf(value.left), turnOf(value.right)];
  const left = mirrorValue(value.left, reflect);
  const right = mirrorValue(value.right, reflect);
  const hasDistance = (a === "still") !== (b === "still");
  if (hasDistance && (value.by === "plus" || value.by === "minus")) {
    // Case: a distance first, as in 10 minus x: the sum of both turns, so x keeps its sign.
    if (a === "still") return { ...value, left, right };
    return { ...value, by: value.by === "plus" ? "minus" : "plus", left, right };
  }
  if (hasDistance && a === "price" && right.kind === "number")
    return { ...value, left, right: { ...right, value: reflect(right.value, 2) } };
  return { ...value, left, right };
}

/** A bound or threshold of something that turns so. */
function bound<N>(value: SheetValue<N>, turn: Turn, reflect: TurnNumber<N>): SheetValue<N> {
  if (value.kind === "number" && typeof turn === "number") return { ...value, value: reflect(value.value, turn) };
  return mirrorValue(value, reflect);
}

/** A test turned to the other side. */
export function mirrorTest<N>(test: SheetTest<N>, reflect: TurnNumber<N>): SheetTest<N> {
  switch (test.kind) {
    case "compare": {
      const [a, b] = [turnOf(test.left), turnOf(test.right)];
      const turns = a !== "still" || b !== "still";
      return {
        ...test,
        left: bound(test.left, b, reflect),
        relation: turns ? TURNED_RELATIONS[test.relation] : test.relation,
        right: bound(test.right, a, reflect),
      };
    }
    case "between": {
      const turn = turnOf(test.value);
      if (turn === "still") return { ...test, value: mirrorValue(test.value, reflect) };
      const ends = swapped({ lower: "upper", upper: "lower" }, test.ends) as typeof test.ends;
      return {
        ...test,
        value: mirrorValue(test.value, reflect),
        low: bound(test.high, turn, reflect),
        high: bound(test.low, turn, reflect),
        ends,
      };
    }
    case "trend": {
      const turns = turnOf(test.value) !== "still";
      return { ...test, value: mirrorValue(test.value, reflect), way: turns ? (test.way === "rising" ? "falling" : "rising") : test.way };
    }
    case "bar":
      return { ...test, way: test.way === "up" ? "down" : "up" };
    case "time":
    case "weekday":
      return test;
  }
}

/** A row turned; its id and name stay. */
export const mirrorRow = <N>(row: SheetRow<N>, reflect: TurnNumber<N>): SheetRow<N> => ({ ...row, test: mirrorTest(row.test, reflect) });

/** The id of the short rule that a long one turns into: a row of the short side's own with it stands in for that. */
export const mirroredId = (id: string): string => `short ${id}`;

/** A group turned, in which rules of `own` with the id of a turned one stand in for it; the others are added. */
export function mirrorGroup<N>(group: SheetGroup<N>, own: readonly SheetRule<N>[], reflect: TurnNumber<N>): SheetGroup<N> {
  const byId = new Map(own.map((rule) => [rule.id, rule]));
  const turn = (rule: SheetRule<N>): SheetRule<N> => {
    const id = mirroredId(rule.id);
    const instead = byId.get(id);
    byId.delete(id);
    if (instead) return instead;
    return rule.kind === "row" ? { ...mirrorRow(rule, reflect), id } : { ...rule, id, rules: rule.rules.map(turn) };
  };
  const rules = group.rules.map(turn);
  return { ...group, rules: [...rules, ...byId.values()] };
}
