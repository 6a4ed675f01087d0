/** Faults made on purpose: what there is now, what is set, and a trade beside a watch. */
import { NO_FAULTS, type VenueFaults } from "@plan-tester/contract";
import { MemoryRouter } from "react-router";
import { expect, test } from "vitest";
import { queries } from "../../data/queries.ts";
import { control, press, refusal, serving, show, type, withAnswers } from "../../testing.tsx";
import { FaultsPage } from "./faults-page.tsx";

const watch = (id: string, state: string, symbol: string) => ({ id, name: `Watch ${id}`, state, settings: { symbol, alsoOn: [] } });
const WATCHES = [watch("w1", "ended", "KELP"), watch("w2", "armed", "AUKL"), watch("w3", "in position", "KELP")];
const MARKETS = [
  { instrument: { symbol: "KELP", minQuantity: 1, quantityStep: 1 } },
  { instrument: { symbol: "AUKL", minQuantity: 10, quantityStep: 10 } },
];

function page(faults: Partial<VenueFaults> = {}, watches: readonly object[] = WATCHES): Promise<HTMLElement> {
  return show(
    withAnswers(
      [
        [queries.faults().queryKey, { ...NO_FAULTS, ...faults }],
        [queries.watches().queryKey, watches],
        [queries.markets().queryKey, MARKETS],
        [queries.venue().queryKey, { connected: true, nowMs: 0, speed: 60, pace: 60, holds: true, trouble: "" }],
      ],
      <MemoryRouter>
        <FaultsPage />
      </MemoryRouter>,
    ),
  );
}

const row = (host: HTMLElement, words: string): HTMLTableRowElement =>
  [...host.querySelectorAll("tr")].find(({ textContent }) => textContent?.startsWith(words))!;

test("a fault that is there is told with its unit, also a clock that is behind; one is set by its number", async () => {
  const faults = { ...NO_FAULTS, refuseEntries: 2, skewSeconds: -90 };
  const asked = serving(() => faults);
  const host = await page(faults);
  expect(row(host, "Refuse entries").cells[1]!.textContent).toBe("2 orders");
  expect(row(host, "Set its clock wrong").cells[1]!.textContent).toBe("−90 s");
  expect(row(host, "Swap reports").cells[1]!.textContent).toBe("none");
  await type(control(host, "Set its clock wrong, s"), "-3600");
  await press(row(host, "Set its clock wrong"), "Set");
  expect(asked.filter(({ what }) => what.startsWith("PATCH"))).toEqual([{ what: "PATCH /venue/faults", body: { skewSeconds: -3600 } }]);
  await press(host, "No faults any more");
  expect(asked.filter(({ what }) => what.startsWith("PATCH")).at(-1)!.body).toEqual(NO_FAULTS);
});

test("without faults there is nothing to take away", async () => {
  const host = await page();
  expect([...host.querySelectorAll("button")].find(({ textContent }) => textContent === "No faults any more")!.disabled).toBe(true);
});

test("something else trades beside a watch that is at work, no less than its instrument's smallest size", async () => {
  const asked = serving((what) => (what.includes("w3") ? refusal(503, "unavailable", "The practice venue does not answer.") : undefined));
  const host = await page();
  const chosen = control(host, "Watch") as HTMLSelectElement;
  expect([...chosen.options].map(({ text }) => text)).toEqual(["Watch w2", "Watch w3"]);
  expect(control(host, "Units").value).toBe("10");
  await press(row(host, "Let another trade"), "Send");
  await type(chosen, "w3");
  await type(control(host, "Side"), "-1");
  await type(control(host, "Units"), "3");
  expect(row(host, "Let another trade").textContent).toContain("on KELP");
  await press(row(host, "Let another trade"), "Send");
  expect(asked.filter(({ what }) => what.includes("other-trades"))).toEqual([
    { what: "POST /watches/w2/other-trades", body: { symbol: "AUKL", side: 1, quantity: 10 } },
    { what: "POST /watches/w3/other-trades", body: { symbol: "KELP", side: -1, quantity: 3 } },
  ]);
});

test("the price of an instrument that is traded jumps by a percentage within bounds", async () => {
  const asked = serving(() => undefined);
  const host = await page();
  expect([...(control(host, "Instrument") as HTMLSelectElement).options].map(({ text }) => text)).toEqual(["AUKL", "KELP"]);
  await type(control(host, "Instrument"), "KELP");
  await type(control(host, "Percent"), "-60");
  await press(row(host, "Let a price jump"), "Jump");
  expect(asked).toEqual([]);
  await type(control(host, "Percent"), "4.5");
  await press(row(host, "Let a price jump"), "Jump");
  expect(asked).toEqual([{ what: "POST /venue/jumps", body: { symbol: "KELP", percent: 4.5 } }]);
});

test("where no watch is at work that is said in place of a form", async () => {
  const host = await page({}, WATCHES.slice(0, 1));
  for (const what of ["Let another trade", "Let a price jump"]) expect(row(host, what).textContent).toContain("No watch is at work.");
});
