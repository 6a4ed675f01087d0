/** A user's own bars, doubted and described: what is doubtful about them, the sessions they show, facts that are changed, and the runs of before. */
import { gzipSync } from "node:zlib";
import {
  type InstrumentFile,
  type Market,
  type QualityMeta,
  type RepairBody,
  type RunEvidence,
  unpackColumns,
} from "@plan-tester/contract";
import { CLOSED, DOUBTS, type Finding, MINUTE_MS } from "@plan-tester/core";
import { LUNCH_HOLE, LUNCH_SPIKE, lunchCsv } from "@plan-tester/core/testing/lunch-bars";
import { strToU8, zipSync } from "fflate";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_FORMAT, SWING_SETTINGS, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(() => server.start());
afterAll(() => server.end());

const quality = async () => {
  const response = await fetch(`${server.base}/markets/LUNCH/quality`);
  expect(response.status).toBe(200);
  return unpackColumns<QualityMeta>(await response.arrayBuffer());
};
const market = async (): Promise<Market> => (await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === "LUNCH")!;
const told = (findings: readonly Finding[]): string[] =>
  findings.map(({ kind, fromMs, bars }) => `${kind} ${new Date(fromMs).toISOString().slice(5, 16)} ${bars}`);

const SOURCE = `export default plan({ title: "Noon", build({ on, enter, position }) {
  on.barClose(() => { if (position.flat) enter.long({ stopLoss: ticks(8), target: ticks(8) }); });
} });`;
const settings = { ...SWING_SETTINGS, symbol: "LUNCH", timeframe: "5m", from: "2025-03-03", to: "2025-04-04" };
let run: RunEvidence;

test("of an instrument whose sessions are not known a spike is told, and that nothing can be missing", async () => {
  expect((await server.importSwing("LUNCH", lunchCsv(), { ...SWING_FORMAT, dateFormat: "iso" })).status).toBe(200);
  const { meta, bytes } = await quality();
  expect(told(meta.findings)).toEqual(["spike 03-13T14:00 1"]);
  expect([meta.expected, meta.dates, bytes.present!.length]).toEqual([null, [], 0]);
  expect((await market()).factsChanges).toEqual([]);
  run = (await server.ask("createRun", {}, { id: "noon", planId: "noon", source: SOURCE, inputs: {}, settings })).body as RunEvidence;
  await server.ask("keepRun", { id: "noon" }, { name: "Noon", note: "", tags: [] });
});

test("its bars show its sessions, break included", async () => {
  const { found } = (await server.ask("getFoundSessions", { symbol: "LUNCH" })).body;
  expect(found!.calendar.weekly.filter(({ day }) => day === 1)).toEqual([
    { day: 1, open: "09:00", close: "12:00" },
    { day: 1, open: "13:00", close: "16:00" },
  ]);
  expect(found!.calendar.weekly.length).toBe(10);
  expect(found!.calendar.zone).toBe("UTC");
  expect(found!.inside).toBe(1);
  expect(found!.present).toBeCloseTo(1 - 30 / (25 * 360), 6);
});

test("with its calendar the hole is told too, and stands on the map", async () => {
  const { found } = (await server.ask("getFoundSessions", { symbol: "LUNCH" })).body;
  const { instrument } = await market();
  const changed = { ...instrument, tickSize: 0.5, calendar: found!.calendar } as unknown as InstrumentFile;
  expect((await server.ask("changeFacts", { symbol: "LUNCH" }, changed)).status).toBe(204);
  const { meta, bytes, columns } = await quality();
  expect(told(meta.findings.filter(({ kind }) => kind !== "off grid"))).toEqual(["gap 03-12T10:00 30", "spike 03-13T14:00 1"]);
  expect(meta.expected! - meta.bars).toBe(30);
  const { dates, cells, cellMinutes } = meta;
  const row = dates.indexOf("2025-03-12");
  expect(columns.openMs![row]).toBe(LUNCH_HOLE - 60 * MINUTE_MS);
  const cell = row * cells + Math.floor(60 / cellMinutes);
  expect([bytes.present![cell], DOUBTS[bytes.doubt![cell]! - 1]]).toEqual([0, "gap"]);
  expect(bytes.present![row * cells + Math.floor(200 / cellMinutes)]).toBe(CLOSED);
});

