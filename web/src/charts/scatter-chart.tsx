/** Points by two numbers each, with a line across that can be moved: by dragging, and by the slider that belongs to it. */
import { Chart, LinearScale, PointElement, ScatterController } from "chart.js";
import { type PointerEvent, useLayoutEffect, useRef } from "react";
import { readTokens, type Tokens, useTheme } from "../lib/theme.ts";

Chart.register(ScatterController, LinearScale, PointElement);

export interface ScatterChartProps {
  readonly label: string;
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly xTitle: string;
  readonly yTitle: string;
  /** Where the line stands, in units of x; null for none. */
  readonly line: number | null;
  readonly onLine?: (value: number) => void;
  /** Whether x begins at 0. */
  readonly fromZero?: boolean;
  readonly onPick: (index: number) => void;
  readonly className?: string;
}

const FONT = { family: "'Atkinson Hyperlegible Next Variable', sans-serif", size: 11 };

function optionsOf(tokens: Tokens, xTitle: string, yTitle: string, fromZero: boolean) {
  const scale = (title: string) => ({
    grid: { color: tokens.rule, lineWidth: 0.6 },
    border: { color: tokens.rule },
    ticks: { color: tokens.soft, font: FONT, maxTicksLimit: 6 },
    title: { display: true, text: title, color: tokens.soft, font: FONT, padding: 0 },
  });
  return {
    animation: false as const,
    responsive: true,
    maintainAspectRatio: false,
    events: [],
    parsing: false as const,
    plugins: { legend: { display: false }, tooltip: { enabled: false } },
    scales: { x: { ...scale(xTitle), ...(fromZero ? { min: 0 } : {}) }, y: scale(yTitle) },
  };
}

export function ScatterChart({ label, x, y, xTitle, yTitle, line, onLine, fromZero = true, onPick, className }: ScatterChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<"scatter"> | null>(null);
  const latest = useRef(line);
  latest.current = line;
  const dragging = useRef(false);
  const theme = useTheme();

  // biome-ignore lint/correctness/useExhaustiveDependencies: the theme decides what the tokens are
  useLayoutEffect(() => {
    const tokens = readTokens();
    const points = (won: boolean) => Array.from(x, (value, i) => ({ x: value, y: y[i]! })).filter((point) => point.y > 0 === won);
    const made = new Chart<"scatter">(canvas.current!, {
      type: "scatter",
      data: {
        datasets: [
          {
            data: points(true),
            pointStyle: "circle",
            pointRadius: 3,
            borderColor: tokens.gain,
            backgroundColor: "transparent",
            borderWidth: 1.2,
          },
          { data: points(false), pointStyle: "crossRot", pointRadius: 3.4, borderColor: tokens.loss, borderWidth: 1.2 },
        ],
      },
      options: optionsOf(tokens, xTitle, yTitle, fromZero),
      plugins: [
        {
          id: "line",
          afterDraw: ({ ctx, scales, chartArea }) => {
            if (latest.current === null) return;
            const at = Math.min(chartArea.right, scales.x!.getPixelForValue(latest.current));
            ctx.save();
            ctx.strokeStyle = tokens.accent;
            ctx.lineWidth = 2;
            ctx.beginPath();
            ctx.moveTo(at, chartArea.top);
            ctx.lineTo(at, chartArea.bottom);
            ctx.stroke();
            ctx.restore();
          },
        },
      ],
    });
    chart.current = made;
    return () => {
      made.destroy();
      chart.current = null;
    };
  }, [x, y, xTitle, yTitle, fromZero, theme]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the line is drawn from its latest place
  useLayoutEffect(() => chart.current?.draw(), [line]);

  const valueAt = (event: PointerEvent): number => {
    const { left } = canvas.current!.getBoundingClientRect();
    return Math.max(0, chart.current?.scales.x?.getValueForPixel(event.clientX - left) ?? 0);
  };
  const nearest = (event: PointerEvent): number | null => {
    const made = chart.current;
    if (!made) return null;
    const { left, top } = canvas.current!.getBoundingClientRect();
    const [px, py] = [event.clientX - left, event.clientY - top];
    let [found, best] = [-1, 64];
    for (let i = 0; i < x.length; i++) {
      const away = (made.scales.x!.getPixelForValue(x[i]!) - px) ** 2 + (made.scales.y!.getPixelForValue(y[i]!) - py) ** 2;
      if (away < best) [found, best] = [i, away];
    }
    return found < 0 ? null : found;
  };
  return (
    <div
      role="img"
      aria-label={label}
      className={`relative touch-none ${className ?? ""}`}
      onPointerDown={(event) => {
        const index = nearest(event);
        if (index !== null) return onPick(index);
        if (!onLine) return;
        dragging.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
        onLine(valueAt(event));
      }}
      onPointerMove={(event) => dragging.current && onLine?.(valueAt(event))}
      onPointerUp={() => {
        dragging.current = false;
      }}
    >
      <canvas ref={canvas} />
    </div>
  );
}
