/** A watch against a real venue, through a restart of the server and of the venue. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  NO_FAULTS,
  PLAIN_SETTINGS,
  PLAIN_WATCH_OPTIONS,
  type RunEvidence,
  unpackColumns,
  type WatchChartMeta,
  type WatchOptions,
} from "@plan-tester/contract";
import { checkReply } from "@plan-tester/contract/check-reply";
import { DAY_MS, EMPTY_KIT, makeSeries, sliceByTime } from "@plan-tester/core";
import { generateHistory, HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { Venue } from "@plan-tester/venue/venue";
import pino from "pino";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "vitest";
import { type Application, makeApplication } from "./app.ts";
import { InstrumentEntity } from "./db/entities.ts";
import { Journal } from "./features/journal/journal.ts";
import { VersionRepository } from "./features/journal/versions.ts";
import type { WatchService } from "./features/watches/watch-service.ts";
import { freePort } from "./testing.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-watch-"));
const MONDAY = Date.UTC(2026, 2, 2, 7);
const SETTINGS = {
  symbol: "KELP",
  timeframe: "5m",
  from: "2026-02-02",
  to: "2026-02-27",
  ...PLAIN_SETTINGS,
};
const SOURCE = `export default plan({ title: "Buoy", build({ on, enter, position, bars, log }) {
  ema(bars.close, 50);
  on.barClose(() => {
    if (position.flat) enter.long({ size: units(2), stopLoss: ticks(400), target: ticks(400), tag: "buoy" });
    else if (position.barsHeld === 2) position.setTarget(position.entryPrice + 50);
    else if (position.barsHeld === 4) log("held four bars");
  });
} });`;

const EVERYTHING = { offset: 0, limit: 1000, level: "", kind: "", search: "" } as const;

let port = 0;
let venue: Venue;
let application: Application;
let watches: WatchService;

async function start(takesOrders = true): Promise<void> {
  venue = new Venue({ port, stateFile: join(folder, "venue.state"), takesOrders });
  application = await makeApplication(
    { port: 0, venuePort: port, dataFolder: folder, webFolder: "none", queue: "", hasDemo: false },
    pino({ level: "silent" }),
    checkReply,
  );
}

async function stop(): Promise<void> {
  await application.close();
  await venue.close();
}

async function until(what: string, holds: () => Promise<boolean> | boolean): Promise<void> {
  const deadline = Date.now() + 90_000;
  while (!(await holds())) {
    if (Date.now() > deadline) throw new Error(`Waited in vain for: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

const KELP = instrumentNamed("KELP")!;

/** History up to a time, in place of what there was; behind the end of the demo's its prices are so many times as high. */
async function importBars(toMs: number, factor: number): Promise<void> {
  const all = makeSeries(generateHistory("KELP", toMs).columns, "1m", KELP.calendar);
  const { time, open, high, low, close, volume } = sliceByTime(all, HISTORY_TO - 26 * DAY_MS, null);
  const prices = [open, high, low, close].map((values) => values.map((price, i) => (time[i]! < HISTORY_TO ? price : factor * price)));
  const [o, h, l, c] = prices as [Float64Array, Float64Array, Float64Array, Float64Array];
  await application.bars.replace("KELP", "1m", { time: time.slice(), open: o, high: h, low: l, close: c, volume: volume.slice() });
}

beforeAll(async () => {
  port = await freePort();
  await start();
  await application.database.write((manager) =>
    manager.insert(InstrumentEntity, { symbol: "KELP", facts: KELP, origin: "demo", createdMs: 1 }),
  );
  await importBars(HISTORY_TO, 1);
  watches = application.startWatching();
  await until("the venue", () => watches.venueStatus.connected);
  await watches.setClock({ speed: 600 });
});

afterAll(async () => {
  await stop();
  rmSync(folder, { recursive: true, force: true });
});