test("to another instrument its calendar is offered, with how well it fits the bars of that one", async () => {
  expect((await server.importSwing("NOON", lunchCsv(), { ...SWING_FORMAT, dateFormat: "iso" })).status).toBe(200);
  const { found, known } = (await server.ask("getFoundSessions", { symbol: "NOON" })).body;
  expect(known.map(({ symbol }) => symbol)).toEqual(["LUNCH"]);
  expect(known[0]).toMatchObject({ calendar: found!.calendar, inside: 1, present: found!.present });
  // Its own is not offered to itself, and of two that are alike only the first.
  expect((await server.ask("getFoundSessions", { symbol: "LUNCH" })).body.known).toEqual([]);
  const { instrument } = (await server.ask("listMarkets")).body.find((one) => one.instrument.symbol === "NOON")!;
  const changed = { ...instrument, calendar: { ...found!.calendar, isAssumed: false } } as unknown as InstrumentFile;
  expect((await server.ask("changeFacts", { symbol: "NOON" }, changed)).status).toBe(204);
  await server.importSwing("THIRD", swingCsv());
  const third = (await server.ask("getFoundSessions", { symbol: "THIRD" })).body;
  expect(third.known.map(({ symbol }) => symbol)).toEqual(["LUNCH"]);
  // Around the clock, of which the market of the day sees a quarter.
  expect(third.known[0]!.inside).toBeLessThan(0.3);
});

test("what was changed is told; a run of before is made again with the facts of then, to the last bit", async () => {
  const { factsChanges } = await market();
  expect(factsChanges.length).toBe(1);
  expect(factsChanges[0]!.changes).toEqual(expect.arrayContaining(["tick size 0.25 to 0.5", "weekly sessions"]));
  expect(factsChanges[0]!.atMs).toBeGreaterThan(run.createdMs);
  const { body } = await server.ask("verifyRun", { id: "noon" });
  expect(body).toMatchObject({ same: true });
  const now = (await server.ask("createRun", {}, { id: "later", planId: "noon", source: SOURCE, inputs: {}, settings }))
    .body as RunEvidence;
  expect(now.fingerprint).not.toBe(run.fingerprint);
});

test("the same bars once more keep all that an import does not ask for; on another grid they are counted anew", async () => {
  const edited = {
    ...(await market()).instrument,
    name: "Lunch market",
    decimals: 3,
    costs: { ...(await market()).instrument.costs, spreadTicks: 2 },
  };
  await server.ask("changeFacts", { symbol: "LUNCH" }, edited as unknown as InstrumentFile);
  await server.importSwing("LUNCH", lunchCsv(), { ...SWING_FORMAT, dateFormat: "iso" });
  const { instrument } = await market();
  expect(instrument.calendar.weekly.length).toBe(10);
  expect(instrument).toMatchObject({ name: "Lunch market", tickSize: 0.25, decimals: 2, pipSize: 0.25, costs: { spreadTicks: 2 } });
  await server.ask("changeFacts", { symbol: "LUNCH" }, { ...instrument, decimals: 3 } as unknown as InstrumentFile);
  await server.importSwing("LUNCH", lunchCsv(), { ...SWING_FORMAT, dateFormat: "iso" });
  expect((await market()).instrument.decimals).toBe(3);
});
test("a repair is a layer: what was found is gone, runs of before are made again on what they had, and it is undone", async () => {
  const before = await market();
  await server.ask("createRun", {}, { id: "raw", planId: "noon", source: SOURCE, inputs: {}, settings });
  const repair = { kind: "interpolate" as const, fromMs: LUNCH_SPIKE, toMs: LUNCH_SPIKE + MINUTE_MS, tickSize: 0.25 };
  expect((await server.ask("makeRepair", { symbol: "LUNCH" }, { repair, reason: "a wrong tick" })).status).toBe(204);
  expect(told((await quality()).meta.findings)).toEqual(["gap 03-12T10:00 30"]);
  const after = await market();
  expect(after.dataHash).not.toBe(before.dataHash);
  expect((await server.ask("verifyRun", { id: "raw" })).body).toMatchObject({ same: true });
  const fixed = (await server.ask("createRun", {}, { id: "fixed", planId: "noon", source: SOURCE, inputs: {}, settings }))
    .body as RunEvidence;
  expect(fixed.dataHash).toBe(after.dataHash);
  await server.ask("keepRun", { id: "fixed" }, { name: "Repaired", note: "", tags: [] });

  await server.stop();
  await server.start();
  expect((await market()).dataHash).toBe(after.dataHash);
  const [made] = (await server.ask("listRepairs", { symbol: "LUNCH" })).body;
  expect(made).toMatchObject({ repair, reason: "a wrong tick", undoneMs: 0 });
  expect((await server.ask("undoRepair", { symbol: "LUNCH", id: String(made!.id) })).status).toBe(204);
  expect(told((await quality()).meta.findings)).toEqual(["gap 03-12T10:00 30", "spike 03-13T14:00 1"]);
  expect((await market()).dataHash).toBe(before.dataHash);
  // What was made on the repaired bars is made again on them.
  expect((await server.ask("verifyRun", { id: "fixed" })).body).toMatchObject({ same: true });
  expect((await server.ask("undoRepair", { symbol: "LUNCH", id: String(made!.id) })).status).toBe(404);
});

