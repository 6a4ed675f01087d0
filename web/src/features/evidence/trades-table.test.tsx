import type { Trade } from "@plan-tester/core";
import { useState } from "react";
import { describe, expect, test, vi } from "vitest";
import { keyOn, press, show, tall } from "../../testing.tsx";
import { FIRST_SORT, idOf, useGrid } from "../../ui/grid/use-grid.ts";
import { columnsOf, TradesTable } from "./trades-table.tsx";

const nets = [100, -40, 0, 250];
const trades = nets.map(
  (net, k) =>
    ({
      ...{
        id: k + 1,
        side: k % 2 ? -1 : 1,
        symbol: "KELP",
        quantity: 0.05,
        entryTime: k,
        exitTime: k + 1,
        entryPrice: 410,
        exitPrice: 411,
      },
      ...{ reason: "stop", net, r: net === 0 ? null : net / 100, barsHeld: 3, entryTag: ["b", "a", "c", ""][k], exitTag: "", exitLine: 0 },
      ...{ entryLine: 20 + k, pathDependent: k === 1, atStake: 75, mae: 1, mfe: 2, gross: net, commission: 0, spread: 0, slippage: 0 },
    }) as unknown as Trade,
);

const onLine = vi.fn<(line: number) => void>();
const COLUMNS = columnsOf("UTC", 2, false, onLine);

async function table(given: readonly Trade[] = trades, hidden = "") {
  tall();
  const onOpen = vi.fn<(id: number) => void>();
  function Table() {
    const [selected, onSelect] = useState<number | null>(null);
    const [sort, onSort] = useState(FIRST_SORT);
    const grid = useGrid({ rows: given, columns: COLUMNS, idOf, name: `a test's ${hidden}`, firstHidden: [hidden], sort, onSort });
    return <TradesTable {...{ grid, selected, onSelect, onOpen }} />;
  }
  const host = await show(<Table />);
  const rows = () => [...host.querySelectorAll<HTMLElement>("[role=row][aria-selected]")];
  return {
    ...{ host, onOpen },
    grid: host.querySelector<HTMLElement>("[role=grid]")!,
    ids: () => rows().map((row) => Number(row.children[0]!.textContent)),
    chosen: () => rows().findIndex((row) => row.getAttribute("aria-selected") === "true"),
    row: (k: number) => rows()[k]!,
  };
}

describe("the table of trades", () => {
  test("is in the order of the trades at first; a head sorts by numbers and by words, and turns round", async () => {
    const { host, ids } = await table();
    expect(ids()).toEqual([1, 2, 3, 4]);
    await press(host, "Net");
    expect(ids()).toEqual([2, 3, 1, 4]);
    await press(host, "Net");
    expect(ids()).toEqual([4, 1, 3, 2]);
    await press(host, "Tag");
    expect(ids()).toEqual([4, 2, 1, 3]);
  });

  test("what is undefined comes last, whichever way it is sorted", async () => {
    const { host, ids } = await table();
    await press(host, "R");
    expect(ids()).toEqual([2, 1, 4, 3]);
    await press(host, "R");
    expect(ids()).toEqual([4, 1, 2, 3]);
  });

  test("with their numbers hidden they stay in the order of the trades", async () => {
    const { host } = await table(trades, "id");
    const sides = [...host.querySelectorAll("[role=row][aria-selected]")].map((row) => row.children[0]!.textContent);
    expect(sides).toEqual(["long", "short", "long", "short"]);
  });

  test("keys choose a row in the order that is shown, and Enter opens it", async () => {
    const { host, grid, chosen, onOpen } = await table();
    await press(host, "Net");
    await keyOn(grid, "ArrowDown");
    expect(chosen()).toBe(0);
    await keyOn(grid, "End");
    await keyOn(grid, "ArrowUp");
    expect(chosen()).toBe(2);
    await keyOn(grid, "Enter");
    expect(onOpen).toHaveBeenCalledExactlyOnceWith(1);
  });

  test("the line that sent it is a way to the source, and does not open the chart", async () => {
    const { host, onOpen, row } = await table();
    await press(host, "Show line 21");
    expect(onLine).toHaveBeenCalledExactlyOnceWith(21);
    expect(onOpen).not.toHaveBeenCalled();
    row(2).click();
    expect(onOpen).toHaveBeenCalledExactlyOnceWith(3);
  });

  test("says what is undefined, a small size in full, and the money at stake on the path", async () => {
    const { row } = await table();
    expect(row(2).textContent).toContain("–");
    expect(row(0).textContent).toContain("0.05");
    expect(row(1).textContent).toContain("±75");
    expect(row(0).textContent).not.toContain("±");
  });

  test("without trades says what to look at", async () => {
    expect((await table([])).host.textContent).toContain("No trades");
  });
});