test("armed, in position with stop and target, found again after a restart, flattened, ended", async () => {
  const { id, state } = await watches.start({ planId: "p", source: SOURCE, inputs: {}, settings: { ...SETTINGS } });
  expect(state).toBe("armed");
  const now = async () => ({
    ...(await watches.get(id)),
    events: (await watches.events(id, EVERYTHING)).events,
    closed: await watches.trades(id),
  });
  await until("a position", async () => (await now()).state === "in position");
  await until("the moved target", async () => {
    const [position] = (await now()).positions;
    return position !== undefined && position.target === position.entryPrice + 50;
  });
  const before = await now();
  expect(before.positions).toMatchObject([{ symbol: "KELP", units: 2, stop: expect.any(Number) }]);
  expect(before.events.map(({ text }) => text).join("\n")).toMatch(
    /bought 2 KELP at [\d.]+ \(buoy\)[\s\S]*order 1: buy 2 KELP at market \(buoy\)[\s\S]*armed/,
  );

  await stop();
  await start();
  watches = application.startWatching();
  await until("the watch to be found again", async () => (await now()).state === "in position");
  const after = await now();
  expect(after.lastSignalMs).toBeGreaterThanOrEqual(before.lastSignalMs!);
  const [held] = before.positions;
  expect(after.positions).toMatchObject([{ units: 2, entryPrice: held!.entryPrice, stop: held!.stop, target: held!.target }]);
  expect(after.events.map(({ text }) => text)).toContain("resumed: in position");
  const seen = after.lastTimeMs;
  await until("the feed to go on", async () => ((await now()).lastTimeMs ?? 0) > (seen ?? 0));

  await watches.flatten(id);
  await until("the trade", async () => (await now()).closed.length === 1);
  const [trade] = (await now()).closed;
  expect(trade).toMatchObject({ side: 1, quantity: 2, reason: "signal", exitTag: "closed by hand" });
  expect((await now()).equity).toBeCloseTo(100_000 + trade!.net, -3);

  await watches.stop(id, "flatten");
  expect(await now()).toMatchObject({ state: "ended", endReason: "stopped by hand and flattened" });
  await expect(watches.stop(id, "protected")).rejects.toThrow(/no longer active|has ended/);
}, 300_000);

/** Server and venue end and come back; an entry that is sent after that is refused with these words. */
async function refusedAfterRestart(id: string, words: string): Promise<void> {
  await stop();
  await start();
  watches = application.startWatching();
  await until("an entry to be refused again", async () => {
    const { events } = await watches.events(id, EVERYTHING);
    const resumed = events.findIndex(({ text }) => text.startsWith("resumed"));
    return events.slice(0, Math.max(0, resumed)).some(({ text }) => text.includes(words));
  });
}

test("what a kit's limits have counted goes on after a restart of the server", async () => {
  const kit = { ...EMPTY_KIT, name: "Once", entriesPerSession: 1 };
  const { id } = await watches.start({ planId: "p", source: SOURCE, inputs: {}, settings: { ...SETTINGS, kit } });
  await until("a position", async () => (await watches.get(id)).state === "in position");
  await watches.flatten(id);
  await until("the trade", async () => (await watches.trades(id)).length === 1);
  await refusedAfterRestart(id, "1 entry in this session already");
  const entered = (await watches.trades(id)).map(({ entryTime }) => new Date(entryTime).toISOString().slice(0, 10));
  expect(new Set(entered).size).toBe(entered.length);
  await watches.stop(id, "flatten");
}, 300_000);

test("a limit on losses of the account is kept by the venue: told, closed, and in force after a restart of both", async () => {
  const limits = { drawdown: { unit: "money", value: 0.01, act: "stop" }, dailyLoss: null } as const;
  const { id } = await watches.start({ planId: "p", source: SOURCE, inputs: {}, settings: { ...SETTINGS, limits } });
  const told = async (text: string) => (await watches.events(id, EVERYTHING)).events.filter((event) => event.text.includes(text));
  await until("the limit", async () => (await told("the account's drawdown limit is hit")).length > 0);
  expect((await told("the account's drawdown limit is hit")).some(({ kind, by }) => kind === "state" && by === "venue")).toBe(true);
  await until("the trade", async () => (await watches.trades(id)).length === 1);
  expect((await watches.trades(id))[0]).toMatchObject({ reason: "account limit" });
  await refusedAfterRestart(id, "no entries any more (R5.8)");
  expect(await watches.trades(id)).toHaveLength(1);
  await watches.stop(id, "flatten");
}, 300_000);

