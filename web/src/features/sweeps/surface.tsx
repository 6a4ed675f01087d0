/** Two inputs against one figure: a heat map whose cells carry their values. Other inputs are at their best value for each cell. */
import { useMemo, useState } from "react";
import { Select } from "../../ui/field.tsx";
import { Empty } from "../../ui/states.tsx";
import { SWEEP_DEFINITIONS } from "./aims.ts";
import { FigureChoice } from "./figure-choice.tsx";
import { type SweepViewProps, WIDTH } from "./sweep-view.ts";

export function Surface({ inputs, variants, figures, stretches, aim, selected, onSelect }: SweepViewProps) {
  const [across, setAcross] = useState(inputs[0]?.name ?? "");
  const [down, setDown] = useState(inputs[1]?.name ?? "");
  const [column, setColumn] = useState(aim);
  const rowWidth = WIDTH * stretches;
  const definition = SWEEP_DEFINITIONS[column % WIDTH]!;
  const x = inputs.find(({ name }) => name === across);
  const y = inputs.find(({ name }) => name === down);

  const cells = useMemo(() => {
    const best = new Map<string, number>();
    const sign = definition.more === false ? -1 : 1;
    variants.forEach((variant, i) => {
      const value = figures[i * rowWidth + column]!;
      if (Number.isNaN(value)) return;
      const key = `${String(variant[across])}|${String(variant[down])}`;
      const known = best.get(key);
      if (known === undefined || sign * value > sign * figures[known * rowWidth + column]!) best.set(key, i);
    });
    return best;
  }, [variants, figures, rowWidth, column, across, down, definition.more]);

  if (!x || !y) return <Empty title="A surface needs two inputs">This sweep varies one. Vary a second to see how they go together.</Empty>;
  const shown = [...cells.values()].map((i) => figures[i * rowWidth + column]!);
  const [low, high] = [Math.min(...shown), Math.max(...shown)];
  const background = (value: number): string => {
    // Zero is the middle where values lie on both sides of it.
    const middle = low < 0 && high > 0 ? 0 : (low + high) / 2;
    const share = value >= middle ? (value - middle) / (high - middle || 1) : (middle - value) / (middle - low || 1);
    const good = value >= middle === (definition.more !== false);
    return `color-mix(in srgb, var(--${good ? "gain" : "loss"}) ${Math.round(6 + share * 62)}%, var(--sheet))`;
  };
  return (
    <div className="flex flex-col gap-3 p-3">
      <div className="flex flex-wrap items-center gap-3">
        <label className="flex items-center gap-2 text-soft">
          Across
          <Select value={across} onChange={(event) => setAcross(event.target.value)} className="w-44">
            {inputs.map(({ name, label }) => (
              <option key={name} value={name} disabled={name === down}>
                {label}
              </option>
            ))}
          </Select>
        </label>
        <label className="flex items-center gap-2 text-soft">
          Down
          <Select value={down} onChange={(event) => setDown(event.target.value)} className="w-44">
            {inputs.map(({ name, label }) => (
              <option key={name} value={name} disabled={name === across}>
                {label}
              </option>
            ))}
          </Select>
        </label>
        <FigureChoice column={column} stretches={stretches} onChange={setColumn} />
        {inputs.length > 2 ? <span className="text-[13px] text-soft">Other inputs at their best for each cell.</span> : null}
      </div>
      <div className="overflow-auto">
        <table className="border-separate border-spacing-0.5 text-[13px]">
          <caption className="sr-only">
            {definition.label} by {x.label} and {y.label}
          </caption>
          <thead>
            <tr>
              <th scope="col" className="px-2 text-right font-normal text-soft">
                {y.label} ↓ · {x.label} →
              </th>
              {x.values.map((value) => (
                <th key={String(value)} scope="col" className="px-1 text-right font-normal text-soft">
                  {String(value)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {y.values.map((row) => (
              <tr key={String(row)}>
                <th scope="row" className="px-2 text-right font-normal text-soft">
                  {String(row)}
                </th>
                {x.values.map((value) => {
                  const variant = cells.get(`${String(value)}|${String(row)}`);
                  if (variant === undefined) return <td key={String(value)} className="h-7 min-w-14 bg-sunk" />;
                  const figure = figures[variant * rowWidth + column]!;
                  return (
                    <td key={String(value)} className="p-0">
                      <button
                        type="button"
                        aria-label={`${x.label} ${String(value)}, ${y.label} ${String(row)}: ${definition.text(figure)}`}
                        aria-pressed={variant === selected}
                        className="h-7 w-full min-w-14 px-1.5 text-right text-ink aria-pressed:outline-2 aria-pressed:outline-ink"
                        style={{ background: background(figure) }}
                        onClick={() => onSelect(variant)}
                      >
                        {definition.text(figure)}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
