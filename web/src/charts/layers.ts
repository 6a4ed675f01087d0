/**
 * What a chart draws, layer by layer, straight from typed arrays. Every layer paints only bars [from, to] and merges bars
 * that fall on one pixel column, so that half a million of them cost no more than a screen's width.
 */
import type { ChartNote, Trade } from "@plan-tester/core";
import type { Tokens } from "../lib/theme.ts";
import { columnRange } from "./extremes.ts";

/** Maps bar index and value to pixels. */
export interface Frame {
  readonly ctx: CanvasRenderingContext2D;
  readonly x: (index: number) => number;
  readonly y: (value: number) => number;
  /** Pixels from one bar to the next. */
  readonly step: number;
  readonly from: number;
  readonly to: number;
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
  readonly tokens: Tokens;
}

export interface Layer {
  /** Lowest and highest value in [from, to], for the axis; null when it has no say. */
  range(from: number, to: number): readonly [number, number] | null;
  paint(frame: Frame): void;
}

export type TokenName = keyof Tokens;

export interface LineOptions {
  readonly color: TokenName;
  readonly width?: number;
  readonly dash?: readonly number[];
  /** Fills down to this value. */
  readonly fillTo?: number;
  readonly fill?: TokenName;
  /** Draws each value so many bars to the right of where it is known. */
  readonly shift?: number;
}

/** Pixels a bar below which several share one. */
const DENSE = 0.7;

/** A line through a column; gaps where it is NaN. */
export class LineLayer implements Layer {
  readonly values: Float64Array;
  readonly #options: LineOptions;

  constructor(values: Float64Array, options: LineOptions) {
    this.values = values;
    this.#options = options;
  }

  range(from: number, to: number): readonly [number, number] | null {
    const { fillTo, shift = 0 } = this.#options;
    const range = columnRange(this.values, from - shift, to - shift);
    return range && fillTo !== undefined ? [Math.min(range[0], fillTo), Math.max(range[1], fillTo)] : range;
  }

  paint(frame: Frame): void {
    const { ctx, x: placeOf, y, step, from, to, tokens } = frame;
    const { values } = this;
    const { color, width = 1.2, dash = [], fillTo, fill, shift = 0 } = this.#options;
    if (step < DENSE && fill === undefined) return this.#paintDense(frame);
    const path = new Path2D();
    const x = (index: number): number => placeOf(index + shift);
    const first = Math.max(0, from - shift);
    const last = Math.min(values.length - 1, to - shift);
    let open = false;
    let [startX, endX] = [Number.NaN, Number.NaN];
    const point = (px: number, value: number): void => {
      if (Number.isNaN(value)) {
        open = false;
        return;
      }
      if (open) path.lineTo(px, y(value));
      else path.moveTo(px, y(value));
      open = true;
      if (Number.isNaN(startX)) startX = px;
      endX = px;
    };
    if (step >= DENSE) for (let i = first; i <= last; i++) point(x(i), values[i]!);
    else {
      // Case: several bars a pixel. The lowest and the highest of each column keep the shape.
      const perPixel = 1 / step;
      for (let start = first; start <= last; start += perPixel) {
        const range = columnRange(values, Math.floor(start), Math.min(last, Math.floor(start + perPixel) - 1));
        const px = x(Math.floor(start));
        if (!range) open = false;
        else {
          point(px, range[0]);
          if (range[1] !== range[0]) point(px, range[1]);
        }
      }
    }
    ctx.save();
    if (fill && fillTo !== undefined && !Number.isNaN(startX)) {
      const area = new Path2D(path);
      area.lineTo(endX, y(fillTo));
      area.lineTo(startX, y(fillTo));
      area.closePath();
      ctx.fillStyle = tokens[fill];
      ctx.fill(area);
    }
    ctx.strokeStyle = tokens[color];
    ctx.lineWidth = width;
    ctx.setLineDash([...dash]);
    ctx.lineJoin = "round";
    ctx.stroke(path);
    ctx.restore();
  }

  /** Upright from the lowest to the highest of each pixel, as far as to the one before: a path with its joins takes ten times as long. */
  #paintDense({ ctx, x, y, step, from, to, tokens }: Frame): void {
    const { values } = this;
    const { color, width = 1.2, shift = 0 } = this.#options;
    const path = new Path2D();
    const last = Math.min(values.length - 1, to - shift);
    const perPixel = 1 / step;
    let before: readonly [number, number] | null = null;
    for (let start = Math.max(0, from - shift); start <= last; start += perPixel) {
      const range = columnRange(values, Math.floor(start), Math.min(last, Math.floor(start + perPixel) - 1));
      if (range) {
        const px = Math.round(x(Math.floor(start) + shift)) + 0.5;
        const low = before ? Math.min(range[0], before[1]) : range[0];
        const high = before ? Math.max(range[1], before[0]) : range[1];
        const [top, bottom] = [y(high), y(low)];
        path.moveTo(px, top);
        path.lineTo(px, Math.abs(bottom - top) < 1 ? top + 1 : bottom);
      }
      before = range;
    }
    ctx.save();
    ctx.strokeStyle = tokens[color];
    ctx.lineWidth = Math.max(1, Math.round(width));
    ctx.stroke(path);
    ctx.restore();
  }
}