test("opened as a run, what it did stands beside the backtest of the same bars, which lie behind the history", async () => {
  const source = SOURCE.replace("position.barsHeld === 4) log(", "position.barsHeld === 4) position.close(");
  // At this speed no bar is over before it is asked for.
  await watches.setClock({ speed: 1 });
  const { id } = await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS } });
  await expect(watches.open(id)).rejects.toThrow(/No bar of 5m is over since the watch began/);
  await watches.setClock({ speed: 600 });
  await until("three trades", async () => (await watches.trades(id)).length >= 3);
  await watches.stop(id, "flatten");
  await until("the end", async () => (await watches.get(id)).state === "ended");
  const opened = await watches.open(id);
  expect(await watches.open(id)).toEqual(opened);

  const evidence = async (run: string) => JSON.parse(Buffer.concat(await application.runs.evidenceText(run)).toString()) as RunEvidence;
  const [did, backtest] = [await evidence(opened.runId), await evidence(opened.backtestId)];
  expect(did.watched).toEqual({ ...backtest.watched, isBacktest: false, besideId: opened.backtestId });
  expect(did.kept?.name).toMatch(/, as it went$/);
  const closed = await watches.trades(id);
  expect(did.trades.map(({ net }) => net)).toEqual(closed.map(({ net }) => net));
  // What was closed by hand, or in the bar that was not over at the end, the backtest does not have.
  const byPlan = closed.filter(({ exitTag, exitTime }) => exitTag !== "closed by hand" && exitTime < did.lastMs).length;
  expect(byPlan).toBeGreaterThanOrEqual(2);
  const plain = ({ trades }: RunEvidence) =>
    trades.slice(0, byPlan).map(({ entryTime, entryPrice, entryBar, exitTime, exitPrice, exitBar, reason, net }) => ({
      ...{ entryTime, entryPrice, entryBar, exitTime, exitPrice, exitBar, reason, net },
    }));
  expect(plain(did)).toEqual(plain(backtest));
  expect(did.figures.netProfit).toBeCloseTo(
    closed.reduce((sum, { net }) => sum + net, 0),
    6,
  );
  // Equity at the last close has all that was closed before it; where the backtest stands flat too, both stand there.
  const netBefore = closed.filter(({ exitTime }) => exitTime < did.lastMs).reduce((sum, { net }) => sum + net, 0);
  const isFlat = closed.every(({ entryTime, exitTime }) => exitTime < did.lastMs || entryTime >= did.lastMs);
  if (isFlat) expect(did.daily.equity.at(-1)).toBeCloseTo(SETTINGS.cash + netBefore, 6);
  else expect(did.daily.equity.at(-1)).not.toBe(SETTINGS.cash);
  expect([did.bars, did.firstMs, did.lastMs]).toEqual([backtest.bars, backtest.firstMs, backtest.lastMs]);
  expect(did.firstMs).toBeGreaterThan(HISTORY_TO);
}, 300_000);

test("an order that waits for a word when the server closes is not sent, and that is told", async () => {
  const options = { ...PLAIN_WATCH_OPTIONS, mode: "ask first" as const, promptMinutes: 600 };
  const { id } = await watches.start({ planId: "p", source: SOURCE, inputs: {}, settings: { ...SETTINGS }, options });
  await until("a prompt", async () => (await watches.get(id)).prompts.length === 1);
  // No minute ends from here on: what is known was known before.
  await watches.setClock({ speed: 1 });
  await stop();
  await start();
  watches = application.startWatching();
  await until("the watch to be found again", async () => (await watches.get(id)).state === "armed");
  const { prompts, positions, lastPrice } = await watches.get(id);
  expect({ prompts, positions }).toEqual({ prompts: [], positions: [] });
  expect(lastPrice).toBeGreaterThan(0);
  const { events } = await watches.events(id, { ...EVERYTHING, kind: "prompt" });
  expect(events[0]).toMatchObject({ by: "policy", text: "order 1 is not sent: the server closed while it waited for your word" });
  await watches.setClock({ speed: 600 });
  await watches.stop(id, "flatten");
}, 300_000);

