/** One heat map: a table whose cells are coloured by their figure and choose a variant. */
import type { InputValue } from "@plan-tester/core";
import { cx } from "../../ui/cx.ts";
import { definitionAt, type SweepInput, type SweepViewProps, valueAt, valueText } from "./sweep-view.ts";

export interface SurfaceGridProps extends Pick<SweepViewProps, "figures" | "stretches" | "selected" | "onSelect"> {
  readonly x: SweepInput;
  readonly y: SweepInput;
  readonly column: number;
  /** Whether several stand side by side. */
  readonly isSmall: boolean;
  /** Ends of the colours. */
  readonly low: number;
  readonly high: number;
  readonly variantAt: (x: InputValue, y: InputValue) => number | undefined;
}

export function SurfaceGrid(props: SurfaceGridProps) {
  const { x, y, column, low, high, variantAt, selected, onSelect, figures, stretches, isSmall } = props;
  const cell = isSmall ? "h-6 min-w-10" : "h-7 min-w-14";
  const { label, more, text } = definitionAt(column);
  const background = (value: number): string => {
    // Zero is the middle where values lie on both sides of it.
    const middle = low < 0 && high > 0 ? 0 : (low + high) / 2;
    const share = value >= middle ? (value - middle) / (high - middle || 1) : (middle - value) / (middle - low || 1);
    const good = value >= middle === (more !== false);
    return `color-mix(in srgb, var(--${good ? "gain" : "loss"}) ${Math.round(6 + share * 62)}%, var(--sheet))`;
  };
  return (
    <div className="overflow-auto">
      <table className={cx("border-separate border-spacing-0.5", isSmall ? "text-[11px]" : "text-[13px]")}>
        <caption className="sr-only">
          {label} by {x.label} and {y.label}
        </caption>
        <thead>
          <tr>
            <th scope="col" className="px-2 text-right font-normal text-soft">
              {y.label} ↓ · {x.label} →
            </th>
            {x.values.map((value) => (
              <th key={String(value)} scope="col" className="px-1 text-right font-normal text-soft">
                {valueText(value)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {y.values.map((row) => (
            <tr key={String(row)}>
              <th scope="row" className="px-2 text-right font-normal text-soft">
                {valueText(row)}
              </th>
              {x.values.map((value) => {
                const variant = variantAt(value, row);
                if (variant === undefined) return <td key={String(value)} className={cx(cell, "bg-sunk")} />;
                const figure = valueAt({ figures, stretches }, variant, column);
                return (
                  <td key={String(value)} className="p-0">
                    <button
                      type="button"
                      aria-label={`${x.label} ${valueText(value)}, ${y.label} ${valueText(row)}: ${text(figure)}`}
                      aria-pressed={variant === selected}
                      className={cx(cell, "w-full px-1 text-right text-ink aria-pressed:outline-2 aria-pressed:outline-ink")}
                      style={{ background: background(figure) }}
                      onClick={() => onSelect(variant)}
                    >
                      {text(figure)}
                    </button>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
