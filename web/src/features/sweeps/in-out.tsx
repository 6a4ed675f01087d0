/** In-sample against out-of-sample, every variant a mark: does being better there say anything about here? */
import { ranksOf } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { ScatterChart } from "../../charts/scatter-chart.tsx";
import { SWEEP_DEFINITIONS } from "../../lib/aims.ts";
import { number } from "../../lib/format.ts";
import { Select } from "../../ui/field.tsx";
import { Empty } from "../../ui/states.tsx";
import { type SweepViewProps, valueAt, WIDTH } from "./sweep-view.ts";

export function InOut(props: SweepViewProps) {
  const { variants, figures, stretches, onSelect } = props;
  const [figure, setFigure] = useState(props.aim % WIDTH);
  const points = useMemo(() => {
    const found: number[] = [];
    if (stretches === 2)
      variants.forEach((_variant, i) => {
        const view = { figures, stretches };
        if (Number.isFinite(valueAt(view, i, figure)) && Number.isFinite(valueAt(view, i, WIDTH + figure))) found.push(i);
      });
    const of = (column: number): Float64Array => Float64Array.from(found, (i) => valueAt({ figures, stretches }, i, column));
    return { found, x: of(figure), y: of(WIDTH + figure) };
  }, [variants, figures, stretches, figure]);
  if (stretches === 1)
    return (
      <Empty title="No later period was tested">Start the sweep with an out-of-sample period to set the two against each other.</Empty>
    );
  const { label } = SWEEP_DEFINITIONS[figure]!;
  const link = rankCorrelation(points.x, points.y);
  return (
    <div className="flex h-full flex-col gap-2 overflow-auto p-3">
      <label className="flex items-center gap-2 text-soft">
        Figure
        <Select value={figure} onChange={(event) => setFigure(Number(event.target.value))} className="w-56">
          {SWEEP_DEFINITIONS.map(({ key, label: name }, i) => (
            <option key={key} value={i}>
              {name}
            </option>
          ))}
        </Select>
      </label>
      <ScatterChart
        label={`${label} in-sample against out-of-sample; the table of the sweep says the same`}
        x={points.x}
        y={points.y}
        xTitle={`${label}, in-sample`}
        yTitle={`${label}, out-of-sample`}
        line={null}
        fromZero={false}
        onPick={(index) => onSelect(points.found[index]!)}
        className="min-h-72 flex-1"
      />
      <p className="text-[13px]">
        Rank correlation <strong>{number(link, 2)}</strong> over {number(points.found.length)} variants:{" "}
        {link === null
          ? "too few to tell."
          : link > 0.5
            ? "what was better before tended to be better after."
            : link < -0.2
              ? "what was better before tended to be worse after: the ranking is of no use here."
              : "the ranking before says little about after."}
      </p>
    </div>
  );
}

/** Spearman 1904: the correlation of ranks, ties at their mean rank; null under 3 points or without variation. */
export function rankCorrelation(x: ArrayLike<number>, y: ArrayLike<number>): number | null {
  const n = x.length;
  if (n < 3) return null;
  const [a, b] = [ranksOf(x), ranksOf(y)];
  let [xy, xx, yy] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    xy += (a[i]! - 0.5) * (b[i]! - 0.5);
    xx += (a[i]! - 0.5) ** 2;
    yy += (b[i]! - 0.5) ** 2;
  }
  return xx > 0 && yy > 0 ? xy / Math.sqrt(xx * yy) : null;
}
