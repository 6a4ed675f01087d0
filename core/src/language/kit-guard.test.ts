/** What a kit does about losses that came while the plan was away. */
import { expect, test, vi } from "vitest";
import { EMPTY_KIT } from "../engine/kit.ts";
import { withMissed } from "../live/missed.ts";
import { KitGuard, type KitMemory, type KitRun } from "./kit-guard.ts";

const SESSION = 1_000;
const KIT = { ...EMPTY_KIT, name: "Limited", dailyLoss: 100, atLimit: "flatten" as const };

/** What the kit asked for, of a guard that comes back with a memory. */
function backWith(memory: KitMemory | null, sessionMs = SESSION) {
  const asked: string[] = [];
  const run = {
    sessionMs: () => sessionMs,
    barAt: () => 3,
    waitingEntries: () => 0,
    nextBar: () => 4,
    cancelEntries: (which: string) => asked.push(`cancel ${which}`),
    flatten: (side: number) => asked.push(`flatten ${side}`),
    note: vi.fn(),
  } as unknown as KitRun;
  return { guard: new KitGuard(KIT, run, memory), asked };
}

const lost = (net: number) => ({ kind: "closed", trade: { net, exitTime: 1_500 } }) as Parameters<typeof withMissed>[1];
const before: KitMemory = { sessionMs: SESSION, entries: 2, lost: 60, isStopped: false, lossMs: 1_200, highest: null, over: "" };
const STOPPED = ["cancel all", "flatten 1", "flatten -1"];

test("a limit that a missed loss has reached is acted on at the next close, once", () => {
  const { guard, asked } = backWith(withMissed(before, lost(-50)));
  guard.marked();
  expect(asked).toEqual(STOPPED);
  guard.marked();
  expect(asked).toEqual(STOPPED);
  expect(guard.admit(1, false)).toContain("the session has lost 110.00");
  // Neither does it act again after another restart.
  const again = backWith(guard.memory);
  again.guard.marked();
  expect(again.asked).toEqual([]);
});

test("a missed gain, a loss within the limit and the loss of a session that is over ask for nothing", () => {
  for (const [net, sessionMs] of [
    [80, SESSION],
    [-30, SESSION],
    [-50, SESSION + 1],
  ] as const) {
    const { guard, asked } = backWith(withMissed(before, lost(net)), sessionMs);
    guard.marked();
    expect(asked).toEqual([]);
  }
});
