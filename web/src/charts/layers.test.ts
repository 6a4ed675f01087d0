import type { Trade } from "@plan-tester/core";
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { Tokens } from "../lib/theme.ts";
import { CandleLayer, type Frame, LineLayer, TradeLayer } from "./layers.ts";
import { clampView } from "./pane-chart-view.tsx";

/** Records the path commands that a layer draws. */
class RecordedPath {
  readonly points: [string, number, number][] = [];
  moveTo(x: number, y: number): void {
    this.points.push(["move", x, y]);
  }
  lineTo(x: number, y: number): void {
    this.points.push(["line", x, y]);
  }
  rect(x: number, y: number): void {
    this.points.push(["rect", x, y]);
  }
  closePath(): void {
    this.points.push(["close", 0, 0]);
  }
}

beforeEach(() => vi.stubGlobal("Path2D", RecordedPath));

function frame(from: number, to: number, width: number): { frame: Frame; stroked: RecordedPath[]; filled: RecordedPath[] } {
  const stroked: RecordedPath[] = [];
  const filled: RecordedPath[] = [];
  const ctx = {
    save: () => undefined,
    restore: () => undefined,
    setLineDash: () => undefined,
    stroke: (path: RecordedPath) => stroked.push(path),
    fill: (path: RecordedPath) => filled.push(path),
  } as unknown as CanvasRenderingContext2D;
  const step = width / (to - from);
  return {
    frame: {
      ctx,
      x: (i) => (i - from) * step,
      y: (v) => v,
      step,
      from,
      to,
      left: 0,
      right: width,
      top: 0,
      bottom: 100,
      tokens: {} as Tokens,
    },
    stroked,
    filled,
  };
}

describe("a line", () => {
  test("breaks where there is no value", () => {
    const { frame: f, stroked } = frame(0, 4, 400);
    new LineLayer(Float64Array.of(1, 2, Number.NaN, 4, 5), { color: "ink" }).paint(f);
    expect(stroked[0]?.points.map(([what]) => what)).toEqual(["move", "line", "move", "line"]);
  });

  test("half a million bars on 800 pixels cost two points a pixel and keep lows and highs", () => {
    const values = Float64Array.from({ length: 500_000 }, (_, i) => Math.sin(i / 1000));
    values[250_123] = 50;
    const { frame: f, stroked } = frame(0, 499_999, 800);
    new LineLayer(values, { color: "ink" }).paint(f);
    const points = stroked[0]!.points;
    expect(points.length).toBeLessThanOrEqual(1604);
    expect(Math.max(...points.map(([, , y]) => y))).toBe(50);
  });

  test("its range is that of what is seen, and reaches the level it is filled to", () => {
    const layer = new LineLayer(Float64Array.of(-5, 1, 2, 9), { color: "loss", fillTo: 0 });
    expect(layer.range(1, 2)).toEqual([0, 2]);
    expect(new LineLayer(Float64Array.of(Number.NaN), { color: "ink" }).range(0, 0)).toBeNull();
  });
});

describe("candles", () => {
  const bars = { open: Float64Array.of(10, 12), high: Float64Array.of(13, 13), low: Float64Array.of(9, 8), close: Float64Array.of(12, 9) };
  test("rising ones are hollow, falling ones solid", () => {
    const { frame: f, stroked, filled } = frame(0, 1, 40);
    new CandleLayer(bars).paint(f);
    // Solid bodies are filled first, hollow ones filled with the ground and outlined.
    expect(filled.map(({ points }) => points.length)).toEqual([1, 1]);
    expect(stroked.at(-1)).toBe(filled[1]);
    expect(filled[1]!.points[0]![1]).toBeLessThan(filled[0]!.points[0]![1]);
  });

  test("the range spans lows and highs", () => {
    expect(new CandleLayer(bars).range(0, 1)).toEqual([8, 13]);
  });
});

test("a click finds the trade under it, the latest first", () => {
  const trade = (id: number, entryBar: number, exitBar: number): Trade => ({ id, entryBar, exitBar }) as Trade;
  const layer = new TradeLayer([trade(1, 0, 10), trade(2, 8, 20), trade(3, 40, 50)], null);
  const at = (px: number) => layer.at(px, { x: (i) => i * 10, from: 0, to: 60 })?.id;
  expect([at(50), at(95), at(150), at(300), at(404)]).toEqual([1, 2, 2, undefined, 3]);
});

describe("a view stays on the bars", () => {
  test.each([
    [{ from: -50, to: 50 }, 100, 100],
    [{ from: 500, to: 600 }, 200, 100],
    [{ from: 10, to: 11 }, 200, 10],
    [{ from: -500, to: 900 }, 200, 199],
  ])("%o of %i bars spans about %i", (view, length, span) => {
    const { from, to } = clampView(view, length);
    expect(Math.round(to - from)).toBeCloseTo(Math.min(span, length - 1), -1);
    expect(from).toBeGreaterThanOrEqual(-0.02 * span - 1);
    expect(to).toBeLessThanOrEqual(length + 0.05 * span);
  });
});
