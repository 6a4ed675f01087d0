/** Bundles: made in one workspace, opened in another, held against what they say; bad and hostile ones refused in words. */
import { createHash } from "node:crypto";
import { join } from "node:path";
import {
  type ApiError,
  BUNDLE_LIMITS,
  type BundleManifest,
  type BundleReport,
  type BundleRequest,
  type RunEvidence,
  SKELETON,
} from "@plan-tester/contract";
import { EMPTY_KIT, NO_EXITS } from "@plan-tester/core";
import Sqlite from "better-sqlite3";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { SWING_SETTINGS, TestServer } from "./testing.ts";
import { packBundle } from "./work/bundle-tasks.ts";

const from = new TestServer();
const into = new TestServer();
let request: BundleRequest;
let packed: Uint8Array<ArrayBuffer>;
const runIds: string[] = [];
let planId = "";

const MODULE = '//! module "waves"\nexport const twice = (value) => 2 * value;\n';
const SOURCE = SKELETON.replace(/^/, 'import { twice } from "waves";\n');
const KIT = { ...EMPTY_KIT, name: "Near", long: { ...NO_EXITS, stopLoss: { unit: "ticks", value: 40 } } } as const;

async function make(server: TestServer, asked: BundleRequest): Promise<Uint8Array<ArrayBuffer>> {
  const response = await fetch(`${server.base}/bundles`, {
    method: "POST",
    body: JSON.stringify(asked),
    headers: { "Content-Type": "application/json" },
  });
  expect([response.status, response.headers.get("content-type")]).toEqual([200, "application/octet-stream"]);
  return new Uint8Array(await response.arrayBuffer());
}

async function open(server: TestServer, bytes: Uint8Array<ArrayBuffer>, id = "one") {
  const response = await fetch(`${server.base}/bundle-imports/${id}`, {
    method: "POST",
    body: bytes,
    headers: { "Content-Type": "application/zip" },
  });
  return { status: response.status, body: (await response.json()) as BundleReport & ApiError };
}

beforeAll(async () => {
  await Promise.all([from.start(), into.start()]);
  await from.importSwing();
  await from.ask("createPlan", {}, { title: "waves", source: MODULE });
  planId = (await from.ask("createPlan", {}, { title: "Swing", source: SOURCE })).body.id;
  await from.ask("createKit", {}, { name: "Near", description: "a near stop", kit: KIT });
  await from.ask("createVariant", { id: planId }, { name: "with it", inputs: {}, kit: KIT, market: null });
  await from.ask("createVersion", { id: planId }, { name: "first", source: SOURCE, inputs: {}, settings: SWING_SETTINGS });
  for (const [id, settings] of [
    ["run-a", SWING_SETTINGS],
    ["run-b", { ...SWING_SETTINGS, timeframe: "30m", kit: KIT, seed: 7 }],
  ] as const) {
    await from.ask("createRun", {}, { id, planId, source: SOURCE, inputs: {}, settings });
    await from.ask("keepRun", { id }, { name: `Kept ${id}`, note: "why", tags: ["mine"] });
    runIds.push(id);
  }
  request = { title: "Swings", note: "Two runs", plans: [], runs: runIds, hasBars: true };
  packed = await make(from, request);
}, 60_000);
afterAll(() => Promise.all([from.end(), into.end()]));

test("it is a zip file of open formats, each listed with its checksum", () => {
  const files = unzipSync(packed);
  const manifest = JSON.parse(strFromU8(files["bundle.json"]!)) as BundleManifest;
  expect(Object.keys(files).sort()).toEqual([...Object.keys(manifest.files), "bundle.json"].sort());
  for (const [path, { bytes, sha256 }] of Object.entries(manifest.files))
    expect([path, files[path]!.length, createHash("sha256").update(files[path]!).digest("hex")]).toEqual([path, bytes, sha256]);
  expect(Object.keys(files).sort()).toEqual(
    [
      ...["README.txt", "bars/1.csv", "bundle.json", "documents/run-a.json", "documents/run-b.json"],
      ...["instruments/1.json", "kits/1.json", `plans/${planId}.json`, "runs/run-a.json", "runs/run-b.json"],
    ].sort(),
  );
  expect(strFromU8(files["bars/1.csv"]!).split("\n").length).toBe(14 * 1440 + 2);
  const document = JSON.parse(strFromU8(files["documents/run-a.json"]!));
  expect(document.resultHash ?? document.hash).toBeTruthy();
});

