/**
 * What acting inside the bar costs: one plan that watches its stop at closes, and one that does the same at every point of
 * the path with a provisional average. They are not the same strategy; the ratio says what the second way of working costs.
 */
import { lockDown } from "../runner/src/child/sandbox.ts";
import { prepare } from "./run-source.ts";
import { ratioOf, walk } from "./series.ts";

const BARS = 100_000;
const ROUNDS = 7;
const source = (event: string, value: string): string => `export default plan({
  title: "Inside",
  build({ bars, on, enter, position }) {
    const mean = ema(bars.close, 21);
    let n = 0;
    on.${event}(() => {
      n++;
      if (position.flat && n % 50 === 0 && bars.close.${value} > mean.${value}) enter.long({ stopLoss: ticks(60), target: ticks(120) });
    });
  },
});
`;

await lockDown();
const bars = walk(BARS, 3);

function run(text: string) {
  const { backtest } = prepare(text, [{ symbol: "WALK", bars }]);
  backtest.advance(BARS);
  return backtest.result();
}

const inside = () => run(source("price", "forming"));
const closes = () => run(source("barClose", "now"));
if (inside().trades.length < 100 || closes().trades.length < 100) throw new Error("Both sides should trade.");
const { ratio, engineMs, loopMs } = ratioOf(ROUNDS, inside, closes);
console.log(`  at every price ${engineMs.toFixed(1)} ms, at every close ${loopMs.toFixed(1)} ms for ${BARS} bars (medians of ${ROUNDS})`);
console.log(`bench inside-bar ratio ${ratio.toFixed(2)}`);
