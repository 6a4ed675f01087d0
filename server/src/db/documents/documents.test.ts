/** Documents of any earlier version are read as the present one has them. */
import {
  check,
  PLAIN_SETTINGS,
  readInstrument,
  runSettingsSchema,
  sweepRequestSchema,
  walkForwardRequestSchema,
} from "@plan-tester/contract";
import { describe, expect, test } from "vitest";
import { TestServer } from "../../testing.ts";
import { bringUpAll, broughtUp, currentVersion, PLACES, readBack, writtenDown } from "./documents.ts";
import { type DocumentKind, STEPS } from "./steps.ts";

const OLDEST_SETTINGS = {
  symbol: "KELP",
  timeframe: "15m",
  from: "2024-03-01",
  to: "2025-02-28",
  cash: 5000,
  costs: "none",
  path: "assumed",
};
const OLDEST_REQUEST = { planId: "p", inputs: {}, settings: OLDEST_SETTINGS, ranges: [{ input: "a", values: [1] }], aim: "sharpe" };
const OLDEST_FACTS = { symbol: "OLD", name: "Old", tickSize: 0.25, pointValue: 10, costs: { spreadTicks: 2 } };
const OLDEST_HEAD = { id: "r", settings: OLDEST_SETTINGS, plots: [{ label: "MA", pane: "price" }] };

describe("the oldest document of each kind gets all that the present one has", () => {
  test("settings", () => {
    expect(broughtUp("settings", OLDEST_SETTINGS)).toEqual({ ...PLAIN_SETTINGS, ...OLDEST_SETTINGS });
  });
  test("sweep request", () => {
    const request = broughtUp("sweep request", { ...OLDEST_REQUEST, outOfSample: null });
    expect(request).toMatchObject({ constraints: [], search: null, settings: PLAIN_SETTINGS_WITH_OLDEST });
    expect(check(sweepRequestSchema, { ...request, source: "x" }, "the sweep")).toMatchObject(request);
  });
  test("walk-forward request", () => {
    const request = broughtUp("walk-forward request", { ...OLDEST_REQUEST, inSample: 20, outOfSample: 5, anchored: false });
    expect(request).toMatchObject({ constraints: [], search: null, leastTrades: 5, settings: PLAIN_SETTINGS_WITH_OLDEST });
    expect(check(walkForwardRequestSchema, { ...request, source: "x" }, "the walk-forward")).toMatchObject(request);
  });
  test("instrument", () => {
    const facts = broughtUp("instrument", OLDEST_FACTS);
    expect(facts).toMatchObject({
      pipSize: 0.25,
      costs: { ...readInstrument({ symbol: "N", tickSize: 1, pointValue: 1 }).costs, spreadTicks: 2 },
    });
  });
  test("run head", () => {
    expect(broughtUp("run head", OLDEST_HEAD)).toMatchObject({
      ...{ resultHash: "", notes: [], ownFigures: [], slips: [], firstBar: 0, walkForwardId: "", watched: null },
      ...{ settings: PLAIN_SETTINGS_WITH_OLDEST, plots: [{ label: "MA", pane: "price", shift: 0 }] },
    });
  });
});
const PLAIN_SETTINGS_WITH_OLDEST = { ...PLAIN_SETTINGS, ...OLDEST_SETTINGS };

test("what a document says stands against what a step would fill in", () => {
  const own = { ...OLDEST_SETTINGS, seed: 7, ruin: "go on", alsoOn: ["REED"] };
  expect(broughtUp("settings", own)).toMatchObject({ seed: 7, ruin: "go on", alsoOn: ["REED"] });
});

test.each(Object.keys(STEPS) as DocumentKind[])(
  "%s is written with its version and read back as it was, in any order of its fields",
  (kind) => {
    const document = { b: 1, a: { d: [2, { f: 1, e: 2 }], c: null } };
    const text = writtenDown(kind, document);
    expect(JSON.parse(text).documentVersion).toBe(currentVersion(kind));
    expect(readBack(kind, text)).toEqual(document);
    expect(writtenDown(kind, { a: { c: null, d: [2, { e: 2, f: 1 }] }, b: 1 })).toBe(text);
  },
);

test("the present settings need no step", () => {
  const settings = check(runSettingsSchema, { ...OLDEST_SETTINGS }, "the settings");
  expect(broughtUp("settings", settings as object as Record<string, unknown>)).toEqual(settings);
});

test("a file of an earlier version is brought up once, in every place that holds documents", async () => {
  const server = new TestServer();
  await server.start();
  await server.importSwing();
  const { body: plan } = await server.ask("createPlan", {}, {});
  const { database } = server.application;
  const all = () =>
    Promise.all(
      PLACES.map(({ table, column }) =>
        database.read.query<{ v: number | null }[]>(`SELECT json_extract("${column}", '$.documentVersion') AS v FROM "${table}"`),
      ),
    );
  expect((await all()).flat().length).toBeGreaterThan(1);
  await database.write((manager) => manager.query(`UPDATE "plan" SET "settings" = ?`, [JSON.stringify(OLDEST_SETTINGS)]));
  await database.write((manager) =>
    manager.query(`UPDATE "instrument" SET "facts" = json_remove("facts", '$.pipSize', '$.documentVersion')`),
  );
  // A file that says it is up to date is not looked through.
  expect(await bringUpAll(database.read)).toBe(0);
  await database.read.query("PRAGMA user_version = 0");
  expect(await bringUpAll(database.read)).toBe(2);
  expect(await bringUpAll(database.read)).toBe(0);
  expect((await server.ask("getPlan", { id: plan.id })).body.settings).toEqual(PLAIN_SETTINGS_WITH_OLDEST);
  expect((await server.ask("listMarkets")).body[0]!.instrument.pipSize).toBe(0.25);
  await server.end();
});
