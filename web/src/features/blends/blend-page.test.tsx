/** A blend on its page: figures follow the hand, what is wrong with a member is said, and what was left out can come back. */
import type { Blend, RunEvidence } from "@plan-tester/contract";
import { PLAIN_SETTINGS, packColumns } from "@plan-tester/contract";
import { ALWAYS_OPEN, type Instrument, NO_COSTS } from "@plan-tester/core";
import { act } from "react";
import { MemoryRouter, Route, Routes } from "react-router";
import { beforeEach, expect, test, vi } from "vitest";
import { keyOf } from "../../data/keys.ts";
import { queries } from "../../data/queries.ts";
import { control, press, show, speaking, type, unmeasured, withAnswers } from "../../testing.tsx";
import { BlendPage } from "./blend-page.tsx";
import { BlendWork } from "./blend-work.ts";
import type { FromBlendWorker, ToBlendWorker } from "./blend-worker.ts";

// There is no canvas here.
vi.mock("../../charts/pane-chart-view.tsx", () => ({
  PaneChartView: ({ label }: { readonly label: string }) => <div role="img" aria-label={label} />,
}));

const DAY = 86_400_000;
const START = Date.UTC(2024, 0, 1);
const BARS = 90;

/** Answers at once what the worker would. */
class AtOnce {
  onmessage: ((event: { data: FromBlendWorker }) => void) | null = null;
  onerror = null;
  #work: BlendWork | null = null;
  postMessage(message: ToBlendWorker): void {
    if (message.type === "load") this.#work = new BlendWork(message.world, "shared");
    else {
      const answer = this.#work!.quick(message.setup);
      this.onmessage?.({ data: { type: "quick", id: message.id, answer } });
      this.onmessage?.({ data: { type: "slow", id: message.id, answer: this.#work!.slow(message.setup, answer.units) } });
    }
  }
  terminate(): void {}
}

const instrument = {
  symbol: "KELP",
  currency: "XSC",
  minQuantity: 1,
  quantityStep: 1,
  pointValue: 40,
  calendar: ALWAYS_OPEN,
  costs: NO_COSTS,
} as Instrument;
const time = Float64Array.from({ length: BARS }, (_none, i) => START + i * DAY);
const equityOf = (phase: number): Float64Array => time.map((_ms, i) => 1000 + 40 * Math.sin((i + phase) / 6) + i);

function runOf(id: string): RunEvidence {
  const trade = (k: number) => ({
    orderId: k,
    quantity: 2,
    symbol: "",
    side: 1,
    entryTime: START + k * 9 * DAY,
    exitTime: START + (k * 9 + 4) * DAY,
    net: 5,
  });
  return {
    ...{
      id,
      planId: `p-${id}`,
      title: `Plan ${id}`,
      kept: { name: id, note: "", tags: [] },
      inputs: { span: 3 },
      source: "",
      watched: null,
    },
    settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "1d", from: "2024-01-01", to: "2024-03-30", cash: 1000 },
    figures: { netProfit: 90, maxDrawdown: 60 },
    trades: [1, 2, 3].map((k) => ({ ...trade(k), entryBar: k * 9, exitBar: k * 9 + 4, entryPrice: 10 })),
  } as unknown as RunEvidence;
}

const BLEND: Blend = {
  ...{ id: "b1", name: "Both", note: "", revision: 1, fingerprint: "f", createdMs: 0, updatedMs: 0 },
  setup: {
    ...{
      cash: 5000,
      currency: "XSC",
      rates: {},
      tolerated: 20,
      allowance: 0,
      fall: "measured",
      weighting: "by hand",
      days: "shared",
      chosenBy: 60,
    },
    members: [
      { runId: "a", size: 2 },
      { runId: "b", size: 4 },
    ],
  },
};
const column = (value: number): Float64Array => new Float64Array(BARS).fill(value);
const BARS_ANSWER = {
  meta: { timeframe: "1d", zone: "UTC", dates: Array.from(time, (ms) => new Date(ms).toISOString().slice(0, 10)) },
  columns: {
    ...{ time, closeTime: time.map((ms) => ms + DAY / 2), session: time.map((_ms, i) => i), open: column(10), high: column(11) },
    ...{ low: column(9), close: column(10), volume: column(1) },
  },
};

/** What the engine answers: the second made less than its own run did. */
const JOINT = packColumns(
  {
    members: ["a", "b"].map((runId, k) => ({ runId, status: "complete", failure: null, netProfit: 90 - 30 * k, trades: [], refused: [] })),
    ...{ ruinMs: null, limitHits: [], elapsedMs: 5 },
  },
  ["a", "b"].flatMap((_id, k) => [
    { name: `equity${k}`, values: equityOf(9 * k) },
    { name: `time${k}`, values: time.map((ms) => ms + DAY / 2) },
  ]),
);

beforeEach(() => {
  unmeasured();
  speaking();
  localStorage.clear();
  vi.stubGlobal("Worker", AtOnce);
});

async function page(lost: string | null = null) {
  const sent: unknown[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn(async (address: string, { body, method }: RequestInit = {}) => {
      if (method === "PUT") {
        sent.push(JSON.parse(String(body)));
        return new Response(JSON.stringify({ ...BLEND, ...JSON.parse(String(body)), revision: 2 }));
      }
      if (address.includes("/blend-runs")) return new Response(JOINT.slice());
      if (address.includes("/blends/")) return new Response(JSON.stringify(BLEND));
      if (address.includes("trial-context")) return new Response(JSON.stringify({ tried: [], stretches: [], reservedFrom: "" }));
      return new Response(JSON.stringify({ error: { code: "not-found", message: `There is no run "${lost}".` } }), { status: 404 });
    }),
  );
  const runs = ["a", "b"].filter((id) => id !== lost);
  const answers = [
    [queries.markets().queryKey, [{ instrument }]],
    [queries.blend("b1").queryKey, BLEND],
    [queries.batch("", 0).queryKey, { runs: [], total: 0 }],
    ...runs.flatMap((id, k) => [
      [queries.run(id).queryKey, runOf(id)],
      [queries.runColumns(id).queryKey, { meta: {}, columns: { equity: equityOf(9 * k) } }],
    ]),
    [keyOf("getBars", { symbol: "KELP", timeframe: "1d", from: "2024-01-01", to: "2024-03-30" }), BARS_ANSWER],
  ] as Parameters<typeof withAnswers>[0];
  const host = await show(
    withAnswers(
      answers,
      <MemoryRouter initialEntries={["/blends/b1"]}>
        <Routes>
          <Route path="/blends/:blendId" element={<BlendPage />} />
        </Routes>
      </MemoryRouter>,
    ),
  );
  return { host, sent };
}

test("sizes are changed by hand with the sentence following, taken back, and saved", async () => {
  const { host, sent } = await page();
  await act(() => vi.waitFor(() => expect(host.textContent).toContain("these two would have fallen")));
  const row = (k: number): string => host.querySelectorAll("tbody tr")[k]!.textContent!;
  expect(host.textContent).toContain("Plan a");
  const before = host.querySelector('p[role="status"]')!.textContent;
  await type(control(host, "Size of Plan b"), "0");
  expect(host.querySelector('p[role="status"]')!.textContent).toContain("this one would have fallen");
  await press(host, "Undo");
  expect(host.querySelector('p[role="status"]')!.textContent).toBe(before);
  expect(row(0)).not.toBe("");
  await act(() => vi.waitFor(() => expect(sent.length).toBeGreaterThan(0), { timeout: 2000 }));
  expect(sent.at(-1)).toMatchObject({ name: "Both", revision: 1, setup: { members: [{ size: 2 }, { size: 4 }] } });
});

test("a member whose run is gone says so, and can be removed", async () => {
  const { host } = await page("b");
  await act(() => vi.waitFor(() => expect(host.textContent).toContain('There is no run "b".'), { timeout: 4000 }));
  expect(host.textContent).not.toContain("would have fallen");
  await press(host, "Remove Run b from the blend");
  await act(() => vi.waitFor(() => expect(host.textContent).toContain("this one would have fallen")));
});

test("the answer of a joint run stays while one of its members is removed, and says that it is of something else", async () => {
  const { host } = await page();
  await act(() => vi.waitFor(() => expect(host.textContent).toContain("these two would have fallen")));
  await press(host, "Run as one account");
  await act(() => vi.waitFor(() => expect(host.textContent).toContain("On one account they made")));
  expect(host.textContent).not.toContain("Sizes or account have changed since");
  await press(host, "Remove Plan a from the blend");
  await act(() => vi.waitFor(() => expect(host.textContent).toContain("Sizes or account have changed since")));
  const rows = [...host.querySelectorAll('[aria-label="On one account"] tbody tr')].map((row) => row.firstElementChild!.textContent);
  expect(rows).toEqual(["Plan a", "Plan b"]);
});
