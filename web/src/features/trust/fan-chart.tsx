/** Where equity could have gone: the middle of the draws, and the band between their 5 and 95 %; beside it what it did. */
import type { Resampling } from "@plan-tester/core";
import { number } from "../../lib/format.ts";

const [WIDTH, HEIGHT] = [420, 170];

export function FanChart({
  fan,
  cash,
  nets,
}: {
  readonly fan: Resampling["fan"];
  readonly cash: number;
  readonly nets: readonly number[];
}) {
  const count = fan.trades.at(-1) ?? 1;
  let equity = cash;
  const actual = nets.map((net) => {
    equity += net;
    return equity;
  });
  const low = actual.reduce((least, value) => Math.min(least, value), Math.min(cash, ...fan.low));
  const high = actual.reduce((most, value) => Math.max(most, value), Math.max(cash, ...fan.high));
  const x = (trades: number): string => ((trades / count) * WIDTH).toFixed(1);
  const y = (value: number): string => (HEIGHT - 4 - ((value - low) / (high - low || 1)) * (HEIGHT - 8)).toFixed(1);
  const points = (values: readonly number[]): string[] => values.map((value, k) => `${x(fan.trades[k]!)},${y(value)}`);
  const start = `0,${y(cash)}`;
  const step = Math.max(1, Math.floor(actual.length / WIDTH));
  const walked = actual.flatMap((value, k) => (k % step === 0 || k === actual.length - 1 ? [`${x(k + 1)},${y(value)}`] : []));
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label="Equity over the number of trades; the table beside it says the same in figures"
      >
        <polygon points={[start, ...points(fan.high), ...points(fan.low).reverse()].join(" ")} className="fill-accent-wash" />
        <polyline
          points={[start, ...points(fan.middle)].join(" ")}
          fill="none"
          className="stroke-accent"
          strokeWidth="1.2"
          strokeDasharray="4 3"
        />
        <polyline points={[start, ...walked].join(" ")} fill="none" className="stroke-ink" strokeWidth="1.4" />
        <line x1="0" x2={WIDTH} y1={y(cash)} y2={y(cash)} className="stroke-rule" />
      </svg>
      <figcaption className="text-[12px] text-soft">
        After {number(count)} trades, {number(low)} to {number(high)}: what was (full), the middle draw (dashed), 5 to 95 % (shaded).
      </figcaption>
    </figure>
  );
}
