import { PLAIN_SETTINGS } from "@plan-tester/contract";
import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { pass, work } from "../../testing.tsx";
import type { Draft } from "../drafts/use-draft.ts";
import { useAutoRun } from "./use-auto-run.ts";

const draft = (source: string): Draft => ({
  ...{ source, inputs: {} },
  settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" },
});
interface Given {
  readonly draft: Draft;
  readonly isSound?: boolean;
  readonly isRunning?: boolean;
}

let started: string[];
beforeEach(() => {
  started = [];
  localStorage.clear();
  vi.useFakeTimers();
});
afterEach(() => void vi.useRealTimers());

const bench = (first: Given) =>
  work(
    ({ draft: shown, isSound = true, isRunning = false }: Given) =>
      useAutoRun(shown, isSound, isRunning, async () => void started.push(shown.source)),
    first,
  );

test("nothing runs by itself until that is wished for", async () => {
  const { give } = await bench({ draft: draft("a") });
  await give({ draft: draft("b") });
  await pass(2000);
  expect(started).toEqual([]);
});

test("a pause in typing runs the text as it stands then, once", async () => {
  const { now, give } = await bench({ draft: draft("a") });
  await act(async () => now().toggle());
  await give({ draft: draft("ab") });
  await pass(400);
  await give({ draft: draft("abc") });
  await pass(400);
  expect(started).toEqual([]);
  await pass(300);
  expect(started).toEqual(["abc"]);
  await pass(5000);
  expect(started).toEqual(["abc"]);
});

test("what can't be read, or comes while a run is on, waits for its turn", async () => {
  const { now, give } = await bench({ draft: draft("a") });
  await act(async () => now().toggle());
  const broken = draft("a(");
  await give({ draft: broken, isSound: false });
  await pass(1000);
  const mended = draft("a()");
  await give({ draft: mended, isRunning: true });
  await pass(1000);
  expect(started).toEqual([]);
  await give({ draft: mended });
  await pass(700);
  expect(started).toEqual(["a()"]);
});

test("that it was wished for is known another day", async () => {
  const first = await bench({ draft: draft("a") });
  await act(async () => first.now().toggle());
  const { now, give } = await bench({ draft: draft("x") });
  expect(now().isOn).toBe(true);
  await act(async () => now().toggle());
  await give({ draft: draft("y") });
  await pass(1000);
  expect(started).toEqual([]);
});
