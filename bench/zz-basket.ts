/** One plan on three instruments with a higher timeframe each, against the same plan on each of them alone. */
import { type BarSeries, shareTimes } from "@plan-tester/core";
import { lockDown } from "../runner/src/child/sandbox.ts";
import { prepare } from "./run-source.ts";
import { ratioOf, walk } from "./series.ts";

const BARS = 200_000;
const ROUNDS = 60;
const SOURCE = `export default plan({
  title: "Basket",
  build({ markets, when }) {
    for (const { bars, enter, position } of markets) {
      const fast = ema(bars.close, 21);
      const slow = ema(bars.close, 55);
      const trend = ema(bars.at("1h").close, 20);
      const up = isAbove(bars.close, trend);
      when(crossesAbove(fast, slow).and(up), () => {
        if (position.flat) enter.long({ stopLoss: ticks(60), target: ticks(120) });
      });
      when(crossesBelow(fast, slow).and(up.not()), () => {
        if (position.flat) enter.short({ stopLoss: ticks(60), target: ticks(120) });
      });
    }
  },
});
`;

await lockDown();
// As a plan process keeps them.
const series: BarSeries[] = [];
for (const seed of [3, 5, 9]) series.push(shareTimes(walk(BARS, seed), series));

function run(members: readonly number[]) {
  const { backtest, stores } = prepare(
    SOURCE,
    members.map((k) => ({ symbol: `WALK${k}`, bars: series[k]! })),
  );
  backtest.advance(BARS);
  const result = backtest.result();
  for (const store of stores) store.clear();
  return result;
}

const together = () => run([0, 1, 2]);
const apart = () => [0, 1, 2].map((k) => run([k]));
const [one, each] = [together(), apart()];
const sums = each.map(({ figures }) => figures.netProfit);
const net = sums.reduce((a, b) => a + b, 0);
if (Math.abs(one.figures.netProfit - net) > 1e-6 || one.figures.trades !== each.reduce((sum, { figures }) => sum + figures.trades, 0))
  throw new Error(`The basket makes ${one.figures.netProfit}, its members alone ${net}.`);
const A: number[] = [],
  B: number[] = [];
for (let r = 0; r < ROUNDS; r++) {
  const t = performance.now();
  together();
  const u = performance.now();
  apart();
  const v = performance.now();
  A.push(u - t);
  B.push(v - u);
}
const med = (x: number[]) => [...x].sort((a, b) => a - b)[x.length >> 1]!;
for (let k = 0; k < ROUNDS; k += 10) console.log(k, med(A.slice(k, k + 10)).toFixed(1), med(B.slice(k, k + 10)).toFixed(1));
const { ratio, engineMs, loopMs } = ratioOf(1, together, apart);
console.log(
  `  ${one.figures.trades} trades; together ${engineMs.toFixed(1)} ms, one after the other ${loopMs.toFixed(1)} ms (medians of ${ROUNDS})`,
);
console.log(`bench basket ratio ${ratio.toFixed(2)}`);
