/** Instruments in lists of one's own, put out of the way, and made once more. */
import { afterAll, beforeAll, expect, test } from "vitest";
import { InstrumentEntity } from "./db/entities.ts";
import { TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(async () => {
  await server.start();
  await server.importSwing("SWING");
  await server.importSwing("OTHER");
});
afterAll(() => server.end());

const lists = async () => (await server.ask("listInstrumentLists")).body;
const market = async (symbol: string) => (await server.ask("listMarkets")).body.find((one) => one.instrument.symbol === symbol);

test("a list is made, renamed, changed and deleted; a name is taken once, whatever its case; it outlives a restart", async () => {
  const made = await server.ask("createInstrumentList", {}, { name: "Mine", symbols: ["SWING", "GONE"] });
  expect([made.status, made.body]).toEqual([201, { id: made.body.id, name: "Mine", symbols: ["SWING", "GONE"] }]);
  const refused = await server.ask("createInstrumentList", {}, { name: "mine", symbols: [] });
  expect([refused.status, refused.body]).toMatchObject([409, { error: { message: expect.stringMatching(/a list "mine" already/) } }]);
  const { id } = made.body;
  expect((await server.ask("replaceInstrumentList", { id }, { name: "mine", symbols: ["OTHER"] })).status).toBe(200);
  await server.stop();
  await server.start();
  expect(await lists()).toEqual([{ id, name: "mine", symbols: ["OTHER"] }]);
  expect((await server.ask("deleteInstrumentList", { id })).status).toBe(204);
  expect((await server.ask("deleteInstrumentList", { id })).status).toBe(404);
  expect((await server.ask("replaceInstrumentList", { id }, { name: "late", symbols: [] })).status).toBe(404);
  expect(await lists()).toEqual([]);
});

test.each([
  { name: " ", symbols: [] },
  { name: "Twice", symbols: ["SWING", "SWING"] },
  { name: "Odd", symbols: ["no symbol!"] },
])("%j is refused", async (body) => expect((await server.ask("createInstrumentList", {}, body)).status).toBe(400));

test("what is archived is there all the same, and comes back", async () => {
  expect((await server.ask("shelveMarkets", {}, { symbols: ["OTHER"], isArchived: true })).status).toBe(204);
  expect(await market("OTHER")).toMatchObject({ isArchived: true });
  expect(await market("SWING")).toMatchObject({ isArchived: false });
  expect((await server.ask("getHistory", { symbol: "OTHER" })).status).toBe(200);
  await server.ask("shelveMarkets", {}, { symbols: ["OTHER"], isArchived: false });
  expect(await market("OTHER")).toMatchObject({ isArchived: false });
  // All or none of them.
  expect((await server.ask("shelveMarkets", {}, { symbols: ["SWING", "NONE"], isArchived: true })).status).toBe(404);
  expect(await market("SWING")).toMatchObject({ isArchived: false });
});

test("a copy has facts, bars and the repairs in force; what is done to it leaves the first as it was", async () => {
  const repair = { kind: "multiply", factor: 2, fromMs: Date.UTC(2025, 2, 10), toMs: Date.UTC(2025, 2, 11) } as const;
  expect((await server.ask("makeRepair", { symbol: "SWING" }, { repair, reason: "units" } as never)).status).toBe(204);
  const before = (await market("SWING"))!;
  expect((await server.ask("copyMarket", { symbol: "SWING" }, { symbol: "SWING-2" })).status).toBe(204);
  const copy = (await market("SWING-2"))!;
  expect(copy).toEqual({ ...before, instrument: { ...before.instrument, symbol: "SWING-2" } });
  const [one] = (await server.ask("listRepairs", { symbol: "SWING-2" })).body;
  await server.ask("undoRepair", { symbol: "SWING-2", id: String(one!.id) });
  expect((await market("SWING-2"))!.dataHash).not.toBe(before.dataHash);
  expect(await market("SWING")).toEqual(before);
});

test("of two copies that are asked for at once one is made, whole; one that was cut off is gone at the next start", async () => {
  const both = await Promise.all([1, 2].map(() => server.ask("copyMarket", { symbol: "OTHER" }, { symbol: "TWIN" })));
  expect(both.map(({ status }) => status).sort()).toEqual([204, 409]);
  expect(await market("TWIN")).toMatchObject({ bars: (await market("OTHER"))!.bars });
  const facts = (await market("OTHER"))!.instrument;
  const row = { symbol: "CUT", facts: { ...facts, symbol: "CUT" }, origin: "import" as const, createdMs: 1, deletedMs: 0, archivedMs: 0 };
  await server.application.database.write((manager) => manager.insert(InstrumentEntity, row));
  await server.stop();
  await server.start();
  expect((await server.ask("copyMarket", { symbol: "OTHER" }, { symbol: "CUT" })).status).toBe(204);
});

test("a copy never takes the place of another, also of one in the bin", async () => {
  const before = await server.ask("listMarkets");
  const taken = await server.ask("copyMarket", { symbol: "SWING" }, { symbol: "OTHER" });
  expect([taken.status, taken.body]).toMatchObject([409, { error: { message: expect.stringMatching(/OTHER already\. Give/) } }]);
  await server.ask("deleteMarket", { symbol: "SWING-2" });
  const binned = await server.ask("copyMarket", { symbol: "SWING" }, { symbol: "SWING-2" });
  expect([binned.status, binned.body]).toMatchObject([409, { error: { message: expect.stringMatching(/already, in the bin/) } }]);
  expect((await server.ask("copyMarket", { symbol: "NONE" }, { symbol: "NEW" })).status).toBe(404);
  const left = before.body.filter(({ instrument }) => instrument.symbol !== "SWING-2");
  expect((await server.ask("listMarkets")).body).toEqual(left);
});
