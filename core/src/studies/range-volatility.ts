/** Yearly volatility from the range of bars: surer than from closes alone, for the same number of bars. */
import type { BarSeries } from "../market/bars.ts";
import { BARS, type ColumnValues, numberInput, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { squaresOver, sumOver } from "./long-windows.ts";
import { barByBar } from "./windows.ts";

/** Logarithm of a ratio of prices; a price of 0 or less counts as no move. */
const logOf = (a: number, b: number): number => (a > 0 && b > 0 ? Math.log(a / b) : 0);
const PER_YEAR = numberInput("perYear", 252, 1, 1_000_000);

interface RangeVolatility {
  readonly name: string;
  readonly summary: string;
  readonly formula: string;
  readonly source: string;
  readonly term: (bars: BarSeries, i: number) => number;
}

const ofTerms = ({ term, formula, ...rest }: RangeVolatility): StudyDefinition => ({
  ...rest,
  group: "statistic",
  unit: "% a year",
  formula: `100 * sqrt(perYear * sma(${formula}, span)); a price of 0 or less counts as no move`,
  warmUp: "span - 1 bars",
  pane: "own",
  inputs: [BARS, span(20), PER_YEAR],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const [length, perYear] = numbers as readonly [number, number];
    return [
      sumOver(
        bars.length,
        0,
        length,
        (i) => term(bars, i),
        (sum) => 100 * Math.sqrt((perYear * Math.max(0, sum)) / length),
      ),
    ];
  },
});

export const parkinsonVolatility = ofTerms({
  name: "parkinsonVolatility",
  summary: "Yearly volatility in percent from highs and lows alone, for prices without drift and gaps",
  formula: "ln(high / low)^2 / (4 * ln 2)",
  source: "Parkinson 1980, The Extreme Value Method for Estimating the Variance of the Rate of Return",
  term: ({ high, low }, i) => logOf(high[i]!, low[i]!) ** 2 / (4 * Math.LN2),
});

export const garmanKlassVolatility = ofTerms({
  name: "garmanKlassVolatility",
  summary: "Yearly volatility in percent from all four prices of bars, for prices without drift and gaps",
  formula: "ln(high / low)^2 / 2 - (2 * ln 2 - 1) * ln(close / open)^2",
  source: "Garman and Klass 1980, On the Estimation of Security Price Volatilities from Historical Data",
  term: ({ open, high, low, close }, i) => logOf(high[i]!, low[i]!) ** 2 / 2 - (2 * Math.LN2 - 1) * logOf(close[i]!, open[i]!) ** 2,
});

const rogersSatchell = ({ open, high, low, close }: BarSeries, i: number): number =>
  logOf(high[i]!, close[i]!) * logOf(high[i]!, open[i]!) + logOf(low[i]!, close[i]!) * logOf(low[i]!, open[i]!);

export const rogersSatchellVolatility = ofTerms({
  name: "rogersSatchellVolatility",
  summary: "Yearly volatility in percent from all four prices of bars, whatever the drift, without gaps",
  formula: "ln(high / close) * ln(high / open) + ln(low / close) * ln(low / open)",
  source: "Rogers and Satchell 1991, Estimating Variance from High, Low and Closing Prices",
  term: rogersSatchell,
});

export const yangZhangVolatility: StudyDefinition = {
  name: "yangZhangVolatility",
  group: "statistic",
  unit: "% a year",
  summary: "Yearly volatility in percent from all four prices of bars and the gaps between them, whatever the drift",
  formula:
    "100 * sqrt(perYear * (variance of ln(open / close[1]) + k * variance of ln(close / open) + (1 - k) * mean of the Rogers-Satchell terms)), divisor span - 1, k = 0.34 / (1.34 + (span + 1) / (span - 1)); a price of 0 or less counts as no move",
  warmUp: "span bars",
  source: "Yang and Zhang 2000, Drift-Independent Volatility Estimation Based on High, Low, Open, and Close Prices",
  pane: "own",
  inputs: [BARS, span(20, 2), PER_YEAR],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const [length, perYear] = numbers as readonly [number, number];
    const { open, close, length: n } = bars;
    const column = (value: (i: number) => number): ColumnValues => {
      const values = newColumn(n, 1);
      for (let i = startAt(1); i < n; i++) values[i] = value(i);
      return { values, first: 1 };
    };
    const varianceOver = ({ values, first }: ColumnValues): ColumnValues =>
      squaresOver(values, first, length, (squares) => squares / (length - 1));
    const gaps = varianceOver(column((i) => logOf(open[i]!, close[i - 1]!)));
    const bodies = varianceOver(column((i) => logOf(close[i]!, open[i]!)));
    const ranges = sumOver(n, 1, length, (i) => rogersSatchell(bars, i));
    const k = 0.34 / (1.34 + (length + 1) / (length - 1));
    return [
      barByBar([gaps, bodies, ranges], (i) => {
        const variance = gaps.values[i]! + k * bodies.values[i]! + ((1 - k) * ranges.values[i]!) / length;
        return 100 * Math.sqrt(perYear * Math.max(0, variance));
      }),
    ];
  },
};
