import { SWEEP_FIGURES, type SweepFigure } from "@plan-tester/core";
import { useState } from "react";
import { describe, expect, test, vi } from "vitest";
import { columnOf } from "../../lib/aims.ts";
import { control, keyOn, press, show, tall, type } from "../../testing.tsx";
import { SweepTable, type SweepTableProps } from "./sweep-table.tsx";

const WIDTH = SWEEP_FIGURES.length;
const spans = [10, 20, 30, 40];
const inside: Partial<Record<SweepFigure, readonly number[]>> = {
  netProfit: [100, 400, 300, -50],
  returnToDrawdown: [1, 2, 4, -1],
  maxDrawdown: [90, 200, 70, 80],
  trades: [40, 10, 30, 50],
};
const outside: Partial<Record<SweepFigure, readonly number[]>> = { netProfit: [5, -20, 8, 30], trades: [9, 3, 7, 11] };

function figures(): Float64Array {
  const all = new Float64Array(spans.length * WIDTH * 2).fill(Number.NaN);
  for (const [stretch, columns] of [inside, outside].entries())
    for (const [name, values] of Object.entries(columns))
      for (const [v, value] of values.entries()) all[(v * 2 + stretch) * WIDTH + columnOf(name as SweepFigure)] = value;
  return all;
}

async function table(more: Partial<SweepTableProps> = {}) {
  tall();
  const onOpen = vi.fn<SweepTableProps["onOpen"]>();
  const data = figures();
  function Table() {
    const [selected, onSelect] = useState<number | null>(null);
    return (
      <SweepTable
        inputs={[{ name: "span", label: "Span", values: spans, ordered: true }]}
        linked={[]}
        variants={spans.map((span) => ({ span }))}
        figures={data}
        stretches={2}
        aim={columnOf("returnToDrawdown")}
        scores={null}
        isBlend={false}
        periods={["1 Mar 2024 – 28 Feb 2025", "3 Mar 2025 – 29 Aug 2025"]}
        {...{ selected, onSelect, onOpen }}
        {...more}
      />
    );
  }
  const host = await show(<Table />);
  const grid = host.querySelector<HTMLElement>("[role=grid]")!;
  const rows = () => [...grid.querySelectorAll<HTMLElement>("[role=row][aria-selected]")];
  return {
    ...{ host, grid, onOpen },
    /** Spans in the order in which they stand. */
    spans: () => rows().map((row) => Number(row.children[1]!.textContent)),
    chosen: () => rows().findIndex((row) => row.getAttribute("aria-selected") === "true"),
    first: () => [...rows()[0]!.children].map((cell) => cell.textContent),
  };
}

describe("the table of a sweep", () => {
  test("is ranked by the aim at first, with each stretch under its name and dates", async () => {
    const { host, spans: order, first } = await table();
    expect(order()).toEqual([30, 20, 10, 40]);
    expect(host.textContent).toContain("In-sample 1 Mar 2024 – 28 Feb 2025");
    expect(host.textContent).toContain("Out-of-sample 3 Mar 2025 – 29 Aug 2025");
    // In-sample figures first, then those of the later stretch, never mixed.
    expect(first()).toEqual(["1", "30", "+300", "30", "–", "70", "4.00", "–", "+8", "7", "–", "–", "–", "–"]);
  });

  test("a head sorts by its column, the better way first, and turns round when pressed again", async () => {
    const { host, spans: order } = await table();
    await press(host, "Drawdown");
    expect(order()).toEqual([30, 40, 10, 20]);
    await press(host, "Drawdown");
    expect(order()).toEqual([20, 10, 40, 30]);
  });

  test("conditions leave rows out, in either stretch; what can't be read says so and leaves none out", async () => {
    const { host, spans: order } = await table();
    await type(control(host, "Only"), "trades >= 30");
    expect(order()).toEqual([30, 10, 40]);
    expect(host.textContent).toContain("3 shown");
    await type(control(host, "Only"), "trades >= 30, out.netProfit > 6");
    expect(order()).toEqual([30, 40]);
    await type(control(host, "Only"), "trdes >= 30");
    expect(order()).toEqual([30, 20, 10, 40]);
    expect(host.textContent).toMatch(/trdes/);
  });

  test("arrow keys choose, Enter opens the chosen one", async () => {
    const { grid, chosen, onOpen } = await table();
    await keyOn(grid, "Enter");
    expect(onOpen).not.toHaveBeenCalled();
    await keyOn(grid, "ArrowDown");
    await keyOn(grid, "ArrowDown");
    expect(chosen()).toBe(1);
    await keyOn(grid, "End");
    expect(chosen()).toBe(3);
    await keyOn(grid, "ArrowUp");
    await keyOn(grid, "Enter");
    // Third in rank is the first variant.
    expect(onOpen).toHaveBeenCalledExactlyOnceWith(0, 0);
  });

  test("a blended aim has a column of its own, as shares", async () => {
    const { host, first } = await table({ scores: Float64Array.of(0.25, 0.9, 0.5, Number.NaN), isBlend: true });
    expect(host.textContent).toContain("Aim");
    expect(first().slice(0, 3)).toEqual(["1", "90\u00a0%", "20"]);
  });
});
