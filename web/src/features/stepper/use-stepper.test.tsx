import type { RunEvidence, RunSteps } from "@plan-tester/contract";
import type { TraceEvent } from "@plan-tester/core";
import { act } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { pass, work } from "../../testing.tsx";
import { CHUNK, useStepper } from "./use-stepper.ts";

const LENGTH = 2 * CHUNK + 50;
let runs = 0;
const run = (): RunEvidence =>
  ({
    id: `run ${runs}`,
    barsDone: LENGTH,
    firstBar: 20,
    trades: [],
    log: [{ barIndex: 30 }, { barIndex: 90 }],
    settings: { symbol: "KELP" },
  }) as unknown as RunEvidence;

/** Two events on every tenth bar, each with a state of its own; every bar closes in state 0. */
function steps(from: number, to: number): RunSteps {
  const events: TraceEvent[] = [];
  for (let bar = from; bar <= to; bar++)
    if (bar % 10 === 0)
      for (const [k, text] of ["asked", "sent"].entries())
        events.push({ id: events.length, barIndex: bar, timeMs: bar, kind: "log", place: -1, line: 3, text, value: 0, state: k + 1 });
  const states = [0, 1, 2].map((cash) => ({ cash }));
  return {
    from,
    to,
    events,
    states,
    closeStates: Array.from({ length: to - from + 1 }, () => 0),
    columns: [],
    names: [],
    tests: [],
  } as unknown as RunSteps;
}

let asked: string[];
beforeEach(() => {
  runs++;
  asked = [];
  vi.useFakeTimers();
  vi.stubGlobal("fetch", async (url: string) => {
    asked.push(url);
    return new Response(JSON.stringify(url.includes("/steps") ? steps(CHUNK, 2 * CHUNK - 1) : { orders: [], fills: [] }));
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const stepper = (isOn = true) => {
  const shown = run();
  return work((on: boolean) => useStepper(shown, [], on), isOn, [
    [queries.runOrders(shown.id).queryKey, { orders: [], fills: [] }],
    [queries.runSteps(shown.id, 0, CHUNK - 1).queryKey, steps(0, CHUNK - 1)],
  ]);
};

describe("walking through a run", () => {
  test("begins nowhere, goes to a bar, and not past the ends", async () => {
    const { now } = await stepper();
    expect(now()).toMatchObject({ bar: null, state: null });
    await act(async () => now().goTo(40));
    expect(now()).toMatchObject({ bar: 40, eventAt: -1, state: { cash: 0 } });
    expect(now().events.map(({ text }) => text)).toEqual(["asked", "sent"]);
    await act(async () => now().goTo(-5));
    expect(now().bar).toBe(0);
    await act(async () => now().goTo(LENGTH + 5));
    expect(now().bar).toBe(LENGTH - 1);
  });

  test("by events goes through those of a bar, stands after its close, and goes over to the next bar", async () => {
    const { now } = await stepper();
    // Before the first step it goes to the first bar on which the plan could act.
    await act(async () => now().goEvent(1));
    expect(now().bar).toBe(20);
    await act(async () => now().goTo(29));
    const walk: unknown[] = [];
    for (let k = 0; k < 5; k++) {
      await act(async () => now().goEvent(1));
      walk.push([now().bar, now().eventAt, now().state?.cash]);
    }
    expect(walk).toEqual([
      [30, 0, 1],
      [30, 1, 2],
      [30, -1, 0],
      [31, -1, 0],
      [32, -1, 0],
    ]);
    await act(async () => now().goTo(30));
    const back: unknown[] = [];
    for (let k = 0; k < 3; k++) {
      await act(async () => now().goEvent(-1));
      back.push([now().bar, now().eventAt]);
    }
    expect(back).toEqual([
      [30, 1],
      [30, 0],
      [29, -1],
    ]);
  });

  test("jumps to the next of what is looked for, both ways, and stays where there is none", async () => {
    const { now } = await stepper();
    await act(async () => now().setJump("log line"));
    await act(async () => now().go(1));
    expect(now().bar).toBe(30);
    await act(async () => now().go(1));
    await act(async () => now().go(1));
    expect(now().bar).toBe(90);
    await act(async () => now().go(-1));
    expect(now().bar).toBe(30);
    await act(async () => now().setJump("bar"));
    await act(async () => now().go(1));
    expect(now().bar).toBe(31);
  });

  test("plays at so many bars a second, several a tick where the screen is slower, and stops at the end", async () => {
    const { now } = await stepper();
    await act(async () => now().goTo(LENGTH - 4));
    await act(async () => now().setSpeed(5));
    await act(async () => now().play(true));
    await pass(450);
    expect(now()).toMatchObject({ bar: LENGTH - 2, isPlaying: true });
    await pass(1000);
    expect(now()).toMatchObject({ bar: LENGTH - 1, isPlaying: false });
    await act(async () => now().goTo(0));
    await act(async () => now().setSpeed(300));
    await act(async () => now().play(true));
    await pass(200);
    expect(now().bar! % 10).toBe(0);
    expect(now().bar).toBeGreaterThan(20);
    await act(async () => now().play(false));
    const { bar } = now();
    await pass(500);
    expect(now().bar).toBe(bar);
  });

  test("asks for the next stretch ahead, in the second half of this one, and for nothing while it is closed", async () => {
    const { now, give } = await stepper();
    await act(async () => now().goTo(CHUNK / 2 - 1));
    expect(asked).toEqual([]);
    await act(async () => now().goTo(CHUNK / 2));
    await pass(50);
    expect(asked).toEqual([expect.stringContaining(`from=${CHUNK}&to=${2 * CHUNK - 1}`)]);
    await give(false);
    await act(async () => now().goTo(LENGTH - 1));
    await pass(50);
    expect(asked).toHaveLength(1);
  });
});
