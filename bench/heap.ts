/**
 * Whether the hot path allocates: two runs that trade equally often over series of which one has eight times the bars. What
 * a run allocates besides its whole columns must not grow with the bars.
 */
import { lockDown } from "../runner/src/child/sandbox.ts";
import { prepare } from "./run-source.ts";
import { walk } from "./series.ts";

const SOURCE = `export default plan({
  title: "Heap",
  build({ bars, on, enter, position }) {
    const mean = sma(bars.close, 20);
    let n = 0;
    on.barClose(() => {
      n++;
      if (n % 500 === 0 && n <= 50_000 && position.flat && mean.now > 0) enter.long({ timeLimit: { bars: 100 }, stopLoss: percent(50) });
    });
  },
});
`;

await lockDown();
if (!globalThis.gc) throw new Error("Run with --expose-gc.");

/** Bytes on the managed heap that a run's own steps allocate; typed arrays live outside of it. */
function allocated(bars: ReturnType<typeof walk>): number {
  const { backtest } = prepare(SOURCE, [{ symbol: "WALK", bars }]);
  globalThis.gc!();
  const before = process.memoryUsage().heapUsed;
  backtest.advance(bars.length);
  return process.memoryUsage().heapUsed - before;
}

const [short, long] = [walk(60_000, 3), walk(480_000, 3)];
for (let warm = 0; warm < 3; warm++) {
  allocated(short);
  allocated(long);
}
const [less, more] = [allocated(short), allocated(long)];
const perBar = (more - less) / (long.length - short.length);
console.log(
  `  ${(less / 1024).toFixed(0)} kB for 60,000 bars, ${(more / 1024).toFixed(0)} kB for 480,000 with as many trades: ${perBar.toFixed(3)} bytes a bar`,
);
if (perBar > 1) throw new Error(`A run allocates ${perBar.toFixed(1)} bytes a bar; it should allocate none.`);
console.log(`bench heap ratio ${(more / less).toFixed(2)}`);
