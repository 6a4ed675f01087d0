/** Bars that come by themselves: from a folder, from an address; what came is told, what fails is tried again, nothing is taken twice. */
import { mkdirSync, readdirSync, utimesSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import type { Market, SourceBody } from "@plan-tester/contract";
import { afterAll, beforeAll, beforeEach, expect, test } from "vitest";
import { InstrumentEntity } from "./db/entities.ts";
import { SWING_FORMAT, swingCsv, TestServer } from "./testing.ts";

const server = new TestServer();
let web: Server;
let folder: string;
/** What the address answers for a day; undefined for nothing. */
let days: Record<string, string | number | undefined> = {};
const asked: string[] = [];

beforeAll(async () => {
  await server.start();
  web = createServer((request, response) => {
    const day = request.url!.slice(1);
    asked.push(day);
    const answer = days[day];
    response.statusCode = typeof answer === "number" ? answer : answer === undefined ? 404 : 200;
    response.end(typeof answer === "string" ? answer : "");
  }).listen(0, "127.0.0.1");
  await new Promise((resolve) => web.once("listening", resolve));
  folder = join(server.folder, "bars to come");
  mkdirSync(folder);
});
afterAll(async () => {
  web.close();
  await server.end();
});

const [HEAD, ...ROWS] = swingCsv(20, 6)
  .split("\n")
  .filter((_line, i) => i !== 500) as [string, ...string[]];
const dayOf = (day: number): string => [HEAD, ...ROWS.slice((day - 1) * 1440, day * 1440)].join("\n");
const market = async (symbol: string): Promise<Market> =>
  (await server.ask("listMarkets")).body.find(({ instrument }) => instrument.symbol === symbol)!;
const shape = "a shape";

const body = (more: Partial<SourceBody>): SourceBody => ({
  ...{ name: "Past days", kind: "folder", place: folder, symbol: "GROWS", everyMinutes: 60, overlap: "keep", allowsPrivate: false },
  ...more,
});
const create = (more: Partial<SourceBody> = {}) => server.ask("createSource", {}, body(more));
const log = async (id: string): Promise<string[]> =>
  (await server.ask("getSourceLog", { id })).body.map(({ outcome, text }) => `${outcome}: ${text}`);
const look = (id: string) => server.ask("lookAtSource", { id });

function put(name: string, text: string, secondsAgo = 60): void {
  writeFileSync(join(folder, name), text);
  const at = Date.now() / 1000 - secondsAgo;
  utimesSync(join(folder, name), at, at);
}

beforeEach(async () => {
  for (const { id } of (await server.ask("listSources")).body) await server.ask("deleteSource", { id });
  await server.importSwing("GROWS", dayOf(1), { ...SWING_FORMAT, dateFormat: "iso" }, { shape });
  days = {};
  asked.length = 0;
});

test("each file of a folder is added once, again when it has changed, and none that is still being written", async () => {
  const { id } = (await create()).body;
  put("day-10.csv", dayOf(3));
  put("day-2.csv", dayOf(2));
  // However long the test takes, it was changed a moment ago.
  put("day-11.csv", dayOf(4), -3600);
  put("notes.md", "no bars");
  await look(id);
  expect(await log(id)).toEqual([
    "added: day-10.csv: 1440 bars added, 0 changed, 0 lines left out",
    "added: day-2.csv: 1440 bars added, 0 changed, 0 lines left out",
  ]);
  expect((await market("GROWS")).bars).toBe(3 * 1440);
  await look(id);
  expect(await log(id)).toHaveLength(2);
  put("day-2.csv", `${dayOf(2)}\n`, 30);
  put("day-11.csv", dayOf(4), 30);
  await look(id);
  expect((await log(id)).slice(0, 2)).toEqual([
    "added: day-11.csv: 1440 bars added, 0 changed, 0 lines left out",
    "nothing new: day-2.csv: 0 bars added, 0 changed, 0 lines left out",
  ]);
  // Nothing is left of what was brought.
  expect(readdirSync(join(server.folder, "incoming"))).toEqual([]);
  for (const name of readdirSync(folder)) writeFileSync(join(folder, name), "");
});

test("a file that can't be read is told, what comes later waits, and after three tries it is left until it has changed", async () => {
  const { id } = (await create()).body;
  for (const name of readdirSync(folder)) put(name, "");
  put("bad.csv", "this is no file of bars\n");
  await look(id);
  expect((await log(id))[0]).toMatch(/^failed: bad\.csv: No valid bar in/);
  await look(id);
  await look(id);
  await look(id);
  expect((await log(id)).filter((line) => line.includes("bad.csv"))).toHaveLength(3);
  put("bad.csv", dayOf(5), 20);
  await look(id);
  expect((await log(id)).some((line) => line.startsWith("added: bad.csv: 1440"))).toBe(true);
});

test("an address is asked for each day behind the last bar up to yesterday; a day that is not there yet is no failure", async () => {
  const place = `http://127.0.0.1:${(web.address() as AddressInfo).port}/{date}`;
  expect((await create({ kind: "web", place })).status).toBe(400);
  const { id } = (await create({ kind: "web", place, allowsPrivate: true })).body;
  days = { "2025-03-04": dayOf(2), "2025-03-06": dayOf(4) };
  await look(id);
  expect(asked.slice(0, 3)).toEqual(["2025-03-04", "2025-03-05", "2025-03-06"]);
  expect(asked).toHaveLength(40);
  expect((await log(id)).filter((line) => line.startsWith("added"))).toEqual([
    "added: 2025-03-06: 1440 bars added, 0 changed, 0 lines left out",
    "added: 2025-03-04: 1440 bars added, 0 changed, 0 lines left out",
  ]);
  asked.length = 0;
  days = { "2025-03-07": 500 };
  await look(id);
  expect(asked).toEqual(["2025-03-07"]);
  expect((await log(id))[0]).toBe("failed: 2025-03-07: answered 500");
  expect((await market("GROWS")).bars).toBe(3 * 1440);
});

test("the same address each time: what differs is taken or kept as was said", async () => {
  const place = `http://127.0.0.1:${(web.address() as AddressInfo).port}/all`;
  const changed = dayOf(1).replace(/,[^,\n]*$/, ",99");
  days = { all: changed };
  const before = (await market("GROWS")).dataHash;
  const keep = (await create({ kind: "web", place, allowsPrivate: true })).body;
  await look(keep.id);
  expect((await market("GROWS")).dataHash).toBe(before);
  const replace = (await create({ kind: "web", place, allowsPrivate: true, overlap: "replace" })).body;
  await look(replace.id);
  expect((await log(replace.id))[0]).toMatch(/^added: .*: 0 bars added, 1 changed/);
  expect((await market("GROWS")).dataHash).not.toBe(before);
});

test("what can be no source is refused in words", async () => {
  const refused = async (more: Partial<SourceBody>): Promise<string> =>
    ((await create(more)).body as unknown as { error: { message: string } }).error.message;
  expect(await refused({ place: "bars" })).toMatch(/not the whole path of a folder/);
  expect(await refused({ place: join(folder, "nowhere") })).toMatch(/There is no folder/);
  expect(await refused({ kind: "web", place: "ftp://there/{date}" })).toMatch(/is not an address/);
  expect(await refused({ kind: "web", place: "http://10.0.0.1/{date}" })).toMatch(/private network/);
  await server.importSwing("UNKNOWN", dayOf(1), { ...SWING_FORMAT, dateFormat: "iso" });
  expect(await refused({ symbol: "UNKNOWN" })).toMatch(/^Import one file of UNKNOWN by hand first/);
  expect((await server.ask("listSources")).body).toEqual([]);
});

test("what a source brings leaves an instrument what it is, where it is: of the demo world, archived, in its place", async () => {
  await server.importSwing("AFTER");
  const { id } = (
    await create({ kind: "web", place: `http://127.0.0.1:${(web.address() as AddressInfo).port}/{date}`, allowsPrivate: true })
  ).body;
  const { database } = server.application;
  await database.write((manager) => manager.update(InstrumentEntity, { symbol: "GROWS" }, { origin: "demo", archivedMs: 1 }));
  const order = async () => (await server.ask("listMarkets")).body.map(({ instrument }) => instrument.symbol);
  const before = await order();
  days = { "2025-03-04": dayOf(2) };
  await look(id);
  expect(await market("GROWS")).toMatchObject({ bars: 2880, origin: "demo", isArchived: true });
  expect(await order()).toEqual(before);
  // By hand nothing takes the place of the demo's.
  expect((await server.importSwing("GROWS", dayOf(1))).status).toBe(409);
  await database.write((manager) => manager.update(InstrumentEntity, { symbol: "GROWS" }, { origin: "import", archivedMs: 0 }));
});
