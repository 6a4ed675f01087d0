import type { RunEvidence } from "@plan-tester/contract";
import type { RunFigures } from "@plan-tester/core";
import { MemoryRouter } from "react-router";
import { expect, test } from "vitest";
import { show } from "../../testing.tsx";
import { FiguresCompared } from "./figures-compared.tsx";

const run = (id: string, figures: Partial<RunFigures>): RunEvidence =>
  ({
    id,
    title: id,
    kept: { name: id, tags: [] },
    trades: [],
    daily: { dates: ["2025-03-03", "2025-03-04", "2025-03-05"], equity: [100, 120, 90] },
    figures: new Proxy(figures, { get: (known, name) => known[name as keyof RunFigures] ?? null }),
  }) as never;

/** The cells of a figure, the mark of the best as "best". */
async function row(label: string, ...figures: Partial<RunFigures>[]): Promise<string[]> {
  const host = await show(
    <MemoryRouter>
      <FiguresCompared runs={figures.map((one, k) => run(`r${k}`, one))} />
    </MemoryRouter>,
  );
  const found = [...host.querySelectorAll("tr")].find(({ textContent }) => textContent?.startsWith(label))!;
  return [...found.querySelectorAll("td")].map(
    (cell) => (cell.querySelector("[aria-label=best]") ? "best " : "") + cell.textContent!.replace(/\s/g, " "),
  );
}

test("the best is marked, with how far the others are from the first; what differs by rounding alone is alike", async () => {
  expect(await row("Net profit", { netProfit: 100 }, { netProfit: 150 })).toEqual(["+100", "best +150+50 %"]);
  expect(await row("Deepest drawdown", { maxDrawdown: 30 }, { maxDrawdown: 40 })).toEqual(["best 30", "40+33 %"]);
  expect(await row("Total return", { totalReturn: 0.000378 }, { totalReturn: 0.000378 + 1e-16 })).toEqual(["0.0 %", "0.0 %"]);
});

test("of many runs the columns are narrow: numbers for names, and how far they are from the first as a hint", async () => {
  const many = Array.from({ length: 8 }, (_none, k) => ({ netProfit: 100 + k }));
  expect((await row("Net profit", ...many)).slice(0, 2)).toEqual(["+100", "+101"]);
  expect(await row("Standing", ...many)).toEqual(many.map(() => "no trades, 25.0 % below its peak"));
});
