/** What lies over a chart: a stretch that is marked, and a box that is drawn from one place to another. */
import type { PaneChart, View } from "./pane-chart.ts";

/** A place in the first pane. */
export interface ChartPoint {
  readonly index: number;
  readonly value: number;
}

/** What is drawn from one place to another while the pointer is down. */
export interface Drawn {
  readonly from: ChartPoint;
  readonly to: ChartPoint;
}

/** A stretch of bars, marked over all panes. */
export function Band({
  view,
  chart,
  isFaint,
}: {
  readonly view: View | null;
  readonly chart: PaneChart | null;
  readonly isFaint: boolean;
}) {
  if (!view || !chart) return null;
  const { left, right, top, bottom } = chart.area;
  const [from, to] = [Math.max(left, chart.pixelOf(view.from)), Math.min(right, chart.pixelOf(view.to))];
  if (!(to > from)) return null;
  return (
    <div
      className={`pointer-events-none absolute border-accent border-x ${isFaint ? "bg-accent/5" : "bg-accent/15"}`}
      style={{ left: from, width: to - from, top, height: bottom - top }}
    />
  );
}

/** A box from one place to the other, with its words. */
export function DrawnBox({
  drawn,
  chart,
  pane,
  words,
}: {
  readonly drawn: Drawn;
  readonly chart: PaneChart;
  readonly pane: string;
  readonly words: string;
}) {
  const { left, right, top } = chart.area;
  const [x0, x1] = [chart.pixelOf(drawn.from.index), chart.pixelOf(drawn.to.index)];
  const [y0, y1] = [chart.pixelOfValue(pane, drawn.from.value), chart.pixelOfValue(pane, drawn.to.value)];
  const [boxLeft, boxTop] = [Math.max(left, Math.min(x0, x1)), Math.max(top, Math.min(y0, y1))];
  const width = Math.max(1, Math.min(right, Math.max(x0, x1)) - boxLeft);
  return (
    <div
      className="pointer-events-none absolute border border-accent bg-accent/10"
      style={{ left: boxLeft, top: boxTop, width, height: Math.max(1, Math.max(y0, y1) - boxTop) }}
    >
      <span
        className={`absolute top-full mt-1 whitespace-nowrap rounded-xs bg-ink px-1.5 py-0.5 text-[12px] text-ground ${boxLeft > (left + right) / 2 ? "right-0" : "left-0"}`}
      >
        {words}
      </span>
    </div>
  );
}
