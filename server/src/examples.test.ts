/** Every example plan on its own bars: it runs to the end, trades, and sees nothing ahead (R7.1). */

import { sheetOf, textOfSheet } from "@plan-tester/contract";
import { MIN_CUTS, makeSeries, resample, resolveSettings } from "@plan-tester/core";
import { EXAMPLES, type Example, exampleSource, generateHistory, instrumentNamed, moduleText } from "@plan-tester/demo";
import { checkPlanLookAhead, type FeedData, findSlips, linkModules, PlanProcess, runPlan } from "@plan-tester/runner";
import { afterAll, beforeAll, describe, expect, test } from "vitest";

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

/** Long enough for weekly actions and daily studies, short enough to test them all. */
const UNTIL = Date.UTC(2024, 2, 1);
/** What the check for slips rightly says of an example. */
const KNOWN_SLIPS: Readonly<Record<string, readonly string[]>> = {
  // Its exits come from kits.
  "brine-base-entry": ["no stop", "no stop"],
  // Two legs hedge one another.
  "twin-shares": ["no stop", "no stop"],
  // It adds on the way down: the check is right to ask.
  "gannet-reference": ["no stop"],
};

const made = new Map<string, ReturnType<typeof makeSeries>>();

function minutesOf(symbol: string) {
  const known = made.get(symbol);
  if (known) return known;
  const series = makeSeries(generateHistory(symbol, UNTIL).columns, "1m", instrumentNamed(symbol)!.calendar);
  made.set(symbol, series);
  return series;
}

const feedOf = (symbol: string, timeframe: string): FeedData => ({
  instrument: instrumentNamed(symbol)!,
  data: { key: `${symbol} ${timeframe}`, series: resample(minutesOf(symbol), timeframe).series, finer: null },
});

async function requestOf(example: Example) {
  const source = await linkModules(exampleSource(example), async (name) => moduleText(name));
  const feeds = [example.symbol, ...(example.alsoOn ?? [])].map((symbol) => feedOf(symbol, example.timeframe));
  const settings = resolveSettings({ costs: feeds[0]!.instrument.costs, testPosition: example.testPosition ?? null });
  return { source, inputs: {}, settings, feeds };
}

const PROGRAMS = EXAMPLES.filter(({ saysAs }) => saysAs === undefined);
const SHEETS = EXAMPLES.filter(({ saysAs }) => saysAs !== undefined);

describe.each(PROGRAMS.map((example) => [example.id, example] as const))("%s", (_id, example) => {
  test("runs to the end, trades, and no order is refused", async () => {
    const request = await requestOf(example);
    const { result, description } = await runPlan(worker, request);
    expect(result.failure).toBeNull();
    expect(description.title.length).toBeGreaterThan(3);
    expect(result.trades.length).toBeGreaterThan(2);
    expect(result.orders.filter(({ state }) => state === "refused").map(({ note }) => note)).toEqual([]);
    expect(findSlips(request.source, result).map(({ code }) => code)).toEqual(KNOWN_SLIPS[example.id] ?? []);
    expect(result.warnings.map(({ code }) => code)).not.toContain("log full");
  });

  test("sees nothing ahead", async () => {
    // The least number of comparisons is enough for each; the check itself makes as many as there is time for.
    const enough = new AbortController();
    const stopAt = (done: number): void => {
      if (done >= MIN_CUTS) enough.abort();
    };
    const { cuts, difference } = await checkPlanLookAhead(worker, await requestOf(example), stopAt, enough.signal);
    expect(difference).toBeNull();
    expect(cuts.length).toBeGreaterThanOrEqual(MIN_CUTS);
  });
});

describe.each(SHEETS.map((example) => [example.id, example] as const))("%s", (_id, example) => {
  const twin = EXAMPLES.find(({ id }) => id === example.saysAs)!;

  test("trades as the program that says the same", async () => {
    const [sheet, program] = await Promise.all([requestOf(example), requestOf(twin)]);
    expect([example.symbol, example.timeframe]).toEqual([twin.symbol, twin.timeframe]);
    const tradesOf = async (request: typeof sheet) =>
      (await runPlan(worker, request)).result.trades.map(({ side, quantity, entryPrice, exitPrice, entryBar, exitBar, reason, net }) => ({
        ...{ side, quantity, entryPrice, exitPrice, entryBar, exitBar, reason, net },
      }));
    const trades = await tradesOf(sheet);
    expect(trades).toEqual(await tradesOf(program));
    expect(trades.length).toBeGreaterThan(2);
  });

  test("its text is what its sheet writes today", async () => {
    const text = exampleSource(example);
    await expect(textOfSheet(sheetOf(text)!)).toMatchFileSnapshot(`../../demo/plans/${example.file}`);
  });
});

test("there are five sheets", () => expect(SHEETS.length).toBe(5));
