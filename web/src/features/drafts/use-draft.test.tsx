import { PLAIN_SETTINGS, type PlanDetail } from "@plan-tester/contract";
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { pass, show, work } from "../../testing.tsx";
import { drafts } from "./drafts.ts";
import { useDraft } from "./use-draft.ts";

const SETTINGS = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" };
let plans = 0;
const plan = (more: Partial<PlanDetail> = {}): PlanDetail =>
  ({ id: `plan ${plans}`, title: "Lantern", revision: 1, source: "first", inputs: {}, settings: SETTINGS, ...more }) as PlanDetail;

/** What was sent, and what the server says to it. */
let sent: Record<string, unknown>[];
let answer: (body: Record<string, unknown>) => Response;
const saved = (body: Record<string, unknown>): Response => new Response(JSON.stringify({ ...plan(), ...body, revision: 2 }));
const conflict = (theirs: Partial<PlanDetail>) => (): Response =>
  new Response(JSON.stringify({ error: { code: "conflict", message: "Saved elsewhere.", details: { ...plan(), ...theirs } } }), {
    status: 409,
  });

beforeEach(() => {
  plans++;
  sent = [];
  answer = saved;
  vi.useFakeTimers();
  vi.stubGlobal("fetch", async (_url: string, { body }: RequestInit) => {
    const told = JSON.parse(String(body)) as Record<string, unknown>;
    const { draft: _draft, ...change } = told;
    sent.push(change);
    return answer(told);
  });
});
afterEach(async () => {
  await show(null);
  drafts.drop(`plan ${plans}`);
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test("what is typed is there at once, is saved a moment later, and leaves the editor its text", async () => {
  const { now } = await work(useDraft, plan());
  await act(async () => now().type("first line"));
  expect(now().draft.source).toBe("first line");
  expect(now()).toMatchObject({ edition: 0, saveState: { kind: "saving" } });
  await pass(600);
  expect(sent).toEqual([{ source: "first line", baseRevision: 1 }]);
  expect(now().saveState.kind).toBe("saved");
});

test("a source that comes from elsewhere, a version or a file, is given to the editor", async () => {
  const { now } = await work(useDraft, plan());
  await act(async () => now().change({ inputs: { span: 3 } }));
  await act(async () => now().change({ source: "first" }));
  expect(now().edition).toBe(0);
  await act(async () => now().change({ source: "an older one" }));
  expect(now()).toMatchObject({ edition: 1, draft: { source: "an older one", inputs: { span: 3 } } });
});

test("a run takes the latest text, also before it is drawn", async () => {
  const { now } = await work(useDraft, plan());
  await act(async () => {
    now().type("now");
    expect(now().latest().source).toBe("now");
  });
});

test("begins with what an earlier page could not save", async () => {
  const first = await work(useDraft, plan());
  answer = () => new Response("", { status: 503 });
  await act(async () => first.now().type("not saved yet"));
  await pass(600);
  expect(first.now().saveState.kind).toBe("failed");
  const again = await work(useDraft, plan());
  expect(again.now().draft.source).toBe("not saved yet");
});

test("follows what was saved elsewhere, where nothing here would be lost by it", async () => {
  const { now, give } = await work(useDraft, plan());
  await give(plan({ revision: 2, source: "of another tab" }));
  expect(now()).toMatchObject({ edition: 1, draft: { source: "of another tab" } });
  await act(async () => now().type("mine"));
  await give(plan({ revision: 3, source: "of another tab again" }));
  expect(now().draft.source).toBe("mine");
});

test("of two texts mine is saved over theirs, or theirs is taken; nothing is sent before that is said", async () => {
  const { now } = await work(useDraft, plan());
  answer = conflict({ revision: 5, source: "theirs" });
  await act(async () => now().type("mine"));
  await pass(600);
  expect(now().saveState).toMatchObject({ kind: "conflict", theirs: { source: "theirs" } });
  await act(async () => now().type("mine too"));
  await pass(3000);
  expect(sent).toHaveLength(1);
  answer = saved;
  await act(async () => now().settle("mine"));
  await pass(100);
  expect(sent.at(-1)).toEqual({ source: "mine too", baseRevision: 5 });
  answer = conflict({ revision: 9, source: "theirs again" });
  await act(async () => now().type("mine a third time"));
  await pass(600);
  await act(async () => now().settle("theirs"));
  expect(now()).toMatchObject({ draft: { source: "theirs again" }, saveState: { kind: "saved" } });
  await pass(3000);
  expect(sent).toHaveLength(3);
});

test("leaving the page sends what still waits", async () => {
  const { now } = await work(useDraft, plan());
  await act(async () => now().type("at the last moment"));
  await show(null);
  expect(sent).toEqual([{ source: "at the last moment", baseRevision: 1 }]);
});
