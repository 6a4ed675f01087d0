/** From the drawdown of a run to what to trade. */
import { PLAIN_SETTINGS, type RunEvidence } from "@plan-tester/contract";
import { ALWAYS_OPEN, type Instrument, makeSeries, type Size, type Trade } from "@plan-tester/core";
import { act } from "react";
import { expect, test, vi } from "vitest";
import { percent } from "../../lib/format.ts";
import { click, control, press, show, type } from "../../testing.tsx";
import type { EvidenceData } from "../run-view/view.ts";
import { type FallsQuestion, fallsOf, fixedRate, marginPerUnit } from "./falls.ts";
import { type MeaningQuestion, meaningOf } from "./meaning.ts";
import { SizeTab } from "./size-tab.tsx";

// There are no workers here: the same work, at once.
vi.mock("../../lib/ask-worker.ts", () => ({
  askWorker: async (_make: () => Worker, question: FallsQuestion | MeaningQuestion) => {
    if ("factor" in question) return meaningOf(question);
    if (question.maxDrawdown < 0) throw new Error("The worker did not start.");
    return fallsOf(question);
  },
}));

const DAYS = 60;
const BARS = DAYS * 4;
/** Money against the bar before: a fall of 300 on days 20 to 22, else a little up. */
const steps = Array.from({ length: BARS }, (_none, i) => (i >= 80 && i < 90 ? -30 : 5));
const CASH = 10_000;
const equity = Float64Array.from(steps, (_step, i) => CASH + steps.slice(0, i + 1).reduce((sum, step) => sum + step, 0));
const column = (value: number): Float64Array => new Float64Array(BARS).fill(value);
const bars = makeSeries(
  {
    time: Float64Array.from({ length: BARS }, (_none, i) => Date.UTC(2025, 0, 6) + i * 21_600_000),
    ...{ open: column(100), high: column(101), low: column(99), close: column(100), volume: column(1) },
  },
  "6h",
  ALWAYS_OPEN,
);
const instrument = { symbol: "KELP", currency: "XSC", minQuantity: 1, quantityStep: 1, pointValue: 40 } as Instrument;
const tradesOf = (sizes: readonly number[]): Trade[] =>
  sizes.map(
    (quantity, k) =>
      ({
        ...{ id: k + 1, orderId: k + 1, quantity, net: k % 3 === 0 ? -30 : 25, risk: k % 5 === 0 ? null : 60 },
        ...{ entryTime: Date.UTC(2025, 0, 6) + k * 86_400_000, exitTime: Date.UTC(2025, 0, 6) + k * 86_400_000 + 3_600_000 },
      }) as Trade,
  );

function runOf(part: Partial<RunEvidence> = {}, size: Size | null = null): RunEvidence {
  const kit = size ? { name: "Sized", size } : null;
  return {
    ...{ id: `r${Math.random()}`, planId: `p${Math.random()}`, trades: tradesOf(Array.from({ length: 30 }, () => 2)) },
    settings: { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "6h", from: "", to: "", cash: CASH, kit },
    figures: { maxDrawdown: 300, maxDrawdownShare: 0.0288 },
    ...part,
  } as unknown as RunEvidence;
}
const data = { bars, equity, source: { instruments: [instrument] } } as unknown as EvidenceData;

async function tab(run: RunEvidence, given: EvidenceData | null = data) {
  const onSize = vi.fn<(size: Size) => void>();
  const host = await show(<SizeTab run={run} data={given} currency="XSC" onSize={onSize} />);
  await act(() => vi.waitFor(() => expect(host.textContent).not.toContain("Loading draws")));
  const row = (words: string): string[] =>
    [...([...host.querySelectorAll("tbody tr")].find((one) => one.textContent!.includes(words))?.children ?? [])].map(
      (cell) => cell.textContent!,
    );
  return { host, onSize, row };
}

test("a measured fall of 300 with two units, a fifth tolerated: each unit asks for 750", async () => {
  const { host, row, onSize } = await tab(runOf());
  expect(row("as it was").slice(1, 6)).toEqual(["300", "750", "750", "13", percent(0.195)]);
  // Who sizes by what was measured falls by more in many of the draws; by the 95th of 100, in at most 5.
  const chance = (words: string): number => Number.parseFloat(row(words)[6]!);
  expect(chance("as it was")).toBeGreaterThan(5);
  expect(chance("resampled days, 95")).toBeLessThanOrEqual(5);
  expect(chance("resampled days, 99")).toBeLessThanOrEqual(1);
  // What is drawn in blocks falls deeper than what was, at 95 of 100 and more so at 99.
  const falls = ["resampled days, 95", "resampled days, 99"].map((words) => Number(row(words)[1]!.replace(",", "")));
  expect(falls[0]).toBeGreaterThanOrEqual(300);
  expect(falls[1]).toBeGreaterThanOrEqual(falls[0]!);
  await click(control(host, "as it was"));
  expect(host.textContent).toContain("each unit asks for 750 crowns of balance. On 10,000 crowns that is 13 units.");
  await press(host, "Try it, growing with the balance");
  expect(onSize).toHaveBeenLastCalledWith({ by: "balance step", value: 1, step: 750 });
  await press(host, "Try it with 13 units each");
  expect(onSize).toHaveBeenLastCalledWith({ by: "units", value: 13 });
});

