/** What is laid over bars at its time: stretches of doubtful data, marks made by hand. */
import type { Mark } from "@plan-tester/core";
import { expect, test } from "vitest";
import type { Tokens } from "../lib/theme.ts";
import type { Frame } from "./layers.ts";
import { MarkLayer } from "./mark-layer.ts";
import { SpanLayer } from "./span-layer.ts";

const TIME = Float64Array.from({ length: 100 }, (_none, i) => i * 60_000);

function frame(from: number, to: number): { frame: Frame; told: string[] } {
  const told: string[] = [];
  const note =
    (what: string) =>
    (...numbers: number[]): void =>
      void told.push([what, ...numbers.map((one) => (typeof one === "number" ? Math.round(one) : one))].join(" "));
  const quiet = (): void => undefined;
  const ctx = {
    ...{ save: quiet, restore: quiet, beginPath: quiet, stroke: quiet, fill: quiet, setLineDash: quiet },
    ...{
      fillRect: note("rect"),
      fillText: note("text"),
      moveTo: note("move"),
      lineTo: note("line"),
      arc: (x: number, y: number) => note("ring")(x, y),
    },
    measureText: (text: string) => ({ width: text.length * 6 }),
  } as unknown as CanvasRenderingContext2D;
  const place = { ctx, x: (i: number) => (i - from) * 10, y: (v: number) => 200 - v, step: 10, from, to };
  return { frame: { ...place, left: 0, right: 1000, top: 0, bottom: 200, tokens: {} as Tokens }, told };
}

test("stretches stand at the foot, those out of view not, and words that would cover one another are left out", () => {
  const span = (first: number, last: number, words: string) => ({
    fromMs: first * 60_000,
    toMs: (last + 1) * 60_000,
    words,
    color: "loss" as const,
  });
  const { frame: f, told } = frame(10, 60);
  new SpanLayer(
    [span(20, 24, "gap"), span(21, 21, "spike"), span(50, 50, "stuck"), span(80, 90, "split"), span(0, 5, "volume")],
    TIME,
  ).paint(f);
  expect(told).toEqual(["rect 95 196 50 4", "text gap 95 193", "rect 105 196 10 4", "rect 395 196 10 4", "text stuck 395 193"]);
});

test("what lies between two bars is marked at the later one, and behind all at the last", () => {
  const { frame: f, told } = frame(0, 99);
  const hole = { fromMs: 30_000, toMs: 50_000, words: "", color: "loss" as const };
  new SpanLayer([hole, { ...hole, fromMs: 1e9, toMs: 2e9 }], TIME).paint(f);
  expect(told.filter((one) => one.startsWith("rect"))).toEqual(["rect 5 196 10 4", "rect 985 196 10 4"]);
});

test("a mark is a ring where it gets in, joined to where it gets out, with its stop; one out of view is not drawn", () => {
  const mark: Mark = {
    ...{ id: "a", side: 1, entryMs: 20 * 60_000 + 1, entryPrice: 100, exitMs: 30 * 60_000, exitPrice: 110, stop: 95, target: null },
    ...{ note: "", planId: "" },
  };
  const { frame: f, told } = frame(10, 60);
  new MarkLayer([mark, { ...mark, id: "b", entryMs: 90 * 60_000, exitMs: null, exitPrice: null }], TIME, null).paint(f);
  expect(told).toEqual(["move 100 100", "line 200 90", "rect 197 87 6 6", "move 100 105", "line 200 105", "ring 100 100", "text L 97 118"]);
});
