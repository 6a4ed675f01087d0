/** Shows a PaneChart and moves through it: wheel zooms at the pointer, dragging pans, keys do both, a crosshair reads values. */
import {
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
  type WheelEvent,
} from "react";
import { readTokens, useTheme } from "../lib/theme.ts";
import { Band, type ChartPoint, type Drawn, DrawnBox } from "./chart-boxes.tsx";
import { type Pane, PaneChart, type View } from "./pane-chart.ts";

export interface PaneChartViewProps {
  readonly label: string;
  readonly panes: readonly Pane[];
  readonly time: Float64Array;
  readonly zone: string;
  readonly view: View;
  readonly onView: (view: View) => void;
  /** What the readout says of a bar. */
  readonly readout: (index: number) => ReactNode;
  readonly onPick?: (index: number, px: number, x: (index: number) => number) => void;
  /** Makes dragging choose a stretch of bars; with Shift it moves, as it does without this. */
  readonly onBrush?: (from: number, to: number) => void;
  /** Makes a click or a drag in the first pane draw; with Shift dragging moves, as it does without this. Told when it is done. */
  readonly onDraw?: (drawn: Drawn) => void;
  /** What is said beside what is drawn. */
  readonly drawnWords?: (drawn: Drawn) => string;
  /** What was drawn last and stays to be seen. */
  readonly drawn?: Drawn | null;
  /** A stretch to mark. */
  readonly marked?: View | null;
  /** A bar to mark by a line. */
  readonly cursor?: number | null;
  readonly className?: string;
}

const LEAST_BARS = 10;

/** A view inside [0, length - 1], never shorter than a few bars. */
export function clampView({ from, to }: View, length: number): View {
  const span = Math.min(Math.max(to - from, Math.min(LEAST_BARS, length - 1)), length - 1 + 0.0001);
  const start = Math.max(-span * 0.02, Math.min(from, length - 1 - span * 0.98));
  return { from: start, to: start + span };
}

const ordered = (a: number, b: number, length: number): View => ({
  from: Math.max(0, Math.round(Math.min(a, b))),
  to: Math.min(length - 1, Math.round(Math.max(a, b))),
});

/** What can be asked for: where a pane has a grid, the nearest value on it. */
const onGrid = ({ pane: { grid }, value }: { readonly pane: Pane; readonly value: number }): number =>
  grid ? Math.round(value / grid) * grid : value;

interface Pointer {
  readonly x: number;
  readonly y: number;
  readonly index: number;
}

