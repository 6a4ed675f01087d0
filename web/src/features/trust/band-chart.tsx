/** A line beside what chance would draw: the middle of the draws, and the band between their 5 and 95 %. */
import type { ReactNode } from "react";

const [WIDTH, HEIGHT] = [420, 170];

export interface BandChartProps {
  /** Along the picture, of each value of the band; the picture begins at 0. */
  readonly at: ArrayLike<number>;
  readonly low: ArrayLike<number>;
  readonly middle: ArrayLike<number>;
  readonly high: ArrayLike<number>;
  /** What was, as pairs of place and value. */
  readonly line: readonly (readonly [at: number, value: number])[];
  /** Where all begin, and what a level line is drawn at. */
  readonly start: number;
  readonly label: string;
  readonly caption: (least: number, most: number) => ReactNode;
}

export function BandChart({ at, low, middle, high, line, start, label, caption }: BandChartProps) {
  const end = at[at.length - 1] ?? 1;
  let [least, most] = [start, start];
  const hold = (value: number): void => {
    least = Math.min(least, value);
    most = Math.max(most, value);
  };
  for (const [, value] of line) hold(value);
  for (let k = 0; k < at.length; k++) {
    hold(low[k]!);
    hold(high[k]!);
  }
  const x = (place: number): string => ((place / end) * WIDTH).toFixed(1);
  const y = (value: number): string => (HEIGHT - 4 - ((value - least) / (most - least || 1)) * (HEIGHT - 8)).toFixed(1);
  const points = (values: ArrayLike<number>): string[] => Array.from(values, (value, k) => `${x(at[k]!)},${y(value)}`);
  const begin = `0,${y(start)}`;
  const step = Math.max(1, Math.floor(line.length / WIDTH));
  const walked = line.flatMap(([place, value], k) => (k % step === 0 || k === line.length - 1 ? [`${x(place)},${y(value)}`] : []));
  return (
    <figure>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={label}>
        <polygon points={[begin, ...points(high), ...points(low).reverse()].join(" ")} className="fill-accent-wash" />
        <polyline
          points={[begin, ...points(middle)].join(" ")}
          fill="none"
          className="stroke-accent"
          strokeWidth="1.2"
          strokeDasharray="4 3"
        />
        <polyline points={[begin, ...walked].join(" ")} fill="none" className="stroke-ink" strokeWidth="1.4" />
        <line x1="0" x2={WIDTH} y1={y(start)} y2={y(start)} className="stroke-rule" />
      </svg>
      <figcaption className="text-[12px] text-soft">{caption(least, most)}</figcaption>
    </figure>
  );
}
