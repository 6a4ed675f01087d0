/**
 * A chart of panes one above the other on a common bar axis. Chart.js lays out scales and canvas; one controller of ours
 * hands each dataset to its layer. View changes redraw without animation.
 */
import { Chart, DatasetController, LinearScale, PointElement } from "chart.js";
import type { Tokens } from "../lib/theme.ts";
import type { Frame, Layer } from "./layers.ts";
import { timeTicks } from "./time-ticks.ts";

export interface Pane {
  readonly id: string;
  /** Share of the height. */
  readonly weight: number;
  readonly layers: readonly Layer[];
  readonly format: (value: number) => string;
  /** Only values that are whole multiples of this are labelled, e.g. a tick size. */
  readonly grid?: number;
  /** The highest value shown. */
  readonly max?: number;
  /** Its lowest and highest value as given, without labels: for rows that are no scale. */
  readonly rows?: number;
}

export interface View {
  readonly from: number;
  readonly to: number;
}

interface LayerDataset {
  layer: Layer;
  yAxisID: string;
}

declare module "chart.js" {
  interface ChartTypeRegistry {
    layer: {
      chartOptions: object;
      datasetOptions: LayerDataset;
      defaultDataPoint: number;
      metaExtensions: object;
      parsedDataType: { x: number; y: number };
      scales: "linear";
    };
  }
}

let currentFrame: Pick<Frame, "from" | "to" | "tokens">;

class LayerController extends DatasetController<"layer"> {
  static id = "layer";
  static defaults = { dataElementType: "point", datasetElementType: null };

  override parse(): void {
    // Layers read their own typed arrays.
  }

  override update(): void {
    // Nothing is kept for each point.
  }

  override draw(): void {
    const { chart } = this;
    const { layer, yAxisID } = this.getDataset() as unknown as LayerDataset;
    const [x, y] = [chart.scales.x!, chart.scales[yAxisID]!];
    // Chart.js keeps pixels in 16 bits, so places are counted from the axis' own end rather than from bar 0.
    const start = x.min;
    const left = x.getPixelForValue(start);
    const step = (x.getPixelForValue(x.max) - left) / (x.max - start);
    const { ctx } = chart;
    ctx.save();
    ctx.beginPath();
    ctx.rect(x.left, y.top - 1, x.right - x.left, y.bottom - y.top + 2);
    ctx.clip();
    const base = y.getPixelForValue(y.min);
    const perUnit = (y.getPixelForValue(y.max) - base) / (y.max - y.min);
    const { min } = y;
    layer.paint({
      ...currentFrame,
      ctx,
      step,
      x: (index) => left + (index - start) * step,
      y: (value) => base + (value - min) * perUnit,
      left: x.left,
      right: x.right,
      top: y.top,
      bottom: y.bottom,
    });
    ctx.restore();
  }
}

Chart.register(LayerController, LinearScale, PointElement);

const PIXELS_PER_TICK = 84;

export class PaneChart {
  readonly #chart: Chart<"layer", number[]>;
  readonly #time: Float64Array;
  readonly #zone: string;
  readonly #panes: readonly Pane[];
  #tokens: Tokens;
  #view: View;
  #labels = new Map<number, string>();

  constructor(canvas: HTMLCanvasElement, panes: readonly Pane[], time: Float64Array, zone: string, view: View, tokens: Tokens) {
    this.#panes = panes;
    this.#time = time;
    this.#zone = zone;
    this.#view = view;
    this.#tokens = tokens;
    this.#chart = new Chart<"layer", number[]>(canvas, {
      type: "layer",
      // Chart.js draws the first dataset last; here layers are painted in their order.
      data: {
        labels: [],
        datasets: panes.flatMap((pane) => pane.layers.map((layer) => ({ data: [], layer, yAxisID: pane.id })).reverse()),
      },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        events: [],
        plugins: { legend: { display: false }, tooltip: { enabled: false } },
        layout: { padding: { top: 6, right: 4 } },
        scales: this.#scales(),
      },
      plugins: [
        {
          id: "frame",
          beforeDraw: () => void (currentFrame = { from: Math.floor(this.#view.from), to: Math.ceil(this.#view.to), tokens: this.#tokens }),
        },
      ],
    });
  }