test("another version of the plan runs when nothing is open, its position handed over; inputs at once; both are in the Journal", async () => {
  const text = (version: string, further = ""): string => `export default plan({ title: "Tides", inputs: { held: whole(4) },
  build({ on, enter, position, log, inputs, bars, show }) {
  show(sma(bars.close, 20), { label: "Mean" });
  ${further}
  on.start(() => log("${version} starts, " + inputs.held));
  on.barClose(() => {
    if (position.flat) enter.long({ stopLoss: ticks(4000), tag: "${version}" });
    else if (position.barsHeld >= inputs.held) position.close();
  });
} });`;
  const plan = {
    id: "tides",
    title: "Tides",
    source: text("one"),
    inputs: {},
    settings: SETTINGS,
    note: "",
    updatedMs: 1,
    reservedFrom: "",
    revision: 0,
  };
  await application.plans.insert(plan);
  const notes = new Journal(application.database, new VersionRepository(application.database));
  const { id } = await watches.start({ planId: plan.id, source: text("one"), inputs: {}, settings: { ...SETTINGS } });
  const said = async (words: string): Promise<boolean> =>
    (await watches.events(id, { ...EVERYTHING, search: words })).events.some(({ text: line }) => line.includes(words));
  expect(await watches.get(id)).toMatchObject({ newer: null, pending: null });
  await until("a position", async () => (await watches.get(id)).state === "in position");

  await application.plans.update(plan.id, { source: text("two") }, Date.now());
  const changes = ["source: 2 lines new, 2 gone"];
  await until("word of the change", async () => (await watches.get(id)).newer !== null);
  expect(await watches.get(id)).toMatchObject({ newer: changes, pending: null });
  await watches.changePlan(id, { source: text("two"), when: "when flat" });
  expect(await watches.get(id)).toMatchObject({ newer: null, pending: changes, source: text("one") });
  await until("the second version", () => said("two starts, 4"));
  expect(await watches.get(id)).toMatchObject({ newer: null, pending: null, source: text("two") });
  await until("an order of the second version", () => said("(two)"));

  await until("a position again", async () => (await watches.get(id)).state === "in position");
  const [held] = (await watches.get(id)).positions;
  await watches.changePlan(id, { inputs: { held: 7 }, when: "now" });
  await until("the other inputs", () => said("two starts, 7"));
  expect((await watches.get(id)).positions).toMatchObject([{ entryPrice: held!.entryPrice }]);

  const { meta, columns } = unpackColumns<WatchChartMeta>((await watches.chart(id, { bars: 60, until: 0 })).slice().buffer);
  expect(meta).toMatchObject({ hasMore: true, plots: [{ label: "Mean", pane: "price" }] });
  expect(columns.time).toHaveLength(60);
  expect(columns.plot0!.at(-2)).toBeGreaterThan(0);
  // As far back as one likes: to the start of the history.
  const all = unpackColumns<WatchChartMeta>((await watches.chart(id, { bars: 40_000, until: 0 })).slice().buffer);
  expect(all.meta.hasMore).toBe(false);
  expect(all.columns.time![0]! - (HISTORY_TO - 26 * DAY_MS)).toBeLessThan(DAY_MS);
  for (const end of [90, all.columns.time!.length - 20]) {
    const past = unpackColumns<WatchChartMeta>((await watches.chart(id, { bars: 50, until: all.columns.time![end]! })).slice().buffer);
    expect(past.meta).toMatchObject({ isLast: false, isForming: false, hasMore: true });
    for (const name of ["time", "close", "plot0"]) expect(past.columns[name]).toEqual(all.columns[name]!.slice(end - 49, end + 1));
  }

  await expect(watches.changePlan(id, { source: "export default plan({", when: "now" })).rejects.toMatchObject({ code: "bad-plan" });
  await expect(watches.changePlan(id, { inputs: { held: "long" }, when: "now" })).rejects.toMatchObject({ code: "bad-input" });
  const further = text("three", 'feed("BRIN");').replace("build({", "build({ instrument: feed,");
  await application.plans.update(plan.id, { source: further }, Date.now());
  await until("word of that", async () => (await watches.get(id)).newer !== null);
  await watches.changePlan(id, { source: further, when: "never" });
  expect(await watches.get(id)).toMatchObject({ newer: null, source: text("two") });

  const journal = (await notes.trials(plan.id)).map(({ kind, changes: noted }) => [kind, noted]);
  expect(journal).toEqual([
    ["watch", ['watch "Tides" renewed', "held 4 → 7"]],
    ["watch", ['watch "Tides" renewed', ...changes]],
  ]);
  expect((await notes.context(plan.id)).trials).toBe(0);
  await watches.stop(id, "flatten");
});

