import type { QueuedRun } from "@plan-tester/contract";
import { MemoryRouter } from "react-router";
import { Toaster, toast } from "sonner";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { press, serving, show, speaking, withAnswers } from "../../testing.tsx";
import { QueueButton } from "./queue-button.tsx";

const job = (id: string, state: QueuedRun["state"], more: Partial<QueuedRun> = {}): QueuedRun =>
  ({ id, batch: "b1", name: `Run ${id}`, state, message: "", netProfit: state === "kept" ? 120 : null, ...more }) as QueuedRun;

let tell: ReturnType<typeof speaking>;
beforeEach(() => {
  tell = speaking();
});
afterEach(() => {
  toast.dismiss();
});

async function page(queue: readonly QueuedRun[]) {
  const host = await show(
    withAnswers(
      [[queries.queue().queryKey, queue]],
      <MemoryRouter>
        <QueueButton />
        <Toaster />
      </MemoryRouter>,
    ),
  );
  return { host, toasts: () => [...document.querySelectorAll("[data-sonner-toast]")].map(({ textContent }) => textContent) };
}

test("is not there without runs; says how many are left, then that all are done", async () => {
  expect((await page([])).host.textContent).toBe("");
  expect((await page([job("a", "kept"), job("b", "running"), job("c", "waiting")])).host.textContent).toContain("2 runs left");
  expect((await page([job("a", "kept"), job("b", "failed")])).host.textContent).toContain("Background: done");
});

test("leads to what is kept, says why another failed, and stops one that is not done", async () => {
  const asked = serving(() => undefined);
  const { host } = await page([job("a", "kept"), job("b", "failed", { message: "Line 3: no." }), job("c", "waiting")]);
  await press(host, "Background");
  expect(document.querySelector("a")!.getAttribute("href")).toBe("/runs/a");
  expect(document.body.textContent).toContain("+120");
  expect(document.body.textContent).toContain("Line 3: no.");
  await press(document.body, "Stop");
  await press(document.body, "Clear what is done");
  await vi.waitFor(() =>
    expect(asked.map(({ what }) => what).filter((what) => !what.startsWith("GET"))).toEqual(["POST /queue/c/stop", "DELETE /queue"]),
  );
});

test("tells once of a batch that it saw at work, with those that failed; of one that was over before it says nothing", async () => {
  const { toasts } = await page([job("a", "waiting")]);
  const queue = (...jobs: QueuedRun[]) => tell({ type: "queue", queue: jobs });
  await queue(job("old", "kept", { batch: "b0" }), job("a", "running"), job("b", "waiting"));
  await queue(job("old", "kept", { batch: "b0" }), job("a", "kept"), job("b", "running"));
  expect(toasts()).toEqual([]);
  await queue(job("old", "kept", { batch: "b0" }), job("a", "kept"), job("b", "failed"));
  await vi.waitFor(() => expect(toasts()).toEqual(["2 runs are done; 1 failed"]));
  await queue(job("old", "kept", { batch: "b0" }), job("a", "kept"), job("b", "failed"));
  expect(toasts()).toHaveLength(1);
});