test("repairs lie over bars that come again, are undone where these can't bear them, and go with an instrument that is deleted", async () => {
  const [symbol, format] = ["AFRESH", { ...SWING_FORMAT, dateFormat: "iso" }];
  const hashOf = async () => (await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === symbol)!.dataHash;
  await server.importSwing(symbol, lunchCsv(), format);
  const raw = await hashOf();
  const repair = { kind: "drop" as const, fromMs: LUNCH_SPIKE, toMs: LUNCH_SPIKE + MINUTE_MS };
  await server.ask("makeRepair", { symbol }, { repair, reason: "a wrong tick" });
  const repaired = await hashOf();
  expect((await server.importSwing(symbol, lunchCsv(), format)).body.repairs).toEqual({ kept: 1, undone: 0 });
  expect(await hashOf()).toBe(repaired);
  // Of these bars none would be left.
  const one = lunchCsv()
    .split("\n")
    .filter((line, k) => k === 0 || line.startsWith("2025-03-13T14:00"))
    .join("\n");
  expect((await server.importSwing(symbol, one, format)).body).toMatchObject({ bars: 1, repairs: { kept: 0, undone: 1 } });
  await server.importSwing(symbol, lunchCsv(), format);
  expect(await hashOf()).toBe(raw);

  await server.ask("makeRepair", { symbol }, { repair, reason: "a wrong tick" });
  expect((await server.ask("deleteMarket", { symbol })).status).toBe(204);
  expect((await server.importSwing(symbol, lunchCsv(), format)).body.repairs).toEqual({ kept: 0, undone: 0 });
  expect(await hashOf()).toBe(raw);
  expect((await server.ask("listRepairs", { symbol })).body).toEqual([]);
});

test("a repair that leaves no valid bars, or is none, is refused in words, and nothing has changed", async () => {
  const before = await market();
  const tried = async (repair: object, reason = "why") =>
    server.ask("makeRepair", { symbol: "LUNCH" }, { repair, reason } as unknown as RepairBody);
  const refused: [object, RegExp][] = [
    [
      { kind: "correct", timeMs: LUNCH_SPIKE, open: 400, high: 390, low: 380, close: 400, volume: 1 },
      /^Repair 1 \(one bar set to .*\) leaves no valid bars/,
    ],
    [{ kind: "drop", fromMs: 0, toMs: 8e15 }, /no bar|leaves no/i],
    [{ kind: "melt", fromMs: 0, toMs: 1 }, /kind/],
    [{ kind: "multiply", fromMs: 0, toMs: 1, factor: 0 }, /factor/],
  ];
  for (const [repair, words] of refused) {
    const { status, body } = await tried(repair);
    expect([status >= 400 && status < 500, (body as unknown as { error: { message: string } }).error.message]).toEqual([
      true,
      expect.stringMatching(words),
    ]);
  }
  expect((await tried({ kind: "drop", fromMs: 0, toMs: 1 }, "")).status).toBe(400);
  expect(await market()).toEqual(before);
});