export interface Candles {
  readonly open: Float64Array;
  readonly high: Float64Array;
  readonly low: Float64Array;
  readonly close: Float64Array;
}

/** Bars in ink: rising ones hollow, falling ones solid. */
export class CandleLayer implements Layer {
  readonly #bars: Candles;

  constructor(bars: Candles) {
    this.#bars = bars;
  }

  range(from: number, to: number): readonly [number, number] | null {
    const lows = columnRange(this.#bars.low, from, to);
    const highs = columnRange(this.#bars.high, from, to);
    return lows && highs ? [lows[0], highs[1]] : null;
  }

  paint({ ctx, x, y, step, from, to, tokens }: Frame): void {
    const { open, high, low, close } = this.#bars;
    const first = Math.max(0, from);
    const last = Math.min(close.length - 1, to);
    ctx.save();
    ctx.strokeStyle = tokens.ink;
    ctx.fillStyle = tokens.ink;
    ctx.lineWidth = 1;
    const wicks = new Path2D();
    if (step < 2) {
      const perPixel = Math.max(1, 1 / step);
      for (let start = first; start <= last; start += perPixel) {
        const [a, b] = [Math.floor(start), Math.min(last, Math.floor(start + perPixel) - 1)];
        const lows = columnRange(low, a, Math.max(a, b));
        const highs = columnRange(high, a, Math.max(a, b));
        if (!lows || !highs) continue;
        const px = Math.round(x(a)) + 0.5;
        wicks.moveTo(px, y(highs[1]));
        wicks.lineTo(px, Math.max(y(lows[0]), y(highs[1]) + 1));
      }
      ctx.stroke(wicks);
      ctx.restore();
      return;
    }
    const half = Math.max(0.5, Math.min(7, step * 0.34));
    const hollow = new Path2D();
    const solid = new Path2D();
    for (let i = first; i <= last; i++) {
      const px = Math.round(x(i)) + 0.5;
      const [o, c] = [y(open[i]!), y(close[i]!)];
      const [top, bottom] = [Math.min(o, c), Math.max(o, c)];
      wicks.moveTo(px, y(high[i]!));
      wicks.lineTo(px, top);
      wicks.moveTo(px, bottom);
      wicks.lineTo(px, y(low[i]!));
      (close[i]! >= open[i]! ? hollow : solid).rect(px - half, top, half * 2, Math.max(1, bottom - top));
    }
    ctx.stroke(wicks);
    ctx.fill(solid);
    ctx.fillStyle = tokens.ground;
    ctx.fill(hollow);
    ctx.stroke(hollow);
    ctx.restore();
  }
}

function hatch(ctx: CanvasRenderingContext2D, color: string, rising: boolean): CanvasPattern | null {
  const tile = document.createElement("canvas");
  tile.width = 6;
  tile.height = 6;
  const pen = tile.getContext("2d")!;
  pen.strokeStyle = color;
  pen.lineWidth = 1;
  pen.beginPath();
  for (const shift of [-6, 0, 6]) {
    pen.moveTo(shift, rising ? 6 : 0);
    pen.lineTo(shift + 6, rising ? 0 : 6);
  }
  pen.stroke();
  return ctx.createPattern(tile, "repeat");
}

/** Trades as ribbons from entry to exit between the two prices, with stop and target as dotted rails. */
export class TradeLayer implements Layer {
  readonly #trades: readonly Trade[];
  selected: number | null;

  constructor(trades: readonly Trade[], selected: number | null) {
    this.#trades = trades;
    this.selected = selected;
  }

  range(): null {
    return null;
  }

  /** Trades that touch [from, to]; they come in exit order. */
  #visible(from: number, to: number): Trade[] {
    return this.#trades.filter((trade) => trade.exitBar >= from && trade.entryBar <= to);
  }

  paint({ ctx, x, y, step, from, to, tokens, left, right }: Frame): void {
    const visible = this.#visible(from, to);
    if (visible.length === 0) return;
    const dense = visible.length > (right - left) / 5;
    const patterns = { gain: hatch(ctx, tokens.gain, true), loss: hatch(ctx, tokens.loss, false) };
    ctx.save();
    ctx.font = "600 11px 'Atkinson Hyperlegible Next Variable', sans-serif";
    let lastTagEnd = Number.NEGATIVE_INFINITY;
    // Dense: of those that fall on the same pixels one is enough.
    const drawn = { gain: -1, loss: -1 };
    for (const trade of visible) {
      const won = trade.net > 0;
      if (dense) {
        const pixel = Math.floor(x(trade.exitBar));
        if (drawn[won ? "gain" : "loss"] === pixel) continue;
        drawn[won ? "gain" : "loss"] = pixel;
      }
      const color = won ? tokens.gain : tokens.loss;
      const [x0, x1] = [x(trade.entryBar), Math.max(x(trade.exitBar), x(trade.entryBar) + 2)];
      const [y0, y1] = [y(trade.entryPrice), y(trade.exitPrice)];
      const [top, height] = [Math.min(y0, y1), Math.max(1.5, Math.abs(y1 - y0))];
      ctx.globalAlpha = 0.6;
      ctx.fillStyle = won ? tokens["gain-wash"] : tokens["loss-wash"];
      ctx.fillRect(x0, top, x1 - x0, height);
      const pattern = won ? patterns.gain : patterns.loss;
      if (pattern && !dense) {
        ctx.globalAlpha = 0.5;
        ctx.fillStyle = pattern;
        ctx.fillRect(x0, top, x1 - x0, height);
      }
      ctx.globalAlpha = 1;
      ctx.strokeStyle = color;
      ctx.lineWidth = trade.id === this.selected ? 2.5 : 1;
      ctx.setLineDash([]);
      ctx.strokeRect(x0, top, x1 - x0, height);
      if (dense) continue;
      this.#rails(ctx, trade, x, y, x1, tokens);
      const label = trade.entryTag || (trade.side > 0 ? "long" : "short");
      if (step > 1.2 && x0 > lastTagEnd) {
        ctx.fillStyle = tokens.ink;
        ctx.fillText(label, x0 - 2, trade.side > 0 ? Math.max(y0, y1) + 13 : Math.min(y0, y1) - 5);
        lastTagEnd = x0 + ctx.measureText(label).width + 8;
      }
      // Entry side: an arrow head that points up for long and down for short.
      ctx.fillStyle = color;
      ctx.beginPath();
      ctx.moveTo(x0 - 7, y0 + trade.side * 4);
      ctx.lineTo(x0 - 1, y0 + trade.side * 4);
      ctx.lineTo(x0 - 4, y0 - trade.side * 3);
      ctx.fill();
    }
    ctx.restore();
  }

  #rails(ctx: CanvasRenderingContext2D, trade: Trade, x: Frame["x"], y: Frame["y"], endX: number, tokens: Tokens): void {
    ctx.setLineDash([1.5, 3]);
    ctx.lineWidth = 1.3;
    trade.rails.forEach((rail, i) => {
      const next = trade.rails[i + 1];
      const [a, b] = [x(rail.barIndex), next ? x(next.barIndex) : endX];
      for (const [level, color] of [
        [rail.stop, tokens.loss],
        [rail.target, tokens.gain],
      ] as const) {
        if (level === null) continue;
        ctx.strokeStyle = color;
        ctx.beginPath();
        ctx.moveTo(a, y(level));
        ctx.lineTo(Math.max(b, a + 3), y(level));
        ctx.stroke();
      }
    });
    ctx.setLineDash([]);
  }

