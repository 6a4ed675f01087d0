/** What is changed on a blend reaches the server once, in order; what can't be saved is not lost, and is never called saved. */
import type { Blend, BlendChange } from "@plan-tester/contract";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { BlendSaver } from "./blend-saver.ts";

const SETUP: Blend["setup"] = {
  ...{ cash: 1000, currency: "XSC", rates: {}, tolerated: 20, allowance: 0, fall: "measured", weighting: "by hand" },
  ...{ days: "shared", chosenBy: 60, members: [] },
};
const BLEND: Blend = { id: "b", name: "One", note: "", setup: SETUP, revision: 3, fingerprint: "f", createdMs: 0, updatedMs: 0 };

let sent: BlendChange[] = [];
/** How the server answers; null: as one that saves. */
let refusal: { readonly status: number; readonly code: string } | "away" | null = null;
beforeEach(() => {
  [sent, refusal] = [[], null];
  localStorage.clear();
  vi.useFakeTimers();
  vi.stubGlobal(
    "fetch",
    vi.fn(async (_address: string, { body }: RequestInit) => {
      if (refusal === "away") throw new TypeError("Failed to fetch");
      if (refusal) return new Response(JSON.stringify({ error: { code: refusal.code, message: "no" } }), { status: refusal.status });
      const change = JSON.parse(String(body)) as BlendChange;
      sent.push(change);
      return new Response(JSON.stringify({ ...BLEND, ...change, revision: change.revision + 1 }));
    }),
  );
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const made = (): BlendSaver => {
  const saver = new BlendSaver(BLEND, () => undefined);
  saver.subscribe(() => undefined);
  return saver;
};
const settle = () => vi.advanceTimersByTimeAsync(700);

test("changes that follow one another are saved together, against the revision that was read, and then against the next", async () => {
  const saver = made();
  saver.change({ name: "Two" });
  saver.change({ name: "Three" });
  expect(saver.view().state).toBe("waiting");
  await settle();
  expect(saver.view().state).toBe("saved");
  saver.change({ note: "why" });
  await settle();
  expect(sent.map(({ name, note, revision }) => [name, note, revision])).toEqual([
    ["Three", "", 3],
    ["Three", "why", 4],
  ]);
});

test("what changes while a save is slow is saved after it, against the revision that it made: nothing conflicts with itself", async () => {
  const answer: ((response: Response) => void)[] = [];
  const revisions: number[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn((_address: string, { body }: RequestInit) => {
      revisions.push((JSON.parse(String(body)) as BlendChange).revision);
      return new Promise<Response>((resolve) => answer.push(resolve));
    }),
  );
  const saver = made();
  saver.change({ name: "Two" });
  await settle();
  saver.change({ name: "Three" });
  await settle();
  saver.leave();
  expect(revisions).toEqual([3]);
  answer[0]!(new Response(JSON.stringify({ ...BLEND, revision: 4 })));
  await settle();
  expect(revisions).toEqual([3, 4]);
  answer[1]!(new Response(JSON.stringify({ ...BLEND, revision: 5 })));
  await settle();
  expect([saver.view().state, saver.view().body.name]).toEqual(["saved", "Three"]);
});

test("undo takes one change back after the other, and is saved too", async () => {
  const saver = made();
  saver.change({ name: "Two" });
  saver.change({ name: "Three" });
  saver.undo();
  expect(saver.view().body.name).toBe("Two");
  saver.undo();
  expect([saver.view().body.name, saver.view().canUndo]).toEqual(["One", false]);
  await settle();
  expect(sent.at(-1)!.name).toBe("One");
});

test("a server that is away: not saved, said, kept by the browser, and saved when asked again", async () => {
  refusal = "away";
  const saver = made();
  saver.change({ name: "Two" });
  await settle();
  expect([saver.view().state, saver.view().error?.message]).toEqual(["failed", expect.stringContaining("The server does not answer")]);
  // The page is closed and opened again.
  const again = made();
  expect(again.view().body.name).toBe("Two");
  refusal = null;
  await again.save();
  expect([again.view().state, sent.at(-1)!.name]).toEqual(["saved", "Two"]);
  expect(new BlendSaver(BLEND, () => undefined).view().body.name).toBe("One");
});

test("a change elsewhere: nothing is overwritten, whatever is changed here, until it is dealt with", async () => {
  refusal = { status: 409, code: "conflict" };
  const saver = made();
  saver.change({ name: "Two" });
  await settle();
  expect(saver.view().state).toBe("conflict");
  refusal = null;
  saver.change({ name: "Three" });
  await settle();
  saver.leave();
  expect([sent, saver.view().state]).toEqual([[], "conflict"]);
});

test("a page that goes sends what is unsaved along", async () => {
  const saver = made();
  saver.change({ name: "Two" });
  saver.leave();
  await settle();
  expect(sent.map(({ name }) => name)).toEqual(["Two"]);
});