test("opened in another workspace, everything is there and its runs come to the same, to the last bit", async () => {
  const { status, body } = await open(into, packed);
  expect(status).toBe(200);
  expect(body.runs.map(({ id, name, outcome }) => [id, name, outcome])).toEqual([
    ["run-a", "Kept run-a", "same"],
    ["run-b", "Kept run-b", "same"],
  ]);
  expect([body.title, body.note]).toEqual(["Swings", "Two runs"]);
  expect(body.instruments).toEqual([{ symbol: "SWING", outcome: "added" }]);
  expect(body.kits).toEqual([{ name: "Near", outcome: "added" }]);
  expect(body.plans).toHaveLength(1);
  const here = body.plans[0]!.id;
  for (const id of runIds) {
    const [one, other] = await Promise.all(
      [from, into].map((server) => server.ask("getRun", { id }).then((answer) => answer.body as RunEvidence)),
    );
    const bare = ({ createdMs: _c, elapsedMs: _e, planId: _p, ...run }: RunEvidence) => run;
    expect(bare(other!)).toEqual(bare(one!));
    expect(other!.planId).toBe(here);
    expect((await into.ask("verifyRun", { id })).body.same).toBe(true);
    const columns = await Promise.all([from, into].map((server) => server.bytes(`/runs/${id}/columns`)));
    expect(Buffer.compare(Buffer.from(columns[0]!), Buffer.from(columns[1]!))).toBe(0);
  }
  const { body: plan } = await into.ask("getPlan", { id: here });
  expect([plan.title, plan.source]).toEqual(["Swing", SOURCE]);
  expect((await into.ask("listVariants", { id: here })).body.map(({ name, kit }) => [name, kit])).toEqual([["with it", KIT]]);
  expect((await into.ask("listModules")).body.map(({ name }) => name)).toEqual(["waves"]);
  const versions = async (server: TestServer, id: string) =>
    (await server.ask("listVersions", { id })).body.map(({ name, createdMs, lines }) => [name, createdMs, lines]);
  expect(await versions(into, here)).toEqual(await versions(from, planId));
  // What was tried before counts here too.
  const trials = async (server: TestServer, id: string) =>
    (await server.ask("getJournal", { id })).body.map(({ kind, createdMs, variants, netProfit }) => [kind, createdMs, variants, netProfit]);
  expect(await trials(into, here)).toEqual(await trials(from, planId));
  expect((await trials(into, here)).length).toBe(2);
});

test("opened once more, what is there already is left alone, and runs get ids of their own", async () => {
  const { body } = await open(into, packed, "again");
  expect(body.instruments).toEqual([{ symbol: "SWING", outcome: "there already" }]);
  expect(body.kits).toEqual([{ name: "Near", outcome: "there already" }]);
  expect(body.runs.map(({ outcome }) => outcome)).toEqual(["same", "same"]);
  expect(body.runs.every(({ id }) => id !== null && !runIds.includes(id))).toBe(true);
});

test("stopped, it makes no further run again, says so, and keeps what was taken in", async () => {
  const before = (await into.ask("listPlans")).body.length;
  const opening = open(into, packed, "stopped");
  let status = 404;
  while (status === 404) ({ status } = await into.ask("stopBundle", { id: "stopped" }));
  expect(status).toBe(204);
  const { body } = await opening;
  expect(body.runs.at(-1)).toMatchObject({ id: null, outcome: "not made", text: expect.stringContaining("stopped before") });
  expect((await into.ask("listPlans")).body.length).toBeGreaterThan(before);
  expect((await into.ask("stopBundle", { id: "stopped" })).status).toBe(404);
});

test("of two files under one name at once one is taken, whole; the other is refused in words", async () => {
  const both = await Promise.all([open(into, packed, "twice"), open(into, packed, "twice")]);
  const [taken, refused] = both.sort((a, b) => a.status - b.status);
  expect([taken!.status, taken!.body.runs.map(({ outcome }) => outcome)]).toEqual([200, ["same", "same"]]);
  expect([refused!.status, refused!.body.error.message]).toEqual([409, expect.stringContaining("being sent under this name")]);
});

test("an instrument that leaves out a default is the same as one that names it", async () => {
  const stored = new Sqlite(join(into.folder, "plan-tester.sqlite"));
  const { changes } = stored
    .prepare(`UPDATE "instrument" SET "facts" = json_remove("facts", '$.decimals', '$.costs.financingShort')`)
    .run();
  stored.close();
  expect(changes).toBe(1);
  const { body } = await open(into, packed, "defaults");
  expect(body.instruments).toEqual([{ symbol: "SWING", outcome: "there already" }]);
});

