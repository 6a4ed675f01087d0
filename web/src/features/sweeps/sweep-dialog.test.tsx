/** The dialog of a sweep: what it foretells, and what it starts. */
import { type Market, PLAIN_SETTINGS } from "@plan-tester/contract";
import type { InputSpec } from "@plan-tester/core";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { type Asked, click, control, pass, press, refusal, serving, show, type, withAnswers } from "../../testing.tsx";
import { SweepDialog } from "./sweep-dialog.tsx";

const SETTINGS = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-28" };
const spec = (name: string, more: Partial<InputSpec> = {}): InputSpec => ({
  ...{ name, kind: "whole", default: 20, label: name, min: 2, max: 60, step: 1, unit: "", group: "", help: "", choices: [] },
  ...more,
});
const SPECS = [spec("fast"), spec("entry", { kind: "time", default: "09:30" }), spec("slow"), spec("third")];
/** Every day of 2024, as sessions. */
const DATES = Array.from({ length: 366 }, (_, k) => new Date(Date.UTC(2024, 0, 1 + k)).toISOString().slice(0, 10));
const ESTIMATE = { variants: 81, seconds: 12, processes: 2, memoryBytes: 128 * 2 ** 20 };

let asked: readonly Asked[];
let reservedFrom: string;
let estimate: (body: Record<string, unknown>) => unknown;
beforeEach(() => {
  reservedFrom = "";
  estimate = ({ search }) => ({ ...ESTIMATE, variants: (search as { count: number } | null)?.count ?? ESTIMATE.variants });
  vi.useFakeTimers();
  asked = serving((what, body) => (what.endsWith("estimate") ? estimate(body) : { id: "made" }));
});
afterEach(() => void vi.useRealTimers());

async function open() {
  const told = { onClose: vi.fn<() => void>(), onStarted: vi.fn<(id: string) => void>(), onWalking: vi.fn<(id: string) => void>() };
  const market = { instrument: { symbol: "KELP" }, timeframe: "1m", firstDate: DATES[0], lastDate: DATES.at(-1) } as Market;
  await show(
    withAnswers(
      [
        [queries.history("KELP").queryKey, { dates: DATES, closes: DATES.map(() => 1) }],
        [queries.markets().queryKey, [market]],
        [queries.plan("p1").queryKey, { id: "p1", reservedFrom }],
      ],
      <SweepDialog
        planId="p1"
        draft={{ source: "the source", inputs: { fast: 20 }, settings: SETTINGS }}
        specs={SPECS}
        market={market}
        {...told}
      />,
    ),
  );
  return told;
}
const words = (): string => document.querySelector("[data-testid=estimate]")!.textContent!;
const sent = (what: string) => asked.filter((one) => one.what === what).map(({ body }) => body);

test("begins with the first two inputs that are numbers, and the half year after the period", async () => {
  const { onStarted } = await open();
  expect(words()).toBe("81 variants, measuring …");
  await pass(400);
  expect(words()).toBe("81 variants, about 12 s on 2 cores, 128 MB of memory");
  await press(document.body, "Start");
  await pass(50);
  expect(sent("POST /sweeps")).toMatchObject([
    {
      ...{ planId: "p1", source: "the source", settings: SETTINGS, aim: "returnToDrawdown", constraints: [], search: null },
      outOfSample: { from: "2024-06-29", to: "2024-11-01" },
      ranges: [{ input: "fast" }, { input: "slow" }],
    },
  ]);
  expect(onStarted).toHaveBeenCalledExactlyOnceWith("made");
});

test("suggests nothing inside the holdout, and no second period where there is no later history", async () => {
  reservedFrom = "2024-08-01";
  await open();
  expect(control(document.body, "Out-of-sample to").value).toBe("31 Jul 2024");
  reservedFrom = "2024-06-01";
  await open();
  expect(control(document.body, "Test every variant on a later period").matches(":checked")).toBe(false);
});

test("conditions, a search and more metrics go along as they were written", async () => {
  await open();
  await type(control(document.body, "Conditions and links"), "fast < slow, , third = 2 * fast");
  await type(control(document.body, "Method"), "spread");
  await type(control(document.body, "Variants at most"), "40");
  // The count is known at once; what was measured of all 81 is not told of these.
  expect(words()).toBe("40 variants at most, of 81, measuring …");
  await pass(500);
  expect(words()).toMatch(/^40 variants at most, of 81, about 12 s/);
  await press(document.body, "Add a metric");
  await press(document.body, "Start");
  await pass(50);
  expect(sent("POST /sweeps")).toMatchObject([
    {
      ...{ constraints: ["fast < slow", "third = 2 * fast"], search: { method: "spread", count: 40 } },
      aim: { terms: [{ figure: "returnToDrawdown" }, { weight: 1 }], robust: false },
    },
  ]);
});

test("as a walk-forward it is started as one, with the period as a whole", async () => {
  const { onWalking, onStarted } = await open();
  await click(control(document.body, "Walk forward"));
  await type(control(document.body, "Sessions to choose on"), "60");
  await press(document.body, "Start the walk");
  await pass(50);
  expect(sent("POST /walk-forwards")).toMatchObject([{ inSample: 60, anchored: false, leastTrades: 5, settings: SETTINGS }]);
  expect(sent("POST /walk-forwards")[0]).not.toHaveProperty("outOfSample.from");
  expect([onWalking.mock.calls, onStarted.mock.calls]).toEqual([[["made"]], []]);
});

test("nothing is started of no input, of a field that does not fit, or of what the server can't estimate", async () => {
  await open();
  await type(control(document.body, "fast, step"), "0");
  await press(document.body, "Start");
  await pass(400);
  expect(document.activeElement).toBe(control(document.body, "fast, step"));
  expect(sent("POST /sweeps")).toEqual([]);
  estimate = () => refusal(422, "bad-input", "The condition names no input.");
  await type(control(document.body, "fast, step"), "3");
  await type(control(document.body, "Conditions and links"), "fats < 3");
  await pass(500);
  expect(words()).toContain("The condition names no input.");
  const start = [...document.querySelectorAll("button")].find(({ textContent }) => textContent === "Start")!;
  expect(start.disabled).toBe(true);
  await click(control(document.body, "fast"));
  await click(control(document.body, "slow"));
  expect(words()).toContain("Choose at least one input.");
  expect(start.disabled).toBe(true);
});