test("with no faults a watch does what the backtest of the same bars does; what a hand does is told with its money", async () => {
  const source = `export default plan({ title: "Ebb", build({ on, enter, position }) {
  on.barClose(() => {
    if (position.flat) enter.long({ stopLoss: ticks(40), target: ticks(60), tag: "ebb" });
    else if (position.barsHeld >= 3) position.close();
  });
} });`;
  const { id } = await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS }, options: { driftLimit: 0.01 } });
  await until("some trades", async () => (await watches.trades(id)).length >= 4);
  const before = await watches.drift(id);
  expect(before.items).toEqual([]);
  expect(before.matched).toBeGreaterThanOrEqual(4);
  expect(before.untilMs).toBeGreaterThan(before.sinceMs);

  await until("a position", async () => (await watches.get(id)).state === "in position");
  await watches.flatten(id);
  const count = (await watches.trades(id)).length;
  await until("two trades more", async () => (await watches.trades(id)).length >= count + 2);
  const after = await watches.drift(id);
  expect(after.items[0]).toMatchObject({ cause: "by hand", watch: { reason: "signal" } });
  for (const { cause } of after.causes) expect(["by hand", "earlier difference"]).toContain(cause);
  const told = async () => (await watches.events(id, { ...EVERYTHING, search: "drift:" })).events;
  await until("word of the drift", async () => (await told()).length > 0);
  expect((await told())[0]!.text).toMatch(/against the backtest of the same bars \(by hand.*the limit is 0.01/);
  expect(after.money).toBeCloseTo(
    after.items.reduce((sum, { money }) => sum + money, 0),
    9,
  );

  await watches.stop(id, "flatten");
  await until("its end", async () => !(await watches.get(id)).positions.length);
  // The bars since do not count.
  expect((await watches.drift(id)).untilMs).toBeLessThan(watches.venueStatus.nowMs + 1);
});

test("what is imported over a watch's time changes nothing of its drift, and warms nothing up with what is still to come", async () => {
  const source = `export default plan({ title: "Drift", build({ bars, on, enter, position, show }) {
  show(sma(bars.close, 3), { label: "Mean" });
  on.barClose(() => {
    if (position.flat) enter.long({ stopLoss: ticks(40), target: ticks(60) });
    else if (position.barsHeld >= 2) position.close();
  });
} });`;
  const { id } = await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS } });
  await until("some trades", async () => (await watches.trades(id)).length >= 3);
  // Other prices than the venue had, and further than it has come.
  const toMs = HISTORY_TO + 30 * DAY_MS;
  await importBars(toMs, 2);
  try {
    expect((await watches.drift(id)).items).toEqual([]);
    await watches.setClock({ speed: 1 });
    const late = await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS } });
    const { columns } = unpackColumns<WatchChartMeta>((await watches.chart(late.id, { bars: 40, until: 0 })).slice().buffer);
    expect(columns.time!.at(-1)).toBeLessThanOrEqual(watches.venueStatus.nowMs);
    expect(watches.venueStatus.nowMs).toBeLessThan(toMs - DAY_MS);
  } finally {
    await importBars(HISTORY_TO, 1);
    await watches.setClock({ speed: 600 });
  }
  await watches.stopAll("flatten");
});