test("without bars it opens where the bars are, and says what it can't make where they are not", async () => {
  const light = await make(from, { ...request, hasBars: false });
  expect(light.length).toBeLessThan(packed.length / 2);
  const { body } = await open(into, light, "light");
  expect(body.runs.map(({ outcome }) => outcome)).toEqual(["same", "same"]);
  const bare = new TestServer();
  await bare.start();
  const { body: there } = await open(bare, light, "bare");
  expect(there.instruments).toEqual([{ symbol: "SWING", outcome: "no bars" }]);
  expect(there.runs.map(({ id, outcome, text }) => [id, outcome, text])).toEqual(
    runIds.map(() => [null, "not made", expect.stringContaining("SWING")]),
  );
  await bare.end();
});

test("other bars under the same symbol are not replaced, and what differs is said", async () => {
  const other = new TestServer();
  await other.start();
  await other.importSwing("SWING", undefined, undefined);
  const files = unzipSync(packed);
  const run = JSON.parse(strFromU8(files["runs/run-a.json"]!));
  const { body } = await open(other, rezipped(files, { "runs/run-a.json": strToU8(JSON.stringify({ ...run, resultHash: "4-0000" })) }));
  expect(body.runs.map(({ outcome }) => outcome)).toEqual(["differs", "same"]);
  await other.importSwing("SWING", `time,open,high,low,close,volume\n2025-03-03T00:00:00Z,1,2,1,2,5\n2025-03-03T00:01:00Z,2,2,1,1,5\n`);
  const { body: again } = await open(other, packed, "again");
  expect(again.instruments).toEqual([{ symbol: "SWING", outcome: "other facts or bars are there" }]);
  expect(again.runs.every(({ outcome, text }) => outcome === "not made" && text.includes("bars here are not those"))).toBe(true);
  await other.end();
});

/** A bundle with some of its files changed, its manifest made to fit. */
function rezipped(files: Record<string, Uint8Array>, changed: Record<string, Uint8Array | null>, fits = true): Uint8Array<ArrayBuffer> {
  const all: Record<string, Uint8Array> = { ...files };
  const manifest = JSON.parse(strFromU8(all["bundle.json"]!)) as BundleManifest & { files: Record<string, unknown> };
  for (const [path, bytes] of Object.entries(changed)) {
    if (bytes) all[path] = bytes;
    else delete all[path];
    if (!fits || path === "bundle.json") continue;
    if (bytes) manifest.files[path] = { bytes: bytes.length, sha256: createHash("sha256").update(bytes).digest("hex") };
    else delete manifest.files[path];
  }
  if (!changed["bundle.json"]) all["bundle.json"] = strToU8(JSON.stringify(manifest));
  return new Uint8Array(zipSync(all));
}

