import type { QueuedRun, RunSummary } from "@plan-tester/contract";
import { MemoryRouter, Route, Routes, useLocation } from "react-router";
import { describe, expect, test } from "vitest";
import { queries } from "../../data/queries.ts";
import { click, control, press, show, withAnswers } from "../../testing.tsx";
import { BatchPage } from "./batch-page.tsx";

const run = (id: string, symbol: string, netProfit: number, returnToDrawdown: number | null): RunSummary =>
  ({
    id,
    netProfit,
    returnToDrawdown,
    tags: ["Ebb fade: basket"],
    settings: { symbol, timeframe: "15m" },
    spark: [1, 2],
    trades: 40,
  }) as unknown as RunSummary;
const job = (id: string, symbol: string, state: QueuedRun["state"], message = ""): QueuedRun =>
  ({ id, symbol, batch: "b1", name: symbol, state, message, netProfit: null }) as unknown as QueuedRun;

let place = "";
function Elsewhere() {
  const { pathname, search } = useLocation();
  place = pathname + search;
  return null;
}

async function page(runs: readonly RunSummary[], jobs: readonly QueuedRun[]) {
  place = "";
  const over = jobs.filter(({ state }) => state !== "waiting" && state !== "running").length;
  const host = await show(
    withAnswers(
      [
        [
          queries.queue().queryKey,
          [...jobs, job("other", "TIDE", "running")].map((one, k) => (k < jobs.length ? one : { ...one, batch: "b2" })),
        ],
        [queries.batch("b1", over).queryKey, { total: runs.length, runs }],
      ],
      <MemoryRouter initialEntries={["/batches/b1"]}>
        <Routes>
          <Route path="/batches/:batchId" element={<BatchPage />} />
          <Route path="*" element={<Elsewhere />} />
        </Routes>
      </MemoryRouter>,
    ),
  );
  const button = (words: string) => [...host.querySelectorAll("button")].find(({ textContent }) => textContent?.startsWith(words))!;
  return { host, button, symbols: () => [...host.querySelectorAll("tbody a")].map(({ textContent }) => textContent) };
}

const RUNS = [run("k", "KELP", -300, -0.5), run("b", "BRIN", 900, 2), run("a", "AUKL", 1200, null), run("g", "GANN", -10, -0.1)];

describe("a basket", () => {
  test("puts those that gained first, the surer before the less sure, and says what all made together", async () => {
    const { host, symbols } = await page(RUNS, []);
    expect(symbols()).toEqual(["BRIN", "AUKL", "GANN", "KELP"]);
    expect(host.textContent).toContain("2 of 4 gained; together +1,790");
    // Sign and shape, not colour alone.
    expect([...host.querySelectorAll("tbody tr")].map((row) => row.textContent!.includes("▲"))).toEqual([true, true, false, false]);
  });

  test("goes on with those that gained, or others that are ticked, two to eight of them", async () => {
    const { host, button } = await page(RUNS, []);
    expect(button("Compare").disabled).toBe(true);
    await press(host, "Choose those that gained");
    await click(control(host, "Choose KELP"));
    await click(control(host, "Choose AUKL"));
    expect(button("Compare").textContent).toBe("Compare 2");
    await press(host, "Compare");
    expect(place).toBe("/compare?runs=b,k");
  });

  test("under way says how far it is, of its own runs only, and what failed and why", async () => {
    const jobs = [
      job("k", "KELP", "kept"),
      job("x", "BRIN", "failed", "Line 3: no."),
      job("a", "AUKL", "running"),
      job("g", "GANN", "waiting"),
    ];
    const { host } = await page([RUNS[0]!], jobs);
    expect(host.querySelector("[role=status]")!.textContent).toContain("2 of 4 instruments done");
    expect([...host.querySelectorAll("[role=alert]")].map(({ textContent }) => textContent)).toEqual(["BRIN: Line 3: no."]);
  });

  test("of which nothing is kept says so", async () => {
    expect((await page([], [job("x", "BRIN", "stopped")])).host.textContent).toContain("No run of this basket is kept");
  });
});
