/** Whether a column comes back to where it was, and how fast; and what is left of one column by another. */
import { isStill } from "../still.ts";
import { changeOf } from "./change.ts";
import { together } from "./correlation.ts";
import { barsInput, columnInput, SOURCE_COLUMN, type StudyDefinition, span, WINDOW, WINDOWS } from "./definition.ts";
import { displaced } from "./displaced.ts";
import { type Products, productsOver } from "./long-windows.ts";
import { barByBar } from "./windows.ts";

export const autocorrelation: StudyDefinition = {
  name: "autocorrelation",
  group: "statistic",
  unit: "-1 to 1",
  summary: "Correlation of a column with itself some bars ago: below 0 where moves are taken back",
  formula: "correlation(x, x[lag], span); 0 when nothing moved",
  warmUp: "span + lag - 1 bars after the source's first value",
  source: "Pearson's coefficient, two passes",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(50, 2), barsInput("lag", 1)],
  outputs: ["value"],
  settle: WINDOWS,
  compute: ({ columns, numbers }) => [
    together(columns[0]!, displaced(columns[0]!, numbers[1]!), numbers[0]!, (xy, xx, yy) =>
      xx === 0 || yy === 0 ? 0 : xy / Math.sqrt(xx * yy),
    ),
  ],
};

/** Of a column that does not come back so many spans are told. */
const MOST_SPANS = 10;

export const halfLife: StudyDefinition = {
  name: "halfLife",
  group: "statistic",
  unit: "bars",
  summary: "Half-life of reversion: bars in which half of a distance from the mean is taken back",
  formula: `-ln 2 / ln(1 + b), b the slope of x - x[1] on x[1] over span changes; 0 for b of -1 or less, ${MOST_SPANS} * span where that is more, or where nothing comes back`,
  warmUp: "span bars after the source's first value",
  source: "Ornstein and Uhlenbeck 1930 in discrete time; Chan 2013, Algorithmic Trading",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(100, 3)],
  outputs: ["value"],
  settle: (numbers) => WINDOW(numbers) + 1,
  compute: ({ columns, numbers }) => {
    const length = numbers[0]!;
    const most = MOST_SPANS * length;
    const changes = changeOf(columns[0]!, 1, (now, then) => now - then);
    return [
      together(changes, displaced(columns[0]!, 1), length, (xy, _xx, yy) => {
        const slope = yy === 0 ? 0 : xy / yy;
        if (slope >= 0) return most;
        return slope <= -1 ? 0 : Math.min(most, -Math.LN2 / Math.log1p(slope));
      }),
    ];
  },
};

export const cointegration: StudyDefinition = {
  name: "cointegration",
  group: "statistic",
  unit: "as the source",
  summary:
    "What is left of a column by another: the residual of their least-squares line, its slope, and the residual in its own deviations",
  formula:
    "value = x - (a + beta * y), a and beta by least squares over span values; score = value / sqrt(mean of squared residuals), 0 for 0/0; beta 0 when y did not move",
  warmUp: "span - 1 bars after the first value of both",
  source: "first step of Engle and Granger 1987, Co-Integration and Error Correction",
  pane: "own",
  inputs: [SOURCE_COLUMN, columnInput("other"), span(100, 3)],
  outputs: ["value", "beta", "score"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => {
    const [x, y] = [columns[0]!.values, columns[1]!.values];
    const length = numbers[0]!;
    const over = (value: (products: Readonly<Products>) => number) =>
      productsOver(x, y, Math.max(columns[0]!.first, columns[1]!.first), length, value);
    const slopeOf = ({ xy, yy, meanY }: Readonly<Products>): number => (isStill(Math.sqrt(yy / length), meanY) ? 0 : xy / yy);
    const beta = over(slopeOf);
    const meanX = over((products) => products.meanX);
    const meanY = over((products) => products.meanY);
    const deviation = over((products) => {
      const left = Math.max(0, products.xx - slopeOf(products) * products.xy);
      return isStill(Math.sqrt(left / length), products.meanX) ? 0 : Math.sqrt(left / length);
    });
    const residual = barByBar([beta, meanX, meanY], (i) => x[i]! - meanX.values[i]! - beta.values[i]! * (y[i]! - meanY.values[i]!));
    const score = barByBar([residual, deviation], (i) => (deviation.values[i] === 0 ? 0 : residual.values[i]! / deviation.values[i]!));
    return [residual, beta, score];
  },
};
