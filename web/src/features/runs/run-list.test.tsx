import { PLAIN_SETTINGS, type RunSummary } from "@plan-tester/contract";
import { MemoryRouter } from "react-router";
import { describe, expect, test, vi } from "vitest";
import { click, control, press, show, tall } from "../../testing.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { type RunGridOptions, useRunGrid } from "./run-list.tsx";

const run = (id: string, more: Partial<RunSummary> = {}): RunSummary =>
  ({
    ...{ id, name: `Run ${id}`, planTitle: "Kelp ebb fade", status: "complete", netProfit: 1200, maxDrawdown: 300, trades: 40 },
    ...{ totalReturn: 0.012, returnToDrawdown: 4, winRate: 0.55, averageTrade: 30, profitFactor: 1.6, sharpe: null },
    ...{ spark: [1, 2, 3], tags: ["kept", "night"], note: "", createdMs: Date.UTC(2025, 1, 3) },
    settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2025-02-28" },
    ...more,
  }) as RunSummary;

async function list(more: Partial<RunGridOptions> & { readonly onMore?: () => void } = {}) {
  tall();
  const told = {
    onChosen: vi.fn<RunGridOptions["onChosen"]>(),
    onSort: vi.fn<RunGridOptions["onSort"]>(),
    onMore: vi.fn<() => void>(),
    onDelete: vi.fn<RunGridOptions["onDelete"]>(),
  };
  const options = { runs: [run("a"), run("b", { status: "partial", netProfit: -50 })], total: 2, chosen: [], query: {}, ...told, ...more };
  function List() {
    return <Grid label="Kept runs" grid={useRunGrid(options)} total={options.total} onMore={options.onMore} />;
  }
  const host = await show(
    <MemoryRouter>
      <List />
    </MemoryRouter>,
  );
  const rows = [...host.querySelectorAll<HTMLElement>("[aria-rowindex]")];
  return { host, rows, ...told };
}

describe("the list of kept runs", () => {
  test("says of each run what made it and what it made; an unfinished one says so", async () => {
    const { rows } = await list();
    expect(rows[0]!.textContent).toContain("KELP 15 min");
    expect(rows[0]!.textContent).toContain("1 Mar 2024 – 28 Feb 2025");
    expect(rows[0]!.textContent).toContain("+1,200");
    expect(rows[0]!.textContent).toContain("−300");
    expect(rows[1]!.textContent).toContain("(partial)");
    expect(rows[0]!.querySelector("a")!.getAttribute("href")).toBe("/runs/a");
  });

  test("runs are chosen and let go one by one", async () => {
    const { host, onChosen } = await list({ chosen: ["a"] });
    await click(control(host, "Choose Run b"));
    expect(onChosen).toHaveBeenLastCalledWith(["a", "b"]);
    await click(control(host, "Choose Run a"));
    expect(onChosen).toHaveBeenLastCalledWith([]);
  });

  test("heads that sort say which way; others are no buttons", async () => {
    const { host, onSort } = await list({ query: { sort: "netProfit", order: "up" } });
    const head = [...host.querySelectorAll("[role=columnheader]")].find(({ textContent }) => textContent?.startsWith("Net\u00a0↑"))!;
    expect(head.getAttribute("aria-sort")).toBe("ascending");
    await press(host, "Drawdown");
    expect(onSort).toHaveBeenCalledExactlyOnceWith({ sort: "maxDrawdown", order: "down" });
    expect([...host.querySelectorAll("button")].some(({ textContent }) => textContent === "Tags")).toBe(false);
  });

  test("asks for more when rows are in sight that it has not, and holds their place", async () => {
    const { rows, onMore } = await list({ total: 60 });
    expect(onMore).toHaveBeenCalled();
    expect(rows.length).toBeGreaterThan(20);
    expect(rows[5]!.textContent).toBe("loading …");
    expect((await list()).onMore).not.toHaveBeenCalled();
  });

  test("a run is deleted by name", async () => {
    const { host, onDelete } = await list();
    await press(host, "Delete the run Run b");
    expect(onDelete.mock.calls[0]![0].id).toBe("b");
  });
});
