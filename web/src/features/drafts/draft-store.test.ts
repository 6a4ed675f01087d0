import type { PlanDetail, PlanUpdate } from "@plan-tester/contract";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { ApiFailure } from "../../data/api.ts";
import { DraftStore, type Theirs } from "./draft-store.ts";

/** What was sent, without the number of the draft. */
const plain = ({ draft: _draft, ...update }: PlanUpdate): PlanUpdate => update;

/** A server that can be down, slow or refusing; it merges what it gets, as the real one does. */
class FakeServer {
  readonly plans = new Map<string, PlanUpdate>();
  readonly order: PlanUpdate[] = [];
  failure: ApiFailure | null = null;
  hold: Promise<void> | null = null;

  readonly send = async (planId: string, update: PlanUpdate): Promise<PlanDetail> => {
    if (this.hold) await this.hold;
    if (this.failure) throw this.failure;
    this.order.push(update);
    this.plans.set(planId, { ...this.plans.get(planId), ...update });
    return { id: planId, revision: (update.baseRevision ?? 0) + 1 } as PlanDetail;
  };
}

const DOWN = new ApiFailure("unavailable", "The server does not answer.");

describe("drafts that the server does not have yet", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    localStorage.clear();
  });
  afterEach(() => void vi.useRealTimers());

  test("a change is saved a moment later, and storage is empty again", async () => {
    const server = new FakeServer();
    const store = new DraftStore(server.send, localStorage);
    store.change("lantern", { source: "a" });
    store.change("lantern", { source: "ab" });
    expect(store.state("lantern").kind).toBe("saving");
    expect(localStorage.length).toBe(1);
    await vi.advanceTimersByTimeAsync(600);
    expect(server.order).toEqual([{ source: "ab" }]);
    expect(store.state("lantern").kind).toBe("saved");
    expect(localStorage.length).toBe(0);
  });

  test("a run that begins goes first: the change waits in the browser's storage, and is saved all the same", async () => {
    const server = new FakeServer();
    const store = new DraftStore(server.send, localStorage);
    store.change("lantern", { source: "a" });
    store.yieldToRun("lantern");
    await vi.advanceTimersByTimeAsync(1000);
    expect(server.order).toEqual([]);
    expect(localStorage.length).toBe(1);
    await vi.advanceTimersByTimeAsync(600);
    expect(server.order).toEqual([{ source: "a" }]);
    store.yieldToRun("lantern");
    expect(store.state("lantern").kind).toBe("saved");
  });

  test("what was asked for before a save and comes after it is no conflict with oneself", async () => {
    const server = new FakeServer();
    const store = new DraftStore(server.send, localStorage);
    store.read({ id: "lantern", revision: 3 });
    store.change("lantern", { source: "a" });
    await vi.advanceTimersByTimeAsync(600);
    store.read({ id: "lantern", revision: 3 });
    store.change("lantern", { source: "ab" });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.order.map(({ baseRevision }) => baseRevision)).toEqual([3, 4]);
    // Saved elsewhere.
    store.read({ id: "lantern", revision: 9 });
    store.change("lantern", { source: "abc" });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.order.at(-1)!.baseRevision).toBe(9);
  });

  test("who leaves and comes back before the save finds the change", () => {
    const store = new DraftStore(new FakeServer().send, localStorage);
    store.change("lantern", { source: "just typed" });
    store.flush();
    expect(store.unsaved("lantern")).toEqual({ source: "just typed" });
  });

  test("a server that is down gets everything when it answers again, without a further change", async () => {
    const server = new FakeServer();
    server.failure = DOWN;
    const store = new DraftStore(server.send, localStorage);
    store.change("lantern", { source: "one" });
    await vi.advanceTimersByTimeAsync(1000);
    expect(store.state("lantern").kind).toBe("failed");
    store.change("lantern", { inputs: { span: 5 } });
    await vi.advanceTimersByTimeAsync(5000);
    server.failure = null;
    await vi.advanceTimersByTimeAsync(20_000);
    expect(server.plans.get("lantern")).toEqual({ source: "one", inputs: { span: 5 } });
    expect(store.state("lantern").kind).toBe("saved");
  });

  describe("a plan that was saved elsewhere", () => {
    const theirs = { revision: 7, source: "theirs", inputs: {}, settings: {} } as unknown as Theirs;
    const CONFLICT = new ApiFailure("conflict", "The plan was saved elsewhere.", { ...theirs });

    test("each save says from which revision it was made, the next from the one before", async () => {
      const server = new FakeServer();
      const store = new DraftStore(server.send, localStorage);
      store.read({ id: "lantern", revision: 4 });
      store.change("lantern", { source: "a" });
      await vi.advanceTimersByTimeAsync(600);
      store.change("lantern", { source: "ab" });
      await vi.advanceTimersByTimeAsync(600);
      expect(server.order.map(({ baseRevision }) => baseRevision)).toEqual([4, 5]);
    });

    test("is a conflict that is told, waits for a choice, and loses nothing that is typed meanwhile", async () => {
      const server = new FakeServer();
      server.failure = CONFLICT;
      const store = new DraftStore(server.send, localStorage);
      store.read({ id: "lantern", revision: 4 });
      store.change("lantern", { source: "mine" });
      await vi.advanceTimersByTimeAsync(600);
      expect(store.state("lantern")).toMatchObject({ kind: "conflict", theirs });
      store.change("lantern", { source: "mine, and more" });
      server.failure = null;
      await vi.advanceTimersByTimeAsync(60_000);
      expect(server.order).toEqual([]);
      // The page may go and come again: the change and what it was made from are still there.
      const again = new DraftStore(server.send, localStorage);
      again.resume();
      expect(again.unsaved("lantern")).toEqual({ source: "mine, and more" });
      again.drop("lantern");
      store.overwrite("lantern", theirs);
      await vi.advanceTimersByTimeAsync(600);
      expect(server.order.map(plain)).toEqual([{ source: "mine, and more", baseRevision: 7 }]);
      expect(store.state("lantern").kind).toBe("saved");
    });

    test("is followed where nothing waits here, and only when it is newer", async () => {
      const store = new DraftStore(new FakeServer().send, localStorage);
      store.read({ id: "lantern", revision: 4 });
      expect([store.mayFollow("lantern", 4), store.mayFollow("lantern", 5)]).toEqual([false, true]);
      store.change("lantern", { source: "mine" });
      expect(store.mayFollow("lantern", 5)).toBe(false);
      await vi.advanceTimersByTimeAsync(600);
      // The page's own save.
      expect(store.mayFollow("lantern", 5)).toBe(false);
    });
  });

  test("a page that goes while a save is on its way sends all of it as a later save of the same draft, and so does the next page", async () => {
    const server = new FakeServer();
    server.hold = new Promise(() => undefined);
    const sent: PlanUpdate[] = [];
    const store = new DraftStore((id, update) => {
      sent.push(update);
      return server.send(id, update);
    }, localStorage);
    store.read({ id: "lantern", revision: 4 });
    store.change("lantern", { source: "a" });
    await vi.advanceTimersByTimeAsync(600);
    store.change("lantern", { source: "ab" });
    store.flush(true);
    const next = new FakeServer();
    new DraftStore(next.send, localStorage).resume();
    await vi.advanceTimersByTimeAsync(600);
    const saves = [...sent, ...next.order];
    expect(saves.map(({ source, baseRevision, draft }) => [source, baseRevision, draft?.save])).toEqual([
      ["a", 4, 1],
      ["ab", 4, 2],
      ["ab", 4, 3],
    ]);
    expect(new Set(saves.map(({ draft }) => draft?.id)).size).toBe(1);
  });

  test("a later change is not overtaken by an earlier one that is slow", async () => {
    const server = new FakeServer();
    let release = (): void => undefined;
    server.hold = new Promise((resolve) => {
      release = resolve;
    });
    const store = new DraftStore(server.send, localStorage);
    store.change("lantern", { source: "first" });
    await vi.advanceTimersByTimeAsync(600);
    store.change("lantern", { source: "second" });
    await vi.advanceTimersByTimeAsync(5000);
    expect(store.unsaved("lantern")).toEqual({ source: "second" });
    server.hold = null;
    release();
    await vi.advanceTimersByTimeAsync(1000);
    expect(server.order.map(plain)).toEqual([{ source: "first" }, { source: "second", baseRevision: 1 }]);
    expect(store.state("lantern").kind).toBe("saved");
  });

  test("a refused change is kept and said, and not sent again by itself", async () => {
    const server = new FakeServer();
    server.failure = new ApiFailure("bad-input", "cash must be above 0.");
    const store = new DraftStore(server.send, localStorage);
    store.change("lantern", { source: "x" });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(store.state("lantern")).toEqual({ kind: "failed", message: "cash must be above 0." });
    server.failure = null;
    await vi.advanceTimersByTimeAsync(60_000);
    expect(server.order).toEqual([]);
    store.change("lantern", { inputs: {} });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.order).toEqual([{ source: "x", inputs: {} }]);
  });

  test("what a closed tab left behind is sent by the next visit; damaged entries do no harm", async () => {
    const closed = new FakeServer();
    closed.failure = DOWN;
    new DraftStore(closed.send, localStorage).change("lantern", { source: "left behind" });
    localStorage.setItem("draft:broken", "{");
    localStorage.setItem("theme", "night");
    const server = new FakeServer();
    const store = new DraftStore(server.send, localStorage);
    store.resume();
    expect(store.unsaved("lantern")).toEqual({ source: "left behind" });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.plans.get("lantern")).toEqual({ source: "left behind" });
    expect(Object.keys(localStorage)).toEqual(["theme"]);
  });

  test("a full storage loses nothing on the page", async () => {
    const server = new FakeServer();
    const full = {
      setItem: () => {
        throw new Error("quota");
      },
      removeItem: () => undefined,
      getItem: () => null,
      key: () => null,
      length: 0,
      clear: () => undefined,
    };
    const store = new DraftStore(server.send, full as Storage);
    store.change("lantern", { source: "big" });
    expect(store.unsaved("lantern")).toEqual({ source: "big" });
    await vi.advanceTimersByTimeAsync(600);
    expect(server.order).toEqual([{ source: "big" }]);
  });
});