describe("faults of the venue, and what the policy makes of them", () => {
  const source = `export default plan({ title: "Flood", build({ on, enter, position, log }) {
  on.refused(({ reason }) => log("heard: " + reason));
  on.barClose(() => {
    if (position.flat) enter.long({ size: units(4), stopLoss: ticks(4000), tag: "flood" });
    else if (position.barsHeld >= 3) position.close();
  });
} });`;
  const start = async (options: Partial<WatchOptions> = {}): Promise<string> =>
    (await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS }, options })).id;
  const said = async (id: string, words: string): Promise<boolean> =>
    (await watches.events(id, { ...EVERYTHING, search: words })).total > 0;
  const isHeld = async (id: string): Promise<boolean> => (await watches.get(id)).positions.length > 0;
  afterEach(() => watches.setFaults(NO_FAULTS));

  test("an exit that is refused: what is open is closed all the same", async () => {
    const id = await start();
    await until("a position", () => isHeld(id));
    await watches.setFaults({ refuseExits: 1 });
    await until("the policy", () => said(id, "what is open is closed"));
    await until("no position", async () => (await watches.trades(id)).length > 0);
    expect(await said(id, "the venue refused exit")).toBe(true);
    expect(await watches.faults()).toEqual(NO_FAULTS);
    await watches.stop(id, "flatten");
  });

  test("an entry that is refused is passed over, or ends the watch", async () => {
    await watches.setFaults({ refuseEntries: 2 });
    const ids = [await start(), await start({ onEntryRefused: "stop" })] as const;
    await until("both refusals", async () => (await said(ids[0], "refused")) && (await said(ids[1], "refused")));
    // Of the plan's own handler.
    await until("word of the plan", () => said(ids[0], "heard: the venue does not take it"));
    await until("the end of one", async () => (await watches.get(ids[1])).state === "ended");
    expect((await watches.get(ids[1])).endReason).toContain("the venue refused an entry");
    await until("the next entry of the other", () => isHeld(ids[0]));
    await watches.stop(ids[0], "flatten");
  });

  test("an entry that is refused is sent again at the next minutes, so often and no more", async () => {
    await watches.setFaults({ refuseEntries: 2 });
    const taken = await start({ onEntryRefused: "retry", entryRetries: 3 });
    await until("a position", () => isHeld(taken));
    expect(await said(taken, "it is sent again (1 of 3 times)")).toBe(true);
    expect(await said(taken, "it is sent again (2 of 3 times)")).toBe(true);
    expect(await said(taken, "it is sent again (3 of 3 times)")).toBe(false);
    await watches.stop(taken, "flatten");
    await watches.setFaults({ refuseEntries: 1000 });
    const given = await start({ onEntryRefused: "retry", entryRetries: 1 });
    await until("the last try", () => said(given, "was refused by the venue as well: it is not sent again"));
    await watches.setFaults(NO_FAULTS);
    await watches.stop(given, "flatten");
  });

  test("an exit that is refused is sent again each minute until it is taken", async () => {
    const id = await start({ onExitRefused: "retry" });
    await until("a position", () => isHeld(id));
    await watches.setFaults({ refuseExits: 3 });
    await until("its trade", async () => (await watches.trades(id)).length > 0);
    const { events } = await watches.events(id, { ...EVERYTHING, search: "it is sent again" });
    expect(events.length).toBe(3);
    await watches.stop(id, "flatten");
  });

  test("prices move inside a minute; one that jumps is told, and opens the next minute there", async () => {
    const id = await start();
    await watches.setClock({ speed: 60 });
    const seen = new Map<number, Set<number>>();
    await until("two prices in one minute", async () => {
      const { lastTimeMs, lastPrice } = await watches.get(id);
      const prices = seen.get(lastTimeMs ?? 0) ?? new Set();
      seen.set(lastTimeMs ?? 0, prices.add(lastPrice ?? 0));
      return prices.size > 1;
    });
    const before = (await watches.get(id)).lastPrice!;
    await watches.jump({ symbol: "KELP", percent: 10 });
    await until("the jump", async () => (await watches.get(id)).lastPrice! > 1.05 * before);
    expect(await said(id, "the price of KELP jumps by 10 % with the next minute")).toBe(true);
    await expect(watches.jump({ symbol: "GONE", percent: 1 })).rejects.toThrow(/does not trade GONE/);
    await until("an answer", async () => (await watches.get(id)).slowLagMs !== null);
    await until("no word of how late it was at another speed", async () => {
      await watches.setClock({ speed: 1 });
      return (await watches.get(id)).slowLagMs === null;
    });
    await watches.setClock({ speed: 600 });
    await watches.stop(id, "flatten");
  });

  test("what something else opens under its name is told, and taken as its own or closed", async () => {
    const [adopting, closing] = [await start({ onUnknown: "adopt" }), await start({ onUnknown: "flatten" })] as const;
    for (const id of [adopting, closing]) await until("a position", () => isHeld(id));
    for (const id of [adopting, closing]) await watches.tradeBeside(id, { symbol: "KELP", side: 1, quantity: 6 });
    await until(
      "word of both",
      async () => (await said(adopting, "not by its plan: it is taken")) && (await said(closing, "not by its plan: it is closed")),
    );
    await until("the end of one", async () =>
      (await watches.trades(closing)).some(({ exitTag, quantity }) => exitTag === "not the plan's: closed" && quantity === 6),
    );
    const units = async (id: string): Promise<number> =>
      (await watches.get(id)).positions.reduce((sum, position) => sum + position.units, 0);
    expect(await units(closing)).toBeLessThan(6);
    for (const id of [adopting, closing]) {
      await watches.stop(id, "flatten");
      await until("nothing held", async () => (await units(id)) === 0);
    }
    await expect(watches.tradeBeside(adopting, { symbol: "NONE", side: 1, quantity: 2 })).rejects.toThrow("does not trade NONE");
  });

  test("a venue whose clock is wrong is told, and how late bars come is reckoned without that", async () => {
    await watches.setClock({ holds: false, speed: 60 });
    try {
      await watches.setFaults({ skewSeconds: -7200 });
      const id = await start({ patienceSeconds: 600 });
      await watches.setFaults({ breakSeconds: 1 });
      await until("word of it", () => said(id, "the venue's clock is 7200 s behind ours"));
      await until("a position", () => isHeld(id));
      await watches.setFaults(NO_FAULTS);
      await watches.stop(id, "flatten");
    } finally {
      await watches.setFaults(NO_FAULTS);
      await watches.setClock({ holds: true, speed: 600 });
    }
  });

  test("an entry of which half is taken goes on as what it is, and the drift says so", async () => {
    await watches.setFaults({ halveEntries: 1 });
    const id = await start();
    await until("a position", () => isHeld(id));
    expect((await watches.get(id)).positions).toMatchObject([{ units: 2 }]);
    await until("two trades", async () => (await watches.trades(id)).length >= 2);
    const { items } = await watches.drift(id);
    expect(items).toMatchObject([{ cause: "partly filled", what: "2 units for 4" }]);
    await watches.stop(id, "flatten");
  });

  test("reports that are lost, repeated or out of order are made up for; what they delay is told as that", async () => {
    const id = await start();
    await until("a position", () => isHeld(id));
    await watches.setFaults({ loseReports: 1, repeatReports: 1, swapReports: 1 });
    const before = (await watches.trades(id)).length;
    await until("three trades more", async () => (await watches.trades(id)).length >= before + 3);
    expect(await watches.faults()).toEqual(NO_FAULTS);
    expect(await said(id, "is missing: it is asked for")).toBe(true);
    // Every trade of the venue is there once.
    const trades = await watches.trades(id);
    expect(new Set(trades.map(({ entryTime }) => entryTime)).size).toBe(trades.length);
    for (const { cause } of (await watches.drift(id)).items) expect(["connection", "lag", "earlier difference"]).toContain(cause);
    await watches.stop(id, "flatten");
  });

  test("a line that is broken for long is told, and what is open is closed when it is back", async () => {
    const id = await start({ lineSeconds: 1, onLineLost: "flatten" });
    await until("a position", () => isHeld(id));
    await watches.setFaults({ breakSeconds: 2 });
    await until("word of it", () => said(id, "has been broken for 1 s"));
    await until("its end", () => said(id, "the line was broken for over 1 s"));
    await until("no position", async () => (await watches.trades(id)).length > 0);
    await watches.stop(id, "flatten");
  });

  test("an ended watch starts again: with what is open, after closing it, or not at all", async () => {
    const id = await start();
    await until("a position", () => isHeld(id));
    await watches.stop(id, "protected");
    await expect(watches.restart(id, "refuse")).rejects.toMatchObject({ code: "conflict" });
    await watches.restart(id, "adopt");
    expect((await watches.get(id)).positions).toMatchObject([{ units: 4 }]);
    await until("its own exit", async () => (await watches.trades(id)).length === 1);
    await expect(watches.restart(id, "adopt")).rejects.toMatchObject({ code: "conflict" });
    await until("a position again", () => isHeld(id));
    await watches.stop(id, "protected");
    await watches.restart(id, "flatten");
    await until("what was open is closed", async () => (await watches.trades(id)).length >= 2);
    expect(await said(id, "started again, what was open is closed")).toBe(true);
    await watches.stop(id, "flatten");
    await until("no position", async () => !(await isHeld(id)));
    expect((await watches.restart(id, "refuse")).state).not.toBe("ended");
    await watches.stop(id, "flatten");
  });

  test("a plan that fails has what is open closed where that is wanted", async () => {
    const failing = source.replace("position.close();", "position.nothing();");
    const { id } = await watches.start({
      planId: "p",
      source: failing,
      inputs: {},
      settings: { ...SETTINGS },
      options: { onPlanFailure: "flatten" },
    });
    await until("its end", async () => (await watches.get(id)).state === "ended");
    await until("no position", async () => !(await isHeld(id)));
    expect((await watches.trades(id)).length).toBe(1);
  });
});