test("what the size means: chance of the fall, growth, risk to the stop, value, each in words; kept as a variant in one act", async () => {
  const sent: unknown[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn(async (_address: string, { body }: RequestInit = {}) => {
      if (body) sent.push(JSON.parse(String(body)));
      return new Response("{}");
    }),
  );
  const { host } = await tab(runOf({ title: "Fade", inputs: {}, source: "" }));
  await click(control(host, "as it was"));
  await act(() => vi.waitFor(() => expect(host.textContent).toContain("What 13 units mean on this account")));
  const part = host.querySelector('[aria-label="What that size means"]')!;
  // 60 of an entry of 2 units, at 13 units on 10,000.
  expect(part.textContent).toContain(percent((60 * 6.5) / 10_000));
  expect(part.textContent).toContain(`${percent(0.2, 0)} of the trades had no stop`);
  // 13 units at 100, of 40 a point.
  expect(part.textContent).toContain(
    `${percent(5.2, 0)}One entry of that size at the last price, a leverage of 5.2. The run’s account asks for no margin.`,
  );
  expect(part.textContent).toMatch(/Size of the greatest growth\d+ units/);
  await type(control(host, "Trades ahead"), "300");
  await act(() => vi.waitFor(() => expect(part.textContent).toContain("Of 4,000 sequences")));
  await press(host, "Save as a variant");
  expect(sent).toMatchObject([{ name: "13 units, 20 % tolerated", kit: { size: { by: "units", value: 13 } } }]);
});

test("what is tolerated, added and at hand changes the answer; an account too small says what it needs", async () => {
  const { host, row } = await tab(runOf());
  await click(control(host, "as it was"));
  await type(control(host, "Tolerated fall"), "10");
  await type(control(host, "Added for a worse future"), "50");
  expect(row("as it was").slice(1, 6)).toEqual(["300", "2,250", "2,250", "4", percent(0.09)]);
  await type(control(host, "Account"), "2000");
  expect(row("as it was")[4]).toBe("too small");
  expect(host.textContent).toContain("nothing can be traded: the least account is 2,250");
});

test("entries of several sizes are not sized by: a run of one size is offered", async () => {
  const { host, onSize } = await tab(runOf({ trades: tradesOf([1, 2, 4]) }, { by: "balance step", value: 1, step: 750 }));
  expect(host.textContent).toContain("Entries were of 1 to 4 units");
  expect(host.querySelector("[role=status]")?.textContent).toBe(
    `This run was sized by 1 unit for every 750 of balance: it fell ${percent(0.0288)} at worst, within the 20 % tolerated.`,
  );
  await press(host, "Run it with 1 unit each");
  expect(onSize).toHaveBeenCalledWith({ by: "units", value: 1 });
});

test("what can't be sized by says why: too few trades, several instruments", async () => {
  expect((await tab(runOf({ trades: [] }))).host.textContent).toContain("At least two closed trades");
  const two = { ...data, source: { instruments: [instrument, instrument] } } as unknown as EvidenceData;
  expect((await tab(runOf(), two)).host.textContent).toContain("trades several instruments");
  expect((await tab(runOf(), null)).host.textContent).toContain("Loading bars");
});

test("margin of a unit: money, or value over leverage", () => {
  expect(marginPerUnit(null, instrument, 100, null)).toBe(0);
  expect(marginPerUnit({ by: "unit", value: 900 }, instrument, 100, null)).toBe(900);
  expect(marginPerUnit({ by: "leverage", value: 20 }, instrument, 100, 1)).toBe(200);
  // Of another currency: at its rate, where it is fixed.
  const rate = (conversion: number | { symbol: string; inverse: boolean }) => fixedRate({ currency: "NRM" }, "XSC", { NRM: conversion });
  expect(marginPerUnit({ by: "leverage", value: 20 }, instrument, 100, rate(0.5))).toBe(100);
  expect(marginPerUnit({ by: "leverage", value: 20 }, instrument, 100, rate({ symbol: "NRM", inverse: false }))).toBeNull();
  expect(fixedRate({ currency: "XSC" }, "XSC", {})).toBe(1);
});

test("draws that fail say why", async () => {
  const { host } = await tab(runOf({ figures: { maxDrawdown: -1 } as RunEvidence["figures"] }));
  expect(host.querySelector("[role=alert]")?.textContent).toContain("The worker did not start.");
});
