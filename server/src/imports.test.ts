/** Bars that come to others: compared before anything changes, added, refused, stopped; ticks; files at once. */
import { existsSync, statSync } from "node:fs";
import { join } from "node:path";
import type { Market } from "@plan-tester/contract";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_FORMAT, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(() => server.start());
afterAll(() => server.end());

const [HEAD, ...ROWS] = swingCsv(20, 2)
  .split("\n")
  .filter((_line, i) => i !== 500) as [string, ...string[]];
const csv = (rows: readonly string[]): string => [HEAD, ...rows].join("\n");
const format = { ...SWING_FORMAT, dateFormat: "iso" };
const market = async (symbol: string): Promise<Market> =>
  (await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === symbol)!;
const add = (symbol: string, rows: readonly string[], more: object = {}) =>
  server.importSwing(symbol, csv(rows), format, { mode: "add", ...more });
const changed = (row: string): string => row.replace(/,[^,]*$/, ",99");

test("bars added in parts, in any order, are those of one file, to the last bit", async () => {
  await server.importSwing("WHOLE", csv(ROWS), format);
  expect((await add("PARTS", ROWS.slice(500, 1500))).body).toMatchObject({ isDone: true, overlap: null, bars: 1000 });
  expect((await add("PARTS", ROWS.slice(1400))).body).toMatchObject({
    isDone: true,
    overlap: { same: 100, differs: 0, fresh: ROWS.length - 1500 },
  });
  expect((await add("PARTS", ROWS.slice(0, 510))).body).toMatchObject({ isDone: true, overlap: { same: 10, differs: 0, fresh: 500 } });
  const [whole, parts] = [await market("WHOLE"), await market("PARTS")];
  expect([parts.bars, parts.dataHash]).toEqual([ROWS.length, whole.dataHash]);
});

test("where bars differ nothing changes until it is said which stay", async () => {
  const before = await market("PARTS");
  const given = [...ROWS.slice(40, 42), changed(ROWS[42]!)];
  const asked = (await add("PARTS", given)).body;
  expect(asked).toMatchObject({ isDone: false, overlap: { same: 2, differs: 1, fresh: 0 } });
  expect(asked.overlap!.examples).toEqual([
    expect.objectContaining({
      timeMs: Date.UTC(2025, 2, 3, 0, 42),
      there: expect.objectContaining({ volume: 10 }),
      given: expect.objectContaining({ volume: 99 }),
    }),
  ]);
  expect(await market("PARTS")).toEqual(before);
  expect((await add("PARTS", given, { overlap: "keep" })).body.isDone).toBe(true);
  expect((await market("PARTS")).dataHash).toBe(before.dataHash);
  expect((await add("PARTS", given, { overlap: "replace" })).body.isDone).toBe(true);
  expect((await market("PARTS")).dataHash).not.toBe(before.dataHash);
});

test("bars of another timeframe, or with a spread to those without, are refused in words", async () => {
  const before = await market("PARTS");
  const hours = await add(
    "PARTS",
    ROWS.filter((_row, i) => i % 60 === 0),
    { timeframe: "1h" },
  );
  expect([hours.status, hours.body.error?.message]).toEqual([
    422,
    expect.stringMatching(/^PARTS has bars of 1 min, and these are of 1 h\./),
  ]);
  const spread = await server.importSwing("PARTS", csv(ROWS.slice(0, 9)), { ...format, volume: null, spread: 5 }, { mode: "add" });
  expect([spread.status, spread.body.error?.message]).toEqual([422, expect.stringMatching(/have no spread, and these have one/)]);
  expect(await market("PARTS")).toEqual(before);
});

test("two that come at once both stay", async () => {
  await server.importSwing("BOTH", csv(ROWS.slice(0, 10)), format);
  const came = await Promise.all(
    [ROWS.slice(10, 900), ROWS.slice(900, 2000)].map((rows, k) =>
      fetch(
        `${server.base}/imports/both${k}?spec=${encodeURIComponent(JSON.stringify({ instrument: { symbol: "BOTH", tickSize: 0.25, pointValue: 10 }, format, timeframe: "1m", mode: "add" }))}`,
        { method: "POST", body: csv(rows), headers: { "Content-Type": "text/csv" } },
      ),
    ),
  );
  expect(came.map(({ status }) => status)).toEqual([200, 200]);
  expect((await market("BOTH")).bars).toBe(2000);
});

test("an import that nobody waits for any more ends, and changes nothing", async () => {
  const stop = new AbortController();
  const spec = { instrument: { symbol: "STOPPED", tickSize: 0.25, pointValue: 10 }, format, timeframe: "1m" };
  const body = csv(Array.from({ length: 200 }, (_none, k) => ROWS.map((row) => row.replace("2025-", `${1950 + k}-`)).join("\n")));
  const sent = fetch(`${server.base}/imports/stopped?spec=${encodeURIComponent(JSON.stringify(spec))}`, {
    ...{ method: "POST", body, signal: stop.signal, headers: { "Content-Type": "text/csv" } },
  });
  const file = join(server.folder, "incoming", "stopped.csv");
  // It has come whole, and is being read.
  while (!existsSync(file) || statSync(file).size < body.length) await new Promise((resolve) => setTimeout(resolve, 5));
  stop.abort();
  await expect(sent).rejects.toThrow();
  while (existsSync(file)) await new Promise((resolve) => setTimeout(resolve, 20));
  expect(await market("STOPPED")).toBeUndefined();
  expect((await server.importSwing("STOPPED", csv(ROWS), format)).body.isDone).toBe(true);
});

test("how a file was read is remembered by what it looks like, once it was imported", async () => {
  const shape = ", 6 time open high low close volume";
  const mapping = async () => (await server.ask("getImportMapping", { shape })).body.mapping;
  expect(await mapping()).toBeNull();
  await server.importSwing("SHAPED", "time\n", format, { shape });
  expect(await mapping()).toBeNull();
  await server.importSwing("SHAPED", csv(ROWS.slice(0, 50)), format, { shape });
  expect(await mapping()).toMatchObject({
    symbol: "SHAPED",
    timeframe: "1m",
    pointValue: 10,
    tickSize: 0.25,
    format: { close: 4, kind: "bars" },
  });
  expect((await server.ask("getImportMapping", { shape: "; 6" })).body.mapping).toBeNull();
});

test("ticks become bars of a minute, with a spread that a run pays", async () => {
  const ticks = Array.from({ length: 4000 }, (_none, k) => {
    const bid = 400 + ((k * 7) % 13) / 4;
    return `${new Date(Date.UTC(2025, 2, 3) + k * 20_000).toISOString()},${bid},${bid + 0.5}`;
  });
  const layout = { delimiter: ",", headerLines: 0, kind: "ticks", time: 0, bid: 1, ask: 2, dateFormat: "iso", zone: "UTC", stamp: "open" };
  const { body } = await server.importSwing("TICKS", ticks.join("\n"), layout);
  expect(body).toMatchObject({ isDone: true, rows: 4000, rejected: 0, bars: Math.ceil(4000 / 3) });
  expect(await market("TICKS")).toMatchObject({ timeframe: "1m", hasSpreadColumn: true });
  const bad = await server.importSwing("TICKS", ticks.join("\n"), { ...layout, bid: null, ask: null });
  expect(bad.status).toBe(400);
});