describe("a bundle that can't be is refused in words, and nothing is written", () => {
  const text = (value: unknown): Uint8Array => strToU8(typeof value === "string" ? value : JSON.stringify(value));
  const json = (path: string): Record<string, unknown> => JSON.parse(strFromU8(unzipSync(packed)[path]!));
  const changed = (changes: Record<string, Uint8Array | null>, fits = true) => rezipped(unzipSync(packed), changes, fits);
  const cases: readonly (readonly [what: string, make: () => Uint8Array<ArrayBuffer>, words: RegExp])[] = [
    ["no zip file", () => new Uint8Array(strToU8("hello")), /can't be read as a zip file/],
    ["cut off", () => packed.slice(0, packed.length / 2), /can't be read as a zip file/],
    ["nothing at all", () => new Uint8Array(0), /can't be read as a zip file/],
    ["another zip file", () => new Uint8Array(zipSync({ "photo.jpg": text("x") })), /holds "photo.jpg"/],
    ["a path that leads out", () => changed({ "plans/../../x.json": text("{}") }), /holds "plans\/\.\.\/\.\.\/x\.json"/],
    ["an absolute path", () => changed({ "/etc/passwd": text("x") }), /holds "\/etc\/passwd"/],
    ["a manifest that is none", () => changed({ "bundle.json": text("[1") }), /bundle\.json is not JSON/],
    ["a manifest of another kind", () => changed({ "bundle.json": text({ kind: "x" }) }), /bundle\.json/],
    [
      "a later version",
      () => changed({ "bundle.json": text({ kind: "plan-tester bundle", version: 2 }) }),
      /version 2; this Plan Tester reads version 1/,
    ],
    ["no manifest", () => new Uint8Array(zipSync({ "README.txt": text("x") })), /has no bundle\.json/],
    ["a file that is not listed", () => changed({ "kits/2.json": text("{}") }, false), /which bundle\.json does not list/],
    ["a listed file that is missing", () => changed({ "kits/1.json": null }, false), /lacks "kits\/1\.json"/],
    ["a changed file", () => changed({ "kits/1.json": text("{}") }, false), /checksum differs/],
    ["a plan that is no plan", () => changed({ [`plans/${planId}.json`]: text({ id: planId }) }), /plans\/.*lacks "file"/],
    ["a plan that is no JSON", () => changed({ [`plans/${planId}.json`]: text("{") }), /is not JSON/],
    [
      "a trial of a version that is not there",
      () => {
        const plan = json(`plans/${planId}.json`) as { trials: object[] };
        return changed({ [`plans/${planId}.json`]: text({ ...plan, trials: [{ ...plan.trials[0], version: 99 }] }) });
      },
      /names version 99/,
    ],
    [
      "a run with a field too many",
      () => changed({ "runs/run-a.json": text({ ...json("runs/run-a.json"), evil: 1 }) }),
      /"evil" that is not known/,
    ],
    [
      "bars that are not those of their hash",
      () => changed({ "bars/1.csv": text("time,open,high,low,close,volume\n1,2,3,1,2,5\n") }),
      /has other bars than/,
    ],
    [
      "bars with a word",
      () => changed({ "bars/1.csv": text("time,open,high,low,close,volume\n1,2,x,1,2,5\n") }),
      /line 2: "x" is no number/,
    ],
    [
      "bars out of order",
      () => changed({ "bars/1.csv": text("time,open,high,low,close,volume\n2,2,3,1,2,5\n1,2,3,1,2,5\n") }),
      /line 3: its time is not later/,
    ],
    ["bars that are missing", () => changed({ "bars/1.csv": null }), /bars\/1\.csv is missing/],
    [
      "an instrument that can't be",
      () =>
        changed({
          "instruments/1.json": text({
            ...json("instruments/1.json"),
            instrument: { symbol: "SWING", tickSize: -1, pointValue: 1 },
          }),
        }),
      /instruments\/1\.json|tickSize/,
    ],
    ["a bomb", () => bomb(), /more than 4000 files or 1 GiB/],
  ];
  test.each(cases)("%s", async (_what, make, words) => {
    const before = await counts();
    const { status, body } = await open(into, make());
    expect(body.error?.message).toMatch(words);
    expect([400, 413]).toContain(status);
    expect(await counts()).toEqual(before);
  });

  test("a module of the same name with another text", async () => {
    const plan = json(`plans/${planId}.json`) as { file: { modules: string[] } };
    const other = { ...plan, file: { ...plan.file, modules: [`${MODULE}// otherwise\n`] } };
    const before = await counts();
    const { status, body } = await open(into, changed({ [`plans/${planId}.json`]: text(other) }));
    expect([status, body.error.message]).toEqual([409, expect.stringContaining('another module "waves"')]);
    expect(await counts()).toEqual(before);
  });

  test("two plans with other texts of one module", async () => {
    const path = `plans/${planId}.json`;
    const plan = json(path) as { file: { modules: string[] } };
    const withModules = (id: string, modules: readonly string[]) => text({ ...plan, id, file: { ...plan.file, modules } });
    const tides = '//! module "tides"\nexport const high = 1;\n';
    const before = await counts();
    const cases: readonly Record<string, Uint8Array>[] = [
      { "plans/one.json": withModules("one", [tides]), "plans/two.json": withModules("two", [`${tides}// otherwise\n`]) },
      { "plans/one.json": withModules("one", [tides, `${tides}// otherwise\n`]) },
    ];
    for (const changes of cases) {
      const { status, body } = await open(into, changed(changes));
      expect([status, body.error.message]).toEqual([409, expect.stringContaining('another module "tides"')]);
    }
    expect(await counts()).toEqual(before);
  });

  test("one that could not be opened again is not made", () => {
    const files = Array.from({ length: BUNDLE_LIMITS.files - 1 }, (_none, k) => ({ path: `kits/${k + 1}.json`, content: { text: "{}" } }));
    const task = { title: "many", note: "", madeMs: Date.now(), files };
    expect(() => packBundle(task)).toThrow(/too large to be opened: at most 4000 files/);
    expect(packBundle({ ...task, files: files.slice(1) }).length).toBeGreaterThan(0);
  });

  async function counts() {
    const { body: runs } = await into.ask("listRuns", {});
    const lists = await Promise.all([into.ask("listPlans"), into.ask("listKits"), into.ask("listMarkets")]);
    return [runs.total, ...lists.map(({ body }) => body.length)];
  }
});

/** Says that it unpacks to 3 GiB, in a few bytes. */
function bomb(): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(zipSync({ "runs/a.json": strToU8("{}") }));
  const view = new DataView(bytes.buffer);
  for (let at = 0; at + 4 < bytes.length; at++) if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 3 * 2 ** 30, true);
  return bytes;
}

test("what is not there can't be bundled", async () => {
  const { status, body } = await from.call<ApiError>("POST", "/bundles", { title: "x", plans: ["nobody"], runs: [] });
  expect([status, body.error.message]).toEqual([404, expect.stringContaining('no plan "nobody"')]);
});
