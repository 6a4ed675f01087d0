/** Looking before one codes: study columns beside bars, layouts, marks. */
import { type StudyMeta, unpackColumns } from "@plan-tester/contract";
import type { Mark } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterAll(() => server.end());

async function study(text: string, timeframe = "15m", from = "2025-03-03") {
  const query = new URLSearchParams({ timeframe, from, to: "2025-03-12", study: text });
  const response = await fetch(`${server.base}/markets/SWING/study?${query}`);
  if (!response.ok) return { status: response.status, error: ((await response.json()) as { error: { message: string } }).error.message };
  const { meta, columns } = unpackColumns<StudyMeta>(await response.arrayBuffer());
  return { status: 200, meta, values: columns.values! };
}

test("a study's column stands beside the bars of any period, warmed up on those ahead of it", async () => {
  const all = await study("ema(close, 20) on 1h");
  const later = await study("ema(close, 20) on 1h", "15m", "2025-03-07");
  expect(all.meta).toEqual({ study: "ema(close, 20) on 1h", kind: "number" });
  expect(later.values!.length).toBe(6 * 96);
  expect([...later.values!]).toEqual([...all.values!.slice(-6 * 96)]);
  expect((await study("close > open")).meta!.kind).toBe("condition");
});

test.each([
  ["ema(close", 422, /Can't read "ema\(close"/],
  ["close on 1m", 422, /1m is shorter than the bars of 15m/],
  ["constructor(close)", 422, /constructor/],
])("%s is refused in words", async (text, status, message) => {
  const answer = await study(text);
  expect([answer.status, answer.error]).toEqual([status, expect.stringMatching(message)]);
});

const MARK: Omit<Mark, "id"> = {
  ...{ side: 1, entryMs: 1_741_000_000_000, entryPrice: 400.25, exitMs: 1_741_000_900_000, exitPrice: 402 },
  ...{ stop: 399, target: null, note: "after the turn", planId: "" },
};

test("marks are kept with the instrument, changed, deleted, and put back", async () => {
  const list = async () => (await server.ask("listMarks", { symbol: "SWING" })).body;
  expect((await server.ask("putMark", { symbol: "SWING", id: "later" }, { ...MARK, entryMs: MARK.entryMs + 60_000 })).status).toBe(204);
  await server.ask("putMark", { symbol: "SWING", id: "first" }, MARK);
  await server.ask("putMark", { symbol: "SWING", id: "first" }, { ...MARK, target: 405 });
  expect((await list()).map(({ id, target }) => [id, target])).toEqual([
    ["first", 405],
    ["later", null],
  ]);
  expect((await server.ask("deleteMark", { symbol: "SWING", id: "first" })).status).toBe(204);
  expect((await server.ask("deleteMark", { symbol: "SWING", id: "first" })).status).toBe(404);
  expect((await list()).length).toBe(1);
  await server.stop();
  await server.start();
  expect((await list()).length).toBe(1);
});

test("a mark that can't be is refused, and nothing has changed", async () => {
  const before = (await server.ask("listMarks", { symbol: "SWING" })).body;
  const tried = async (part: object, symbol = "SWING") =>
    (await server.ask("putMark", { symbol, id: "bad" }, { ...MARK, ...part } as never)).status;
  expect(await tried({ exitMs: MARK.entryMs - 1 })).toBe(400);
  expect(await tried({ entryPrice: -1 })).toBe(400);
  expect(await tried({ side: 0 })).toBe(400);
  expect(await tried({}, "NOWHERE")).toBe(404);
  expect((await server.ask("listMarks", { symbol: "SWING" })).body).toEqual(before);
});

test("layouts have names of their own", async () => {
  await server.ask("putLayout", { id: "a" }, { name: "Trend", studies: ["ema(close, 20)"] });
  expect((await server.ask("putLayout", { id: "b" }, { name: "trend", studies: [] })).status).toBe(409);
  await server.ask("putLayout", { id: "a" }, { name: "Trend", studies: ["ema(close, 50)", "rsi(close, 14)"] });
  expect((await server.ask("listLayouts")).body).toMatchObject([{ id: "a", name: "Trend", studies: ["ema(close, 50)", "rsi(close, 14)"] }]);
  expect((await server.ask("deleteLayout", { id: "a" })).status).toBe(204);
  expect((await server.ask("listLayouts")).body).toEqual([]);
});
