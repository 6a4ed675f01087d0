/** A jump to a simple multiple of the price that stays: a split, or prices in another unit. */
import type { BarColumns } from "../market/bars.ts";
import type { Finding } from "./finding.ts";
import { medianOf } from "./median.ts";

/** Ratios of splits, and of units; their inverses too. */
const RATIOS: readonly (readonly [number, number])[] = [
  ...([2, 3, 4, 5, 6, 7, 8, 10, 15, 20, 25, 30, 40, 50, 100, 1000] as const).map((n) => [n, 1] as const),
  ...([
    [3, 2],
    [4, 3],
    [5, 2],
    [5, 3],
    [5, 4],
    [7, 2],
  ] as const),
];
/** So near a ratio a jump has to come, in logs; and so many usual jumps between bars it has to be. */
const NEAR = 0.03;
const LEAST_JUMPS = 12;
/** Bars on each side whose middle price has to show the same. */
const AROUND = 50;

export function splitsIn({ time, open, close }: BarColumns): Finding[] {
  const n = time.length;
  const jump = new Float64Array(n);
  for (let i = 1; i < n; i++) jump[i] = Math.log(open[i]! / close[i - 1]!);
  const least = Math.log(RATIOS.reduce((smallest, [a, b]) => Math.min(smallest, a / b), Number.POSITIVE_INFINITY)) - NEAR;
  const findings: Finding[] = [];
  for (let i = 1; i < n; i++) {
    if (Math.abs(jump[i]!) < least) continue;
    const moved = medianOf(close.slice(i, i + AROUND).map(Math.log)) - medianOf(close.slice(Math.max(0, i - AROUND), i).map(Math.log));
    // Case: a price that is back at once is a spike.
    if (Math.abs(moved - jump[i]!) > Math.max(2 * NEAR, Math.abs(jump[i]!) / 4)) continue;
    const nearby = jump.slice(Math.max(1, i - 5 * AROUND), i).map(Math.abs);
    if (Math.abs(jump[i]!) < LEAST_JUMPS * medianOf(nearby)) continue;
    const found = RATIOS.find(([a, b]) => Math.abs(Math.abs(jump[i]!) - Math.log(a / b)) <= NEAR);
    if (!found) continue;
    const [a, b] = found;
    const isDown = jump[i]! < 0;
    findings.push({
      kind: "split",
      ...{ fromMs: time[i]!, toMs: time[i]!, bars: 1, size: isDown ? b / a : a / b },
      text: `from one bar to the next the price comes to ${isDown ? `${b}/${a}` : `${a}/${b}`} of what it was, and stays there: a split, or another unit`,
    });
  }
  return findings;
}
