import { SWEEP_FIGURES, type SweepFigure } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { aimWords, columnOf } from "../../lib/aims.ts";
import { valueText } from "./sweep-view.ts";
import { BY_AIM, byColumn, byInput, tableRows } from "./table-rows.ts";

const WIDTH = SWEEP_FIGURES.length;
const variants = [
  { fast: 5, mode: "a" },
  { fast: 10, mode: "b" },
  { fast: 15, mode: "a" },
  { fast: 20, mode: "b" },
];
const inside: Partial<Record<SweepFigure, readonly number[]>> = {
  netProfit: [100, 300, 200, Number.NaN],
  trades: [40, 10, 30, Number.NaN],
  maxDrawdown: [50, 20, 90, Number.NaN],
  sharpe: [1, Number.NaN, 0.5, Number.NaN],
};
const outside: Partial<Record<SweepFigure, readonly number[]>> = { netProfit: [-5, 8, 9, Number.NaN] };

function figuresOf(stretches: readonly (typeof inside)[]): Float64Array {
  const figures = new Float64Array(variants.length * WIDTH * stretches.length).fill(Number.NaN);
  for (const [stretch, columns] of stretches.entries())
    for (const [name, values] of Object.entries(columns))
      for (const [v, value] of values.entries()) figures[(v * stretches.length + stretch) * WIDTH + columnOf(name as SweepFigure)] = value;
  return figures;
}

const view = {
  inputs: [
    { name: "fast", label: "Fast", values: [5, 10, 15, 20], ordered: true },
    { name: "mode", label: "Mode", values: ["a", "b"], ordered: false },
  ],
  linked: [],
  variants,
  figures: figuresOf([inside, outside]),
  stretches: 2 as const,
  scores: Float64Array.of(0.2, Number.NaN, 0.9, Number.NaN),
};
const net = { key: byColumn(columnOf("netProfit")), down: true };
const all = { conditions: "", bestOfEach: [] };

describe("rows of the table", () => {
  test("are those that are done, in the order of a column; what has no value stands last both ways", () => {
    expect(tableRows(view, net, all)).toEqual([1, 2, 0]);
    expect(tableRows(view, { ...net, down: false }, all)).toEqual([0, 2, 1]);
    expect(tableRows(view, { key: byColumn(columnOf("sharpe")), down: true }, all)).toEqual([0, 2, 1]);
    expect(tableRows(view, { key: byColumn(columnOf("sharpe")), down: false }, all)).toEqual([2, 0, 1]);
  });

  test("by the aim they follow its scores, and what it turns away stands last", () => {
    expect(tableRows(view, { key: BY_AIM, down: true }, all)).toEqual([2, 0, 1]);
  });

  test("by an input they follow its numbers, or its words as they were given", () => {
    expect(tableRows(view, { key: byInput("fast"), down: true }, all)).toEqual([2, 1, 0]);
    expect(tableRows(view, { key: byInput("mode"), down: false }, all)).toEqual([0, 2, 1]);
    expect(tableRows(view, { key: byInput("mode"), down: true }, all)).toEqual([1, 0, 2]);
  });

  test("out-of-sample columns come after those in-sample", () => {
    expect(tableRows(view, { key: byColumn(WIDTH + columnOf("netProfit")), down: true }, all)).toEqual([2, 1, 0]);
  });

  test.each([
    ["trades >= 30", [2, 0]],
    ["trades >= 30, fast < 10", [0]],
    ["out.netProfit > 0", [1, 2]],
    ["netProfit / maxDrawdown > 2", [1, 2]],
    ["sharpe > 0", [2, 0]],
    [" , ", [1, 2, 0]],
  ])("%s leaves %o", (conditions, left) => {
    expect(tableRows(view, net, { ...all, conditions })).toEqual(left);
  });

  test("the best of each keeps the first of every value, after the filter", () => {
    expect(tableRows(view, net, { ...all, bestOfEach: ["mode"] })).toEqual([1, 2]);
    expect(tableRows(view, net, { conditions: "trades > 30", bestOfEach: ["mode"] })).toEqual([0]);
  });

  test("the best of each of two together keeps one for every pair there is", () => {
    const pairs = [
      { fast: 5, mode: "a" },
      { fast: 5, mode: "a" },
      { fast: 5, mode: "b" },
    ];
    const figures = figuresOf([{ netProfit: [1, 3, 2] }]);
    const few = { ...view, variants: pairs, figures, stretches: 1 as const };
    expect(tableRows(few, net, { ...all, bestOfEach: ["fast", "mode"] })).toEqual([1, 2]);
    expect(tableRows(few, net, { ...all, bestOfEach: ["fast"] })).toEqual([1]);
  });

  test("a name that there is not is named", () => {
    expect(() => tableRows(view, net, { ...all, conditions: "speed > 1" })).toThrow(/no input "speed"/);
    expect(() => tableRows({ ...view, figures: figuresOf([inside]), stretches: 1 }, net, { ...all, conditions: "out.trades > 1" })).toThrow(
      /no input "out.trades"/,
    );
  });
});

describe("words of a sweep", () => {
  test.each([
    ["sharpe", "Sharpe"],
    [{ terms: [{ figure: "sharpe", weight: 1 }], robust: true, conditions: [] }, "Sharpe, middle of the neighbours"],
    [
      {
        terms: [
          { figure: "netProfit", weight: 3 },
          { figure: "maxDrawdown", weight: 1 },
        ],
        robust: false,
        conditions: [
          { figure: "trades", is: "at least", value: 30 },
          { figure: "profitFactor", is: "at most", value: 4.5 },
        ],
      },
      "Net profit 75\u00a0% + Drawdown 25\u00a0%, with Trades at least 30 and Profit factor at most 4.50",
    ],
  ] as const)("%o", (aim, words) => {
    expect(aimWords(aim as Parameters<typeof aimWords>[0])).toBe(words);
  });

  test.each([
    [true, "yes"],
    [1.7, "1.7"],
    [2, "2"],
    [1 / 3, "0.3333"],
    [12_500, "12,500"],
    ["09:30", "09:30"],
  ])("the value %s reads %s", (value, text) => {
    expect(valueText(value)).toBe(text);
  });
});
