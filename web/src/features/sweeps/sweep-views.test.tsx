import { SWEEP_FIGURES, type SweepFigure } from "@plan-tester/core";
import { describe, expect, test, vi } from "vitest";
import { columnOf } from "../../lib/aims.ts";
import { click, control, drag, press, show, type } from "../../testing.tsx";
import { Effects } from "./effects.tsx";
import { InOut } from "./in-out.tsx";
import { Parallel } from "./parallel.tsx";
import { placeOn, valueOn } from "./parallel-axis.tsx";
import { Plateau } from "./plateau.tsx";
import type { SweepViewProps } from "./sweep-view.ts";

const WIDTH = SWEEP_FIGURES.length;
const spans = [10, 20, 30, 40, 50, 60, 70];
/** A broad hill round 20, and a lonely peak at 60. */
const nets = [80, 100, 90, -10, 5, 150, 0];

function viewOf(columns: Partial<Record<SweepFigure, readonly number[]>>): SweepViewProps {
  const figures = new Float64Array(spans.length * WIDTH).fill(Number.NaN);
  for (const [name, values] of Object.entries(columns))
    for (const [v, value] of values.entries()) figures[v * WIDTH + columnOf(name as SweepFigure)] = value;
  return {
    inputs: [{ name: "span", label: "Span", values: spans, ordered: true }],
    ...{ linked: [], variants: spans.map((span) => ({ span })), figures, stretches: 1, aim: columnOf("netProfit"), scores: null },
    ...{ selected: null, onSelect: vi.fn<(variant: number) => void>() },
  };
}
const rowsOf = (host: HTMLElement): string[][] =>
  [...host.querySelectorAll("tbody tr")].map((row) => [...row.querySelectorAll("th, td")].map((cell) => cell.textContent ?? ""));

describe("the plateau view", () => {
  test("ranks by the middle of the neighbours: the hill before the lonely peak, each called what it is", async () => {
    const view = viewOf({ netProfit: nets });
    const host = await show(<Plateau {...view} />);
    const rows = rowsOf(host);
    expect(rows.map(([span]) => span).slice(0, 2)).toEqual(["20", "30"]);
    expect(rows.find(([span]) => span === "20")).toEqual(["20", "+100", "+90", "+80", "+85", "−10", "90\u00a0%", "plateau"]);
    expect(rows.find(([span]) => span === "60")?.at(-1)).toBe("lonely peak");
    await click(control(host, "by the variant itself"));
    expect(rowsOf(host)[0]![0]).toBe("60");
    await press(host, "60");
    expect(view.onSelect).toHaveBeenCalledWith(5);
  });

  test("of many shows the first, and says of how many", async () => {
    expect((await show(<Plateau {...viewOf({ netProfit: nets })} />)).textContent).not.toContain("These are the first");
    const many = Array.from({ length: 2500 }, (_, k) => k);
    const figures = new Float64Array(many.length * WIDTH).fill(Number.NaN);
    for (const k of many) figures[k * WIDTH + columnOf("netProfit")] = k;
    const host = await show(
      <Plateau
        {...viewOf({})}
        inputs={[{ name: "span", label: "Span", values: many, ordered: true }]}
        variants={many.map((span) => ({ span }))}
        figures={figures}
      />,
    );
    expect(host.textContent).toMatch(/These are the first \d+ of 2,500 variants; neighbours were looked up for the best 2,000/);
  });

  test("says when nothing is done", async () => {
    expect((await show(<Plateau {...viewOf({})} />)).textContent).toContain("Nothing is done yet");
  });
});

describe("the effect of an input", () => {
  test("is the middle of all variants with a value; what is not done is left out", async () => {
    const host = await show(<Effects {...viewOf({ netProfit: [1, 2, Number.NaN, 4, 5, 6, 7] })} />);
    expect(rowsOf(host).map(([value, middle]) => [value, middle])).toEqual([
      ["10", "+1"],
      ["20", "+2"],
      ["40", "+4"],
      ["50", "+5"],
      ["60", "+6"],
      ["70", "+7"],
    ]);
  });
});

describe("parallel coordinates", () => {
  test("leave out what lies beyond the bounds of any axis, and lead to the best within", async () => {
    const view = viewOf({ netProfit: nets, trades: [30, 40, 50, 60, 70, 80, 90] });
    const host = await show(<Parallel {...view} />);
    expect(host.textContent).toContain("7 variants within the bounds");
    expect(host.querySelectorAll("polyline").length).toBe(7);
    await type(control(host, "Trades, to"), "75");
    expect(host.textContent).toContain("5 variants within the bounds");
    await press(host, "Span 20");
    expect(view.onSelect).toHaveBeenCalledWith(1);
  });
});

describe("an axis of the parallel view", () => {
  const axis = { id: "span", label: "Span", low: 0, high: 6, isStepped: true, of: () => 0, text: String };
  const reach = { top: 40, bottom: 340 };

  test("a place and its value are each other's inverse; beyond the ends lie the ends", () => {
    for (const value of [0, 2, 5, 6]) expect(valueOn(axis, reach, placeOn(axis, reach, value))).toBe(value);
    expect([valueOn(axis, reach, 10), valueOn(axis, reach, 400)]).toEqual([6, 0]);
    expect(valueOn(axis, reach, 65)).toBe(6);
    expect(valueOn({ ...axis, isStepped: false }, reach, 65)).toBe(5.5);
  });

  test("a drag along it leaves out the rest, whichever way it goes; a click takes the bounds away", async () => {
    const host = await show(<Parallel {...viewOf({ netProfit: nets, trades: [30, 40, 50, 60, 70, 80, 90] })} />);
    const grip = host.querySelector<SVGElement>("[data-axis=span]")!;
    grip.setPointerCapture = () => undefined;
    // From the middle of the axis down to its end: spans of 10 to 40.
    await drag(grip, { clientY: 198 }, { clientY: 370 });
    expect(host.textContent).toContain("4 variants within the bounds");
    await drag(grip, { clientY: 370 }, { clientY: 198 });
    expect(host.textContent).toContain("4 variants within the bounds");
    await drag(grip, { clientY: 198 }, { clientY: 199 });
    expect(host.textContent).toContain("7 variants within the bounds");
  });
});

describe("in-sample against out-of-sample", () => {
  test("asks for a later stretch where none was tested", async () => {
    expect((await show(<InOut {...viewOf({ netProfit: nets })} />)).textContent).toContain("No later period was tested");
  });
});
