/** Between page and server: routes called by name, what is kept of the answers, and when it is read again. */
import { packColumns, type ServerEvent } from "@plan-tester/contract";
import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { show } from "../testing.tsx";
import { ApiFailure, call, callLeaving } from "./api.ts";
import { take } from "./client.ts";
import { keyOf, type ReadRoute } from "./keys.ts";
import { queries } from "./queries.ts";
import { type Change, useChange } from "./use-change.ts";

interface Request {
  readonly method: string;
  readonly url: string;
  readonly body: unknown;
  readonly keepalive: boolean;
}

let requests: Request[] = [];
let answer: () => Response;

beforeEach(() => {
  requests = [];
  answer = () => Response.json({});
  vi.stubGlobal("fetch", async (url: string, { method = "", body, keepalive = false }: RequestInit) => {
    requests.push({ method, url, body: typeof body === "string" ? JSON.parse(body) : body, keepalive });
    return answer();
  });
});
afterEach(() => vi.unstubAllGlobals());

test("a route is called with its method, its address and its body", async () => {
  answer = () => Response.json({ id: "a", title: "Tide" });
  expect(await call("updatePlan", { id: "a" }, { note: "by the pier" })).toMatchObject({ title: "Tide" });
  await call("getHistory", { symbol: "XSC/ORM" });
  expect(requests).toMatchObject([
    { method: "PATCH", url: "/api/plans/a", body: { note: "by the pier" }, keepalive: false },
    { method: "GET", url: "/api/markets/XSC%2FORM/history", body: null },
  ]);
});

test("columns come unpacked, and what answers nothing gives nothing", async () => {
  answer = () => new Response(packColumns({ settings: 1, dailyStride: 1 }, [{ name: "daily", values: Float32Array.of(0.5, 2) }]).slice());
  const { meta, singles } = await call("getSweepDaily", { id: "s" });
  expect([meta.settings, [...singles.daily!]]).toEqual([1, [0.5, 2]]);
  answer = () => new Response(null, { status: 204 });
  expect(await call("stopRun", { id: "r" })).toBeUndefined();
});

test("a refusal brings the server's words and details; a server that is gone is told as that", async () => {
  answer = () => Response.json({ error: { code: "conflict", message: "Saved elsewhere.", details: { revision: 4 } } }, { status: 409 });
  await expect(call("getPlan", { id: "a" })).rejects.toMatchObject({
    code: "conflict",
    message: "Saved elsewhere.",
    details: { revision: 4 },
  });
  answer = () => new Response("<html>", { status: 502 });
  await expect(call("getPlan", { id: "a" })).rejects.toMatchObject({ code: "unavailable", message: "The server answered 502." });
  answer = () => {
    throw new TypeError("failed to fetch");
  };
  await expect(call("getPlan", { id: "a" })).rejects.toBeInstanceOf(ApiFailure);
});

test("a page that goes sends what is short enough to outlive it", async () => {
  await callLeaving("updatePlan", { id: "a" }, { source: "short" });
  await callLeaving("updatePlan", { id: "a" }, { source: "x".repeat(70_000) });
  expect(requests.map(({ keepalive }) => keepalive)).toEqual([true, false]);
});

/** A cache that has an answer of each of these, and which of them are out of date. */
function kept(...keys: readonly (readonly unknown[])[]): { readonly client: QueryClient; readonly stale: () => unknown[] } {
  const client = new QueryClient();
  for (const key of keys) client.setQueryData(key, {});
  return { client, stale: () => keys.filter((key) => client.getQueryState(key)?.isInvalidated) };
}

const PLAN = keyOf("getPlan", { id: "p" });
const OTHER = keyOf("getPlan", { id: "q" });
const LISTS: readonly ReadRoute[] = [
  "listPlans",
  "listRuns",
  "getRunFacets",
  "listSweeps",
  "listWalkForwards",
  "listWatches",
  "listHoldings",
];
const status = { connected: true, pace: 60, holds: true, speed: 1, nowMs: 5, trouble: "" };
const job = { id: "j", batch: "b", planId: "p", name: "n", symbol: "KELP", message: "", netProfit: null };

