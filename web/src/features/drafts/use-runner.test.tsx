import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { show, speaking } from "../../testing.tsx";
import { type Runner, useRunner } from "./use-runner.ts";

let runner: Runner;
function Probe() {
  runner = useRunner();
  return null;
}

let tell: ReturnType<typeof speaking>;
let asked: { readonly id: string }[];
let answer: (response: Response) => void;

beforeEach(async () => {
  asked = [];
  tell = speaking();
  vi.stubGlobal("fetch", (_url: string, { body }: RequestInit) => {
    asked.push(JSON.parse(String(body)) as { id: string });
    return new Promise<Response>((resolve) => {
      answer = resolve;
    });
  });
  await show(<Probe />);
});
afterEach(() => vi.unstubAllGlobals());

const REQUEST = { planId: "p", source: "", inputs: {}, settings: {} } as unknown as Parameters<Runner["run"]>[0];
const FIGURES = { figures: { netProfit: 12 }, benchmarkFigures: { netProfit: 3 } };

test("its own run tells how far it is and what it came to; nobody else's does", async () => {
  let made: Promise<unknown> = Promise.resolve();
  await act(async () => {
    made = runner.run(REQUEST);
  });
  const { id } = asked[0]!;
  expect(runner.running).toMatchObject({ id, done: 0, figures: null });
  await tell({ type: "run-progress", id: "another", done: 9, total: 10 });
  await tell({ type: "run-figures", id: "another", ...FIGURES });
  expect(runner.running).toMatchObject({ done: 0, figures: null });
  await tell({ type: "run-progress", id, done: 5, total: 10 });
  await tell({ type: "run-figures", id, ...FIGURES });
  expect(runner.running).toMatchObject({ done: 5, total: 10, figures: FIGURES });
  await act(async () => {
    answer(new Response(JSON.stringify({ id })));
    await made;
  });
  expect(runner.running).toBeNull();
  // What comes late changes nothing.
  await tell({ type: "run-figures", id, ...FIGURES });
  expect(runner.running).toBeNull();
});

test("one run at a time, and a refusal is there to be shown until the next begins", async () => {
  let first: Promise<unknown> = Promise.resolve();
  await act(async () => {
    first = runner.run(REQUEST);
  });
  expect(await runner.run(REQUEST)).toBeNull();
  expect(asked).toHaveLength(1);
  await act(async () => {
    answer(new Response(JSON.stringify({ error: { code: "plan-error", message: "Line 3: no.", details: {} } }), { status: 422 }));
    await first;
  });
  expect(runner).toMatchObject({ running: null, failure: { code: "plan-error", message: "Line 3: no." } });
  await act(async () => void runner.run(REQUEST));
  expect(runner.failure).toBeNull();
});
