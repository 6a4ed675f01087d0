/** Marks made by hand as a list: looked at, corrected, deleted. Beside a time the arrow keys move it by a bar. */
import { type Instrument, lowerBound, type Mark } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import type { KeyboardEvent } from "react";
import { queries } from "../../data/queries.ts";
import { count, priceText } from "../../lib/format.ts";
import { At } from "../../ui/at.tsx";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Select } from "../../ui/field.tsx";
import { LeftText, PriceText } from "./mark-fields.tsx";
import type { Marks } from "./use-marks.ts";

export interface MarksPanelProps extends Marks {
  readonly instrument: Instrument;
  readonly bars: { readonly time: Float64Array; readonly close: Float64Array };
  readonly zone: string;
  readonly selected: string | null;
  /** Shows a mark on the chart. */
  readonly onSelect: (mark: Mark) => void;
  /** Makes one at the last bar that is shown. */
  readonly onAdd: (side: 1 | -1) => void;
}

export function MarksPanel({ marks, put, remove, instrument, bars, zone, selected, onSelect, onAdd }: MarksPanelProps) {
  const plans = useQuery(queries.plans()).data ?? [];
  const { time, close } = bars;
  const move = (mark: Mark, end: "entry" | "exit", by: number): void => {
    const at = end === "entry" ? mark.entryMs : mark.exitMs;
    if (at === null) return;
    const bar = Math.max(0, Math.min(time.length - 1, lowerBound(time, at + 1) - 1 + by));
    put({ ...mark, [`${end}Ms`]: time[bar]!, [`${end}Price`]: close[bar]! });
  };
  const momentOf = (mark: Mark, end: "entry" | "exit") => {
    const [ms, price] = end === "entry" ? [mark.entryMs, mark.entryPrice] : [mark.exitMs, mark.exitPrice];
    if (ms === null) return <span className="text-soft">no exit</span>;
    const onKeyDown = (event: KeyboardEvent): void => {
      const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (by === undefined) return;
      event.preventDefault();
      move(mark, end, by);
    };
    return (
      <button type="button" className="whitespace-nowrap hover:underline" onClick={() => onSelect(mark)} onKeyDown={onKeyDown}>
        <At ms={ms} zone={zone} /> at {priceText(price, instrument.decimals)}
      </button>
    );
  };
  return (
    <section aria-label="Marks" className="flex max-h-48 shrink-0 flex-col border-rule border-t">
      <div className="flex items-center gap-2 px-3 py-1 text-[13px]">
        <h2 className="whitespace-nowrap font-semibold">{count(marks.length, "mark")}</h2>
        <span className="min-w-0 truncate text-soft">Click or drag on the chart; left and right beside a time move it by a bar.</span>
        <span className="flex-1" />
        <Button variant="quiet" className="whitespace-nowrap" onClick={() => onAdd(1)}>
          Long at the last bar shown
        </Button>
        <Button variant="quiet" onClick={() => onAdd(-1)}>
          Short
        </Button>
      </div>
      {marks.length > 0 ? (
        <div className="min-h-0 overflow-auto">
          <table className="w-full text-[13px] [&_td]:px-2 [&_td]:py-0.5 [&_th]:px-2 [&_th]:text-left [&_th]:font-normal [&_th]:text-soft">
            <thead className="sticky top-0 bg-ground">
              <tr>
                <th>Side</th>
                <th>In</th>
                <th>Out</th>
                <th>Stop</th>
                <th>Target</th>
                <th>Note</th>
                <th>For</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {marks.map((mark) => (
                <tr key={mark.id} className={cx("border-rule/60 border-t", mark.id === selected && "bg-accent-wash")}>
                  <td>{mark.side > 0 ? "long" : "short"}</td>
                  <td>{momentOf(mark, "entry")}</td>
                  <td>{momentOf(mark, "exit")}</td>
                  {(["stop", "target"] as const).map((name) => (
                    <td key={name}>
                      <PriceText
                        label={name === "stop" ? "Stop" : "Target"}
                        value={mark[name]}
                        decimals={instrument.decimals}
                        onValue={(price) => put({ ...mark, [name]: price })}
                      />
                    </td>
                  ))}
                  <td>
                    <LeftText label="Note" value={mark.note} onValue={(note) => void put({ ...mark, note })} />
                  </td>
                  <td>
                    <Select
                      aria-label="For"
                      className="h-6 w-28"
                      value={mark.planId}
                      onChange={({ target }) => put({ ...mark, planId: target.value })}
                    >
                      <option value="">any plan</option>
                      {plans.map(({ id, title }) => (
                        <option key={id} value={id}>
                          {title}
                        </option>
                      ))}
                    </Select>
                  </td>
                  <td>
                    <button type="button" aria-label="Delete the mark" onClick={() => remove(mark)}>
                      <X size={13} aria-hidden />
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : null}
    </section>
  );
}