  #scales() {
    const { rule, soft } = this.#tokens;
    const font = { family: "'Atkinson Hyperlegible Next Variable', sans-serif", size: 11 };
    const { from, to } = this.#view;
    const scales: Record<string, unknown> = {
      x: {
        type: "linear",
        min: from - 0.5,
        max: to + 0.5,
        grid: { color: rule, lineWidth: 0.6 },
        border: { color: rule },
        ticks: {
          color: soft,
          font,
          maxRotation: 0,
          autoSkip: false,
          callback: (value: number | string) => this.#labels.get(Number(value)) ?? "",
        },
        afterBuildTicks: (axis: { width: number; ticks: { value: number }[] }) => {
          const width = axis.width || this.#chart?.width || 600;
          const ticks = timeTicks(this.#time, this.#zone, this.#view.from, this.#view.to, Math.max(2, Math.floor(width / PIXELS_PER_TICK)));
          this.#labels = new Map(ticks.map(({ value, label }) => [value, label]));
          axis.ticks = ticks.map(({ value }) => ({ value }));
        },
      },
    };
    for (const pane of this.#panes) {
      const [min, max] = this.#rangeOf(pane);
      scales[pane.id] = {
        type: "linear",
        position: "right",
        stack: "panes",
        stackWeight: pane.weight,
        offset: false,
        min,
        max,
        grid: { color: rule, lineWidth: 0.6, display: pane.rows === undefined },
        border: { display: false },
        ticks: {
          display: pane.rows === undefined,
          color: soft,
          font,
          maxTicksLimit: Math.max(3, labelsOf(pane)),
          callback: (value: number | string) => pane.format(Number(value)),
          ...(pane.grid ? { stepSize: niceStep(max - min, pane.grid, labelsOf(pane)) } : {}),
          includeBounds: false,
        },
        afterFit: (axis: { width: number }) => {
          axis.width = 66;
        },
      };
    }
    return scales as never;
  }

  #rangeOf(pane: Pane): readonly [number, number] {
    if (pane.rows !== undefined) return [0, pane.rows];
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    for (const layer of pane.layers) {
      const range = layer.range(Math.floor(this.#view.from), Math.ceil(this.#view.to));
      if (!range) continue;
      low = Math.min(low, range[0]);
      high = Math.max(high, range[1]);
    }
    if (!(low <= high)) return [0, 1];
    const pad = (high - low) * 0.06 || Math.abs(high) * 0.01 || 1;
    return [low - pad, pane.max === undefined ? high + pad : Math.min(pane.max, high + pad)];
  }

  #refresh(): void {
    this.#chart.options.scales = this.#scales();
    this.#chart.update("none");
  }

  setView(view: View): void {
    this.#view = view;
    // Only what a view changes: all of the options anew would be resolved again, which takes longer than to draw.
    const scales = this.#chart.options.scales as unknown as Record<string, { min: number; max: number; ticks: { stepSize?: number } }>;
    Object.assign(scales.x!, { min: view.from - 0.5, max: view.to + 0.5 });
    for (const pane of this.#panes) {
      const [min, max] = this.#rangeOf(pane);
      Object.assign(scales[pane.id]!, { min, max });
      if (pane.grid) scales[pane.id]!.ticks.stepSize = niceStep(max - min, pane.grid, labelsOf(pane));
    }
    this.#chart.update("none");
  }

  setTokens(tokens: Tokens): void {
    this.#tokens = tokens;
    this.#refresh();
  }

  redraw(): void {
    this.#chart.draw();
  }

  indexAt(px: number): number {
    return this.#chart.scales.x!.getValueForPixel(px) ?? 0;
  }

  pixelOf(index: number): number {
    return this.#chart.scales.x!.getPixelForValue(index);
  }

  /** Pane and value under a pixel, or null outside all panes. */
  paneAt(py: number): { pane: Pane; value: number } | null {
    for (const pane of this.#panes) {
      const scale = this.#chart.scales[pane.id]!;
      if (py >= scale.top && py <= scale.bottom) return { pane, value: scale.getValueForPixel(py) ?? Number.NaN };
    }
    return null;
  }

  /** Where a value of a pane lies. */
  pixelOfValue(pane: string, value: number): number {
    return this.#chart.scales[pane]!.getPixelForValue(value);
  }

  get area(): { left: number; right: number; top: number; bottom: number } {
    const { left, right, top, bottom } = this.#chart.chartArea;
    return { left, right, top, bottom };
  }

  destroy(): void {
    this.#chart.destroy();
  }
}

/** Labels that there is room for. */
const labelsOf = ({ weight }: Pane): number => Math.max(2, Math.round(weight * 2));

/** A round step of whole grid units that makes at most `most` labels. */
function niceStep(reach: number, grid: number, most: number): number {
  const raw = reach / most / grid;
  const power = 10 ** Math.floor(Math.log10(Math.max(raw, 1)));
  const factor = [1, 2, 5, 10].find((candidate) => candidate * power >= raw) ?? 10;
  return Math.max(1, Math.round(factor * power)) * grid;
}
