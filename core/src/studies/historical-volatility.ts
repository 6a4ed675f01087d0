import { changeOf } from "./change.ts";
import { numberInput, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { squaresOver } from "./long-windows.ts";

export const historicalVolatility: StudyDefinition = {
  name: "historicalVolatility",
  group: "statistic",
  unit: "% a year",
  summary: "Yearly volatility of log returns in percent",
  formula:
    "100 * sqrt(perYear) * standard deviation (divisor span - 1) of ln(x / x[1]) over span returns; a price of 0 or less counts as no move",
  warmUp: "span bars after the source's first value",
  source: "Hull, Options, Futures and Other Derivatives, estimating volatility from historical data",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20, 2), numberInput("perYear", 252, 1, 1_000_000)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const length = numbers[0]!;
    const returns = changeOf(columns[0]!, 1, (now, then) => (now > 0 && then > 0 ? Math.log(now / then) : 0));
    const scale = 100 * Math.sqrt(numbers[1]! / (length - 1));
    return [squaresOver(returns.values, returns.first, length, (squares) => scale * Math.sqrt(squares))];
  },
};