test("a plan that fails ends its watch and says on which line", async () => {
  const source = `export default plan({ title: "Leak", build({ on }) {\n  on.barClose(() => {\n    throw new Error("sprung");\n  });\n} });`;
  const { id } = await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS } });
  await until("its end", async () => (await watches.get(id)).state === "ended");
  expect((await watches.get(id)).endReason).toBe("the plan failed on line 3: sprung");
}, 60_000);

test("the journal of a watch loses no line and no order while the disk is full, and tells what is not written down yet", async () => {
  const source = `export default plan({ title: "Ticker", build({ on, log }) { let n = 0; on.barClose(() => log("bar " + n, ["info", "warning", "alert"][n++ % 3])); } });`;
  const { id } = await watches.start({ planId: "p", source, inputs: {}, settings: { ...SETTINGS, timeframe: "1m" } });
  const lines = async (): Promise<string[]> =>
    (await watches.events(id, EVERYTHING)).events.map(({ text }) => text).filter((text) => text.startsWith("bar "));
  await until("its first lines", async () => (await lines()).length >= 2);
  const { database, background } = application;
  database.beforeWrite = () => {
    throw Object.assign(new Error("full"), { code: "SQLITE_FULL" });
  };
  const before = (await lines()).length;
  await until("more lines", async () => (await lines()).length >= before + 4);
  expect((await watches.events(id, EVERYTHING)).events[0]!.id).toBeLessThan(0);
  const ofLevel = async (level: "notice" | "alert"): Promise<string[]> =>
    (await watches.events(id, { ...EVERYTHING, level })).events.map(({ text }) => text).reverse();
  // Written down or not.
  expect((await ofLevel("notice")).slice(0, 4)).toEqual(["bar 1", "bar 2", "bar 4", "bar 5"]);
  expect(background.troubles.map(({ text }) => text)).toContainEqual(
    expect.stringMatching(/^The journal of a watch was not saved yet, it is tried again: The disk/),
  );
  database.beforeWrite = null;
  await watches.stop(id, "flatten");
  await until("all of it written", async () => (await watches.events(id, EVERYTHING)).events.every((event) => event.id > 0));
  const told = (await lines()).reverse();
  expect(told).toEqual(told.map((_text, n) => `bar ${n}`));
  expect((await ofLevel("alert")).slice(0, 2)).toEqual(["bar 2", "bar 5"]);
  expect(await watches.get(id)).toMatchObject({ state: "ended" });
}, 60_000);

