/** The palette: reached from anywhere, and finding everything that has a page. */
import { act } from "react";
import { MemoryRouter, useLocation } from "react-router";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { queries } from "../data/queries.ts";
import { useCommandKeys } from "../lib/commands.ts";
import { click, keyOn, show, unmeasured, withAnswers } from "../testing.tsx";
import { matchOf, Palette } from "./palette.tsx";

const SETTINGS = { symbol: "KELP", timeframe: "15m" };
const ANSWERS = [
  [queries.plans().queryKey, [{ id: "lantern", title: "Lantern", symbol: "KELP" }]],
  [queries.markets().queryKey, [{ instrument: { symbol: "XSC/ORM", name: "Crown in ormers" } }]],
  [queries.batch("", 0).queryKey, { total: 1, runs: [{ id: "r1", name: "A good night", settings: SETTINGS }] }],
  [queries.sweeps().queryKey, [{ id: "s1", planTitle: "Lantern", request: { settings: SETTINGS } }]],
  [queries.walkForwards().queryKey, []],
  [queries.watches().queryKey, [{ id: "w1", planTitle: "Lantern", settings: SETTINGS }]],
] as const;

let place = "";
function Page() {
  useCommandKeys();
  place = useLocation().pathname;
  return (
    <>
      <textarea
        aria-label="Editor"
        onKeyDown={(event) => {
          // As an editor does with keys that it knows.
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      <Palette />
    </>
  );
}

beforeEach(() => {
  unmeasured();
  Element.prototype.scrollIntoView = () => undefined;
});
afterEach(() => vi.unstubAllGlobals());

const onPage = () =>
  show(
    withAnswers(
      ANSWERS,
      <MemoryRouter>
        <Page />
      </MemoryRouter>,
    ),
  );
const shown = () => document.querySelector("[cmdk-root]");
const entries = (): string[] => [...document.querySelectorAll("[cmdk-item]")].map((item) => item.textContent ?? "");

test("opens from inside the editor, which gets nothing of the key, and closes again", async () => {
  const host = await onPage();
  const editor = host.querySelector("textarea")!;
  await act(async () => editor.focus());
  await keyOn(editor, "k", { ctrlKey: true });
  expect(shown()).not.toBeNull();
  await keyOn(editor, "k", { ctrlKey: true });
  expect(shown()).toBeNull();
  expect(document.activeElement).toBe(editor);
});

test("finds plans, markets, runs, sweeps and watches, and leads there", async () => {
  const host = await onPage();
  await keyOn(host.querySelector("textarea")!, "k", { ctrlKey: true });
  expect(entries()).toEqual(
    expect.arrayContaining(["LanternKELP", "XSC/ORMCrown in ormers", "A good nightKELP 15 min", "LanternKELP 15 min"]),
  );
  const market = [...document.querySelectorAll<HTMLElement>("[cmdk-item]")].find((item) => item.textContent?.startsWith("XSC/ORM"))!;
  await click(market);
  expect(place).toBe("/markets/XSC%2FORM");
  expect(shown()).toBeNull();
});

test.each([
  ["Plans Kelp swing KELP", "kelp", 0.8],
  ["Plans Auk open extreme AUKL", "kelp", 0],
  ["Plans Kelp swing KELP", "swing plans", 0.5],
  ["Change between paper and night", "change", 1],
])("%s is found by %s: %d", (value, search, score) => {
  expect(matchOf(value, search)).toBe(score);
});