test("bars saved as a file and imported again are the same, to the last bit: as CSV and as JSON, packed and not", async () => {
  const { dataHash, firstDate, lastDate } = await market();
  const query = new URLSearchParams({ timeframe: "1m", from: firstDate, to: lastDate });
  const text = await (await fetch(`${server.base}/markets/LUNCH/file?${query}`)).text();
  expect((await server.importSwing("AGAIN", text, { ...SWING_FORMAT, dateFormat: "iso" })).body.rejected).toBe(0);
  const again = (await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === "AGAIN")!;
  expect(again.dataHash).toBe(dataHash);
  query.set("form", "jsonl");
  const rows = await (await fetch(`${server.base}/markets/LUNCH/file?${query}`)).text();
  for (const file of [rows, `[${rows.trimEnd().replaceAll("\n", ",")}]`, gzipSync(rows), zipSync({ "bars.jsonl": strToU8(rows) })]) {
    expect((await server.importSwing("AGAIN", file, { ...SWING_FORMAT, dateFormat: "iso" })).body.rejected).toBe(0);
    const packed = (await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === "AGAIN")!;
    expect(packed.dataHash).toBe(dataHash);
  }
  query.set("form", "parquet");
  const parquet = Buffer.from(await (await fetch(`${server.base}/markets/LUNCH/file?${query}`)).arrayBuffer());
  for (const file of [parquet, gzipSync(parquet)]) {
    expect((await server.importSwing("AGAIN", file, { ...SWING_FORMAT, dateFormat: "iso" })).body.rejected).toBe(0);
    expect((await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === "AGAIN")!.dataHash).toBe(dataHash);
  }
  query.set("timeframe", "1h");
  query.set("form", "jsonl");
  const lines = (await (await fetch(`${server.base}/markets/LUNCH/file?${query}`)).text()).trimEnd().split("\n");
  expect(lines.length).toBe(25 * 6);
  expect(JSON.parse(lines[0]!)).toMatchObject({ time: "2025-03-03T09:00:00.000Z" });
  query.set("form", "melted");
  expect((await fetch(`${server.base}/markets/LUNCH/file?${query}`)).status).toBe(400);
});

test("studies stand beside the bars of a file, warmed up on those ahead of its period", async () => {
  const { firstDate, lastDate } = await market();
  const studies = ["sma(close, 3)", "close > open"];
  const rowsOf = async (from: string): Promise<Record<string, number | string>[]> => {
    const query = new URLSearchParams({ timeframe: "1h", from, to: lastDate, form: "jsonl", studies: JSON.stringify(studies) });
    const text = await (await fetch(`${server.base}/markets/LUNCH/file?${query}`)).text();
    return text
      .trimEnd()
      .split("\n")
      .map((line) => JSON.parse(line));
  };
  const all = await rowsOf(firstDate);
  const closes = all.map(({ close }) => close as number);
  expect(all.slice(0, 2).map((row) => "sma(close, 3)" in row)).toEqual([false, false]);
  expect(all[2]!["sma(close, 3)"]).toBeCloseTo((closes[0]! + closes[1]! + closes[2]!) / 3, 9);
  for (const row of all) expect(row["close > open"]).toBe(Number(row.close! > row.open!));
  const later = await rowsOf("2025-03-05");
  expect(later.length).toBeGreaterThan(0);
  expect(later).toEqual(all.slice(-later.length));
  const bad = new URLSearchParams({ timeframe: "1h", from: firstDate, to: lastDate, studies: JSON.stringify(["sma(close"]) });
  const refused = await fetch(`${server.base}/markets/LUNCH/file?${bad}`);
  expect([refused.status, ((await refused.json()) as { error: { code: string } }).error.code]).toEqual([422, "bad-study"]);
});

test("facts that can't be are refused in words, and nothing has changed", async () => {
  const before = await market();
  const { instrument } = before;
  const tried = (part: object) => server.ask("changeFacts", { symbol: "LUNCH" }, { ...instrument, ...part } as unknown as InstrumentFile);
  const refused: [object, number, RegExp][] = [
    [{ symbol: "OTHER" }, 409, /symbol of LUNCH stays as it is/],
    [{ tickSize: 0 }, 400, /tickSize must be > 0/],
    [{ calendar: { ...instrument.calendar, zone: "Nowhere/Never" } }, 422, /"Nowhere\/Never" is not a known time zone/],
    [
      { calendar: { ...instrument.calendar, weekly: [...instrument.calendar.weekly, { day: 1, open: "11:00", close: "14:00" }] } },
      422,
      /Two sessions overlap/,
    ],
    [{ calendar: { ...instrument.calendar, weekly: [] } }, 400, /weekly/],
  ];
  for (const [part, status, words] of refused) {
    const { status: got, body } = await tried(part);
    expect([got, (body as unknown as { error: { message: string } }).error.message]).toEqual([status, expect.stringMatching(words)]);
  }
  expect(await market()).toEqual(before);
  expect(
    (await server.ask("changeFacts", { symbol: "NOTHING" }, { ...instrument, symbol: "NOTHING" } as unknown as InstrumentFile)).status,
  ).toBe(404);
});
