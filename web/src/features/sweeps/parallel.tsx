/** Parallel coordinates: each variant a line over its inputs and figures; bounds on any axis leave the others out. */
import { useMemo, useRef, useState } from "react";
import { SWEEP_DEFINITIONS } from "../../lib/aims.ts";
import { number } from "../../lib/format.ts";
import { useWidth } from "../../lib/use-width.ts";
import { Button } from "../../ui/button.tsx";
import { type Axis, type Bounds, ParallelAxis, placeOn } from "./parallel-axis.tsx";
import { definitionAt, ranked, type SweepViewProps, valueAt } from "./sweep-view.ts";

const MOST_LINES = 800;
const [WIDTH, HEIGHT, SIDE] = [900, 380, 56];
const REACH = { top: 40, bottom: HEIGHT - 24 };
const FIGURES = ["netProfit", "maxDrawdown", "trades", "sharpe"] as const;

function useAxes({ inputs, variants, figures, stretches }: SweepViewProps): Axis[] {
  return useMemo(() => {
    const axes: Axis[] = inputs.map(({ name, label, values }) => {
      const places = new Map(values.map((value, k) => [value, k]));
      return {
        id: name,
        label,
        low: 0,
        high: Math.max(1, values.length - 1),
        isStepped: true,
        of: (v) => places.get(variants[v]![name]!) ?? 0,
        text: (k) => String(values[Math.round(k)]),
      };
    });
    for (const key of FIGURES) {
      const column = SWEEP_DEFINITIONS.findIndex((definition) => definition.key === key);
      const of = (v: number): number => valueAt({ figures, stretches }, v, column);
      let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
      variants.forEach((_variant, v) => {
        const value = of(v);
        if (value < low) low = value;
        if (value > high) high = value;
      });
      if (low < high)
        axes.push({ id: key, label: definitionAt(column).label, low, high, isStepped: false, of, text: definitionAt(column).text });
    }
    return axes;
  }, [inputs, variants, figures, stretches]);
}

export function Parallel(props: SweepViewProps) {
  const { inputs, variants, figures, stretches, aim, selected, onSelect } = props;
  const axes = useAxes(props);
  const [bounds, setBounds] = useState<Readonly<Record<string, Bounds>>>({});
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box, WIDTH);
  const order = useMemo(() => ranked({ variants, figures, stretches }, aim), [variants, figures, stretches, aim]);
  const kept = useMemo(
    () => order.filter((v) => axes.every(({ id, of }) => !bounds[id] || (of(v) >= bounds[id]![0] && of(v) <= bounds[id]![1]))),
    [order, axes, bounds],
  );
  const x = (k: number): number => SIDE + (k / Math.max(1, axes.length - 1)) * (width - 2 * SIDE);
  const lines = kept.slice(0, MOST_LINES);
  const bound = (id: string, next: Bounds | null): void => {
    const { [id]: _gone, ...others } = bounds;
    setBounds(next ? { ...others, [id]: next } : others);
  };
  return (
    <div className="flex h-full flex-col gap-2 overflow-auto p-3">
      <p className="flex items-center gap-3 text-[13px] text-soft">
        <span role="status">
          {number(kept.length)} variants within the bounds{kept.length > MOST_LINES ? `; the best ${number(MOST_LINES)} are drawn` : ""}.
        </span>
        <span>The stronger the line, the better by the aim. Drag along an axis to keep what lies within.</span>
        {Object.keys(bounds).length > 0 ? <Button onClick={() => setBounds({})}>Take all bounds away</Button> : null}
      </p>
      <div ref={box}>
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label="Variants as lines over their inputs and figures; the table of the sweep says the same"
        >
          {[...lines].reverse().map((v, k) => (
            <polyline
              key={v}
              points={axes.map((axis, a) => `${x(a)},${placeOn(axis, REACH, axis.of(v)).toFixed(1)}`).join(" ")}
              fill="none"
              className={v === selected ? "stroke-loss" : "stroke-accent"}
              strokeWidth={v === selected ? 2.5 : 1}
              opacity={v === selected ? 1 : 0.08 + 0.6 * (k / lines.length) ** 3}
            />
          ))}
          {axes.map((axis, a) => (
            <ParallelAxis
              key={axis.id}
              axis={axis}
              x={x(a)}
              reach={REACH}
              bounds={bounds[axis.id]}
              onBounds={(next) => bound(axis.id, next)}
            />
          ))}
        </svg>
      </div>
      <div className="grid max-w-5xl gap-x-8 gap-y-1 text-[13px] sm:grid-cols-2">
        {axes.map((axis) => {
          const [from, to] = bounds[axis.id] ?? [axis.low, axis.high];
          const step = axis.isStepped ? 1 : (axis.high - axis.low) / 200;
          const set = (next: Bounds): void => bound(axis.id, next);
          return (
            <fieldset key={axis.id} className="flex items-center gap-2">
              <legend className="sr-only">{axis.label}</legend>
              <span className="w-28 truncate">{axis.label}</span>
              <input
                type="range"
                aria-label={`${axis.label}, from`}
                className="w-20 accent-(--accent)"
                min={axis.low}
                max={axis.high}
                step={step}
                value={from}
                onChange={(event) => set([Math.min(Number(event.target.value), to), to])}
              />
              <input
                type="range"
                aria-label={`${axis.label}, to`}
                className="w-20 accent-(--accent)"
                min={axis.low}
                max={axis.high}
                step={step}
                value={to}
                onChange={(event) => set([from, Math.max(Number(event.target.value), from)])}
              />
              <span className="whitespace-nowrap text-soft">
                {axis.text(from)} – {axis.text(to)}
              </span>
            </fieldset>
          );
        })}
      </div>
      {kept[0] === undefined ? null : (
        <p className="text-[13px]">
          Best within the bounds:{" "}
          <button type="button" className="font-semibold text-accent underline underline-offset-3" onClick={() => onSelect(kept[0]!)}>
            {inputs.map(({ name, label }) => `${label} ${String(variants[kept[0]!]![name])}`).join(", ")}
          </button>
        </p>
      )}
    </div>
  );
}