export function PaneChartView({
  label,
  panes,
  time,
  zone,
  view,
  onView,
  readout,
  onPick,
  onBrush,
  onDraw,
  drawnWords,
  drawn = null,
  marked = null,
  cursor = null,
  className,
}: PaneChartViewProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<PaneChart | null>(null);
  const drag = useRef<{ x: number; view: View; moved: boolean; index: number; isBrush: boolean; point: ChartPoint | null } | null>(null);
  const [brush, setBrush] = useState<View | null>(null);
  const [drawing, setDrawing] = useState<Drawn | null>(null);
  const [pointer, setPointer] = useState<Pointer | null>(null);
  const theme = useTheme();
  const latestView = useRef(view);
  latestView.current = view;

  useLayoutEffect(() => {
    const made = new PaneChart(canvas.current!, panes, time, zone, latestView.current, readTokens());
    chart.current = made;
    return () => {
      made.destroy();
      chart.current = null;
    };
  }, [panes, time, zone]);

  useLayoutEffect(() => chart.current?.setView(view), [view]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme decides what the tokens are
  useEffect(() => chart.current?.setTokens(readTokens()), [theme]);

  const { length } = time;
  const zoom = (factor: number, at: number): void => {
    const { from, to } = latestView.current;
    onView(clampView({ from: at - (at - from) * factor, to: at + (to - at) * factor }, length));
  };
  const pan = (bars: number): void => {
    const { from, to } = latestView.current;
    onView(clampView({ from: from + bars, to: to + bars }, length));
  };

  const place = (event: PointerEvent | WheelEvent): { x: number; y: number } => {
    const { left, top } = box.current!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };

  const onWheel = (event: WheelEvent): void => {
    const at = chart.current?.indexAt(place(event).x);
    if (at === undefined) return;
    if (Math.abs(event.deltaX) > Math.abs(event.deltaY) || event.shiftKey)
      pan(((event.deltaX || event.deltaY) / 600) * (view.to - view.from));
    else zoom(Math.exp(Math.max(-0.6, Math.min(0.6, event.deltaY / 500))), at);
  };

  /** The bar and the value of the first pane under the pointer; the value is held inside the pane. */
  const pointAt = (event: PointerEvent): ChartPoint | null => {
    const made = chart.current;
    if (!made) return null;
    const { x, y } = place(event);
    const over = made.paneAt(y);
    if (!over || over.pane.id !== panes[0]!.id) return null;
    return { index: Math.max(0, Math.min(length - 1, Math.round(made.indexAt(x)))), value: over.value };
  };

  const onPointerDown = (event: PointerEvent): void => {
    drag.current = {
      x: event.clientX,
      view,
      moved: false,
      index: chart.current?.indexAt(place(event).x) ?? 0,
      isBrush: onBrush !== undefined && !event.shiftKey,
      point: onDraw && !event.shiftKey ? pointAt(event) : null,
    };
    (event.target as Element).setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent): void => {
    const { x, y } = place(event);
    if (!chart.current) return;
    const start = drag.current;
    if (start) {
      const perPixel = (start.view.to - start.view.from) / Math.max(1, chart.current.area.right - chart.current.area.left);
      if (Math.abs(event.clientX - start.x) > 3) start.moved = true;
      const shift = (start.x - event.clientX) * perPixel;
      const to = start.point && pointAt(event);
      if (start.moved && start.point) {
        if (to) setDrawing({ from: start.point, to });
      } else if (start.moved && start.isBrush) setBrush(ordered(start.index, chart.current.indexAt(x), length));
      else if (start.moved) onView(clampView({ from: start.view.from + shift, to: start.view.to + shift }, length));
    }
    setPointer({ x, y, index: Math.max(0, Math.min(length - 1, Math.round(chart.current.indexAt(x)))) });
  };
  const onPointerUp = (event: PointerEvent): void => {
    const start = drag.current;
    drag.current = null;
    const made = chart.current;
    if (start?.isBrush && brush && onBrush) onBrush(brush.from, brush.to);
    if (start?.point && onDraw) onDraw(drawing ?? { from: start.point, to: start.point });
    setDrawing(null);
    setBrush(null);
    if (start && !start.moved && made && onPick)
      onPick(Math.round(made.indexAt(place(event).x)), place(event).x, (index) => made.pixelOf(index));
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    const span = view.to - view.from;
    const centre = (view.from + view.to) / 2;
    const acts: Record<string, () => void> = {
      ArrowLeft: () => pan(-span / 8),
      ArrowRight: () => pan(span / 8),
      ArrowUp: () => zoom(0.7, centre),
      ArrowDown: () => zoom(1.4, centre),
      "+": () => zoom(0.7, centre),
      "-": () => zoom(1.4, centre),
      Home: () => pan(-length),
      End: () => pan(length),
      "0": () => onView({ from: 0, to: length - 1 }),
      ...(onBrush ? { b: () => onBrush(Math.max(0, Math.ceil(view.from)), Math.min(length - 1, Math.floor(view.to))) } : {}),
    };
    const act = acts[event.key];
    if (!act || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    act();
  };

  const shownBox = drawing ?? drawn;
  const over = pointer && chart.current ? chart.current.paneAt(pointer.y) : null;
  const area = chart.current?.area;
  return (
    <section
      ref={box}
      aria-label={`${label}. Arrow keys move, up and down zoom, 0 shows all${onBrush ? ", b looks at what is shown only" : ""}.`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it takes the arrow keys
      tabIndex={0}
      className={`relative touch-none select-none ${className ?? ""}`}
      onWheel={onWheel}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerLeave={() => setPointer(null)}
      onKeyDown={onKeyDown}
    >
      <canvas ref={canvas} />
      <Band view={brush ?? marked} chart={chart.current} isFaint={brush === null} />
      {shownBox && chart.current ? (
        <DrawnBox drawn={shownBox} chart={chart.current} pane={panes[0]!.id} words={drawnWords?.(shownBox) ?? ""} />
      ) : null}
      {cursor !== null && area && chart.current && cursor >= view.from && cursor <= view.to ? (
        <div
          className="pointer-events-none absolute border-accent border-l-2"
          style={{ left: chart.current.pixelOf(cursor), top: area.top, height: area.bottom - area.top }}
        />
      ) : null}
      {pointer && area && over ? (
        <>
          <div
            className="pointer-events-none absolute border-faint border-l border-dashed"
            style={{ left: chart.current!.pixelOf(pointer.index), top: area.top, height: area.bottom - area.top }}
          />
          <div
            className="pointer-events-none absolute border-faint border-t border-dashed"
            style={{ top: pointer.y, left: area.left, width: area.right - area.left }}
          />
          <div
            className="pointer-events-none absolute right-0 rounded-xs bg-ink px-1 text-[11px] text-ground"
            style={{ top: pointer.y - 8 }}
          >
            {over.pane.format(onGrid(over))}
          </div>
          <div className="pointer-events-none absolute top-0 left-1 max-w-[85%] rounded-xs bg-sheet/90 px-1.5 py-0.5 text-[12px]">
            {readout(pointer.index)}
          </div>
        </>
      ) : null}
    </section>
  );
}
