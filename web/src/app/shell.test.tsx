/** The frame of every page: what it tells of the server's work, and that one broken page takes nothing else along. */
import { act } from "react";
import { MemoryRouter, Route, Routes } from "react-router";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { queries } from "../data/queries.ts";
import { press, serving, show, speaking, unmeasured, withAnswers } from "../testing.tsx";
import { Shell } from "./shell.tsx";

let tell: ReturnType<typeof speaking>;
let isBroken = false;
function Page() {
  if (isBroken) throw new Error("The chart has no bars.");
  return <p>a sound page</p>;
}

beforeEach(() => {
  isBroken = false;
  tell = speaking();
  serving(() => []);
  unmeasured();
  vi.stubGlobal("matchMedia", () => ({
    matches: false,
    addEventListener() {},
    removeEventListener() {},
    addListener() {},
    removeListener() {},
  }));
});
afterEach(() => vi.restoreAllMocks());

const page = () =>
  show(
    withAnswers(
      [
        [queries.sweeps().queryKey, [{ id: "s1", planTitle: "Ebb fade", request: { settings: { symbol: "KELP", timeframe: "15m" } } }]],
        [queries.queue().queryKey, []],
      ],
      <MemoryRouter initialEntries={["/here"]}>
        <Routes>
          <Route element={<Shell />}>
            <Route path="/here" element={<Page />} />
          </Route>
        </Routes>
      </MemoryRouter>,
    ),
  );

test("a sweep at work is told on every page, with a way there, until it is done", async () => {
  const host = await page();
  expect(host.textContent).not.toContain("left");
  await tell({ type: "sweep-progress", id: "s1", done: 25, variants: 100, perSecond: 5, secondsLeft: 15, memoryBytes: 1 });
  const link = [...host.querySelectorAll("a")].find(({ textContent }) => textContent?.startsWith("Sweep Ebb fade"))!;
  expect(link.textContent).toBe("Sweep Ebb fade 25 % · 15 s left");
  expect(link.getAttribute("href")).toBe("/sweeps/s1");
  await tell({ type: "sweep-done", id: "s1", status: "complete" });
  expect(host.textContent).not.toContain("25 %");
});

test("what the server could not do by itself is said, with a way to put it away", async () => {
  await page();
  await tell({ type: "trouble", text: "The last run was not saved: the disk is full.", timeMs: 1 });
  await vi.waitFor(() => expect(document.body.textContent).toContain("The last run was not saved: the disk is full."));
  expect(document.querySelector("[data-sonner-toast] [data-close-button]")).not.toBeNull();
});

test("a page that breaks says so, and is there again when it can be", async () => {
  isBroken = true;
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const host = await page();
  expect(host.textContent).toContain("The chart has no bars.");
  expect(host.querySelector("nav")?.textContent).toContain("Plans");
  isBroken = false;
  await press(host, "Show the page again");
  expect(host.textContent).toContain("a sound page");
});

test("paper turns to night and back, and is kept", async () => {
  const host = await page();
  const button = host.querySelector<HTMLElement>("[aria-label^=Theme]")!;
  await act(async () => button.click());
  expect(document.documentElement.dataset.theme).toBe("night");
  expect(localStorage.getItem("theme")).toBe("night");
  await act(async () => button.click());
  expect(document.documentElement.dataset.theme).toBe("paper");
});