test.each<[string, ServerEvent, readonly (readonly unknown[])[]]>([
  ["a plan saved elsewhere", { type: "plan", id: "p", revision: 2 }, [PLAN, ["listPlans"]]],
  ["a run that is still waiting", { type: "queue", queue: [{ ...job, state: "waiting" }] }, []],
  ["a run that was kept", { type: "queue", queue: [{ ...job, state: "kept" }] }, [["listPlans"], ["listRuns"], ["getRunFacets"]]],
  ["a walk-forward's step", { type: "walk-forward", id: "w", status: "running" }, [["listWalkForwards"]]],
  [
    "a walk-forward's end",
    { type: "walk-forward", id: "w", status: "complete" },
    [["listPlans"], ["listRuns"], ["getRunFacets"], ["listWalkForwards"]],
  ],
  ["a sweep's end", { type: "sweep-done", id: "s", status: "complete" }, [["listSweeps"]]],
  ["something at a watch", { type: "watch", id: "w" }, [["listWatches"], ["listHoldings"]]],
  ["the venue's clock", { type: "venue", status }, []],
  ["progress of a run", { type: "run-progress", id: "r", done: 1, total: 2 }, []],
])("%s makes out of date what it changes and nothing else", (_what, event, expected) => {
  const { client, stale } = kept(PLAN, OTHER, ...LISTS.map((name) => keyOf(name)));
  take(client, event);
  expect(stale()).toEqual(expect.arrayContaining([...expected]));
  expect(stale().length).toBe(expected.length);
});

test("what an event brings is there without asking", () => {
  const { client } = kept();
  take(client, { type: "venue", status });
  take(client, { type: "queue", queue: [{ ...job, state: "running" }] });
  expect(client.getQueryData(queries.venue().queryKey)).toEqual(status);
  expect(client.getQueryData(queries.queue().queryKey)).toMatchObject([{ id: "j", state: "running" }]);
});

test("a sweep comes on in its list without asking, and one that another page began is looked up", () => {
  const sweeps = keyOf("listSweeps");
  const { client, stale } = kept(sweeps);
  client.setQueryData(sweeps, [
    { id: "s", done: 1, variants: 9, planTitle: "P" },
    { id: "t", done: 0, variants: 4 },
  ]);
  const progress = { type: "sweep-progress", done: 3, variants: 8, perSecond: 1, secondsLeft: 5, memoryBytes: 0 } as const;
  take(client, { ...progress, id: "s" });
  expect(client.getQueryData(sweeps)).toEqual([
    { id: "s", done: 3, variants: 8, planTitle: "P" },
    { id: "t", done: 0, variants: 4 },
  ]);
  expect(stale()).toEqual([]);
  take(client, { ...progress, id: "new" });
  expect(stale()).toEqual([sweeps]);
});

test("a change is told when what it made out of date was read again, and a refused one gives null", async () => {
  let change!: Change<"createPlan">;
  function Probe() {
    change = useChange("createPlan");
    return <p>{useQuery(queries.plans()).data?.length}</p>;
  }
  let plans: object[] = [];
  answer = () => Response.json(requests.at(-1)!.method === "GET" ? plans : { id: "new" });
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const host = await show(
    <QueryClientProvider client={client}>
      <Probe />
    </QueryClientProvider>,
  );
  plans = [{ id: "new" }];
  let made: Awaited<ReturnType<typeof change.run>> = null;
  await act(async () => {
    made = await change.run({}, {});
  });
  expect(made).toMatchObject({ reply: { id: "new" } });
  await vi.waitFor(() => expect(host.textContent).toBe("1"));
  answer = () => Response.json({ error: { code: "bad-input", message: "No.", details: {} } }, { status: 400 });
  await act(async () => {
    made = await change.run({}, {});
  });
  expect(made).toBeNull();
  await vi.waitFor(() => expect(change.error?.message).toBe("No."));
});