  /** The trade whose ribbon holds a pixel, the latest first. */
  at(px: number, frame: Pick<Frame, "x" | "from" | "to">): Trade | null {
    const slack = 4;
    return (
      this.#visible(frame.from, frame.to).findLast(
        (trade) => px >= frame.x(trade.entryBar) - slack && px <= frame.x(trade.exitBar) + slack,
      ) ?? null
    );
  }
}

/** Texts that the plan put on the chart: at their price, or above the bar. */
export class NoteLayer implements Layer {
  readonly #notes: readonly ChartNote[];
  readonly #high: Float64Array;

  constructor(notes: readonly ChartNote[], high: Float64Array) {
    this.#notes = notes;
    this.#high = high;
  }

  range(): null {
    return null;
  }

  paint({ ctx, x, y, step, from, to, tokens }: Frame): void {
    // Closer than this the texts would cover one another and the bars.
    if (step < 1.2) return;
    ctx.save();
    ctx.font = "italic 11px 'Atkinson Hyperlegible Next Variable', sans-serif";
    let lastEnd = Number.NEGATIVE_INFINITY;
    for (const { barIndex, price, text } of this.#notes) {
      if (barIndex < from || barIndex > to) continue;
      const left = x(barIndex);
      if (left < lastEnd) continue;
      const level = price ?? this.#high[barIndex];
      if (level === undefined) continue;
      // Away from the bar, past where a trade's tag stands, on a plate of its own.
      const isAbove = level >= (this.#high[barIndex] ?? level);
      const baseline = y(level) + (isAbove ? -20 : 30);
      const { width } = ctx.measureText(text);
      ctx.fillStyle = tokens.sheet;
      ctx.fillRect(left - 3, baseline - 11, width + 6, 15);
      ctx.fillStyle = tokens.ink;
      ctx.fillText(text, left, baseline);
      lastEnd = left + width + 8;
    }
    ctx.restore();
  }
}
