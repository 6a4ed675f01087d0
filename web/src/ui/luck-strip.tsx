/** Ratios that luck found on markets without memory, a tick each, with the one that is in doubt. */
import { number } from "../lib/format.ts";

const WIDTH = 640;

export interface LuckStripProps {
  readonly best: number;
  readonly ratios: readonly number[];
  /** What the ratio is of, e.g. "this sweep". */
  readonly of: string;
}

export function LuckStrip({ best, ratios, of }: LuckStripProps) {
  const least = Math.min(best, ...ratios);
  const most = Math.max(best, ...ratios);
  const room = (most - least || 1) * 0.08;
  const x = (value: number): number => ((value - least + room) / (most - least + 2 * room || 1)) * WIDTH;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} 56`}
      className="w-full max-w-2xl"
      role="img"
      aria-label={`Ratios that luck found, from ${number(Math.min(...ratios), 2)} to ${number(Math.max(...ratios), 2)}; that of ${of} is ${number(best, 2)}`}
    >
      <line x1={0} x2={WIDTH} y1={34} y2={34} className="stroke-rule" />
      {ratios.map((ratio, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: markets stand for their numbers
        <line key={k} x1={x(ratio)} x2={x(ratio)} y1={22} y2={34} className="stroke-soft" strokeWidth={2} />
      ))}
      <line x1={x(best)} x2={x(best)} y1={14} y2={40} className="stroke-accent" strokeWidth={3} />
      <text x={Math.min(WIDTH - 60, Math.max(60, x(best)))} y={10} textAnchor="middle" className="fill-accent text-[11px]">
        {of} {number(best, 2)}
      </text>
      <text x={2} y={50} className="fill-soft text-[11px]">
        {number(least, 1)}
      </text>
      <text x={WIDTH - 2} y={50} textAnchor="end" className="fill-soft text-[11px]">
        {number(most, 1)}
      </text>
    </svg>
  );
}