test("an instrument that the venue does not trade is refused", async () => {
  await application.database.write((manager) =>
    manager.insert(InstrumentEntity, {
      symbol: "MINE",
      facts: { ...instrumentNamed("KELP")!, symbol: "MINE" },
      origin: "import",
      createdMs: 2,
    }),
  );
  const column = (value: number): Float64Array => Float64Array.of(value, value);
  await application.bars.replace("MINE", "1m", {
    time: Float64Array.of(MONDAY, MONDAY + 60_000),
    ...{ open: column(5), high: column(5), low: column(5), close: column(5), volume: column(5) },
  });
  await expect(watches.start({ planId: "p", source: SOURCE, inputs: {}, settings: { ...SETTINGS, symbol: "MINE" } })).rejects.toThrow(
    /does not trade MINE/,
  );
});

test("the venue refuses what it can't read, and web pages altogether", async () => {
  const ask = async (path: string, body: unknown, headers: Record<string, string> = {}) => {
    const response = await fetch(`http://127.0.0.1:${port}${path}`, {
      method: "POST",
      body: JSON.stringify(body),
      headers: { "Content-Type": "application/json", ...headers },
    });
    return { status: response.status, text: await response.text() };
  };
  const account = { id: "probe", instruments: [instrumentNamed("KELP")], settings: { cash: 1000 }, timeframe: "5m" };
  expect((await ask("/accounts", account)).status).toBe(200);
  expect((await ask("/accounts", { ...account, id: "odd", timeframe: "7x" })).text).toMatch(/not a timeframe/);
  expect((await ask("/accounts/none/nobody/flatten", {})).status).toBe(404);
  expect((await ask("/clock", { speed: 0 })).status).toBe(400);
  expect((await ask("/clock", { speed: 60 }, { Origin: "http://localhost:4177" })).status).toBe(403);
});

test("on a feed of data alone a watch tells what it would do, and no other mode is taken", async () => {
  await stop();
  await start(false);
  watches = application.startWatching();
  await until("the venue", () => watches.venueStatus.connected);
  const request = { planId: "p", source: SOURCE, inputs: {}, settings: { ...SETTINGS } };
  await expect(watches.start(request)).rejects.toThrow('Choose the mode "alerts only"');
  const { id } = await watches.start({ ...request, options: { mode: "alerts only" } });
  await until(
    "what it would do",
    async () => (await watches.events(id, { ...EVERYTHING, search: "alerts only: nothing is sent" })).total > 0,
  );
  await expect(watches.change(id, { options: { ...PLAIN_WATCH_OPTIONS, mode: "automatic" } })).rejects.toThrow("data alone");
  expect(await watches.get(id)).toMatchObject({ state: "armed", positions: [], options: { mode: "alerts only" } });
  await watches.stop(id, "bare");
});
