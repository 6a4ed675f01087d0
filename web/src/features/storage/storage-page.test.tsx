import type { StorageReport } from "@plan-tester/contract";
import { MemoryRouter } from "react-router";
import { expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { press, serving, show, withAnswers } from "../../testing.tsx";
import { StoragePage } from "./storage-page.tsx";

const REPORT: StorageReport = {
  ...{ fileBytes: 200 * 2 ** 20, emptyBytes: 50 * 2 ** 20, freeBytes: null },
  parts: [
    { kind: "bars", count: 7, bytes: 100 * 2 ** 20 },
    { kind: "deleted", count: 1, bytes: 0 },
  ],
  bin: [{ kind: "walk-forward", id: "w1", name: "Ebb through 2024", deletedMs: 0 }],
  rules: { binDays: 14, batchRunDays: null, dailyReturnDays: null },
};

const page = (more: Partial<StorageReport> = {}) =>
  show(
    withAnswers(
      [[queries.storage().queryKey, { ...REPORT, ...more }]],
      <MemoryRouter>
        <StoragePage />
      </MemoryRouter>,
    ),
  );
const changes = (asked: ReturnType<typeof serving>) => asked.filter(({ what }) => !what.startsWith("GET"));

test("says how large the file is and what of it is what, and nothing of a disk that it can't see", async () => {
  const host = await page();
  expect(host.textContent).toContain("The data folder's file is 200 MB large.");
  const rows = [...host.querySelectorAll("tbody")[0]!.querySelectorAll("tr")].map(({ textContent }) => textContent);
  expect(rows).toEqual(["Bars7 instruments100 MB50\u00a0%", "Deleted1 thing0 MB0\u00a0%", "Empty space50 MB25\u00a0%"]);
  expect((await page({ freeBytes: 2 ** 30 })).textContent).toContain("its disk has 1");
});

test("what was deleted is brought back by its kind and id", async () => {
  const asked = serving(() => undefined);
  await press(await page(), "Bring back Ebb through 2024");
  await vi.waitFor(() => expect(changes(asked)).toEqual([{ what: "POST /storage/bin/restore", body: { kind: "walk-forward", id: "w1" } }]));
});

test("the bin is emptied once that is said again, and not by a single press", async () => {
  const asked = serving(() => REPORT);
  const host = await page();
  await press(host, "Empty the bin");
  await press(document.body, "Cancel");
  expect(changes(asked)).toEqual([]);
  await press(host, "Empty the bin");
  await press(document.body, "Remove for good");
  await vi.waitFor(() => expect(changes(asked)).toHaveLength(1));
});

test("with nothing to give back or to remove, neither can be pressed", async () => {
  const host = await page({ emptyBytes: 0, bin: [] });
  const button = (words: string) => [...host.querySelectorAll("button")].find(({ textContent }) => textContent === words)!;
  expect([button("Compact the file").disabled, button("Empty the bin").disabled]).toEqual([true, true]);
  expect(host.textContent).toContain("can be brought back from here for 14 days");
});
