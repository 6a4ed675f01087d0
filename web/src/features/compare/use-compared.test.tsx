import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { queries } from "../../data/queries.ts";
import { work } from "../../testing.tsx";
import { MOST_COMPARED, useCompared } from "./use-compared.ts";

let noted: string[][];
beforeEach(() => {
  noted = [];
  vi.stubGlobal("fetch", async (url: string, { body }: RequestInit = {}) => {
    if (!url.endsWith("/runs/compared")) throw new Error(`${url} was asked for.`);
    noted.push((JSON.parse(String(body)) as { ids: string[] }).ids);
    return new Response(null, { status: 204 });
  });
});
afterEach(() => vi.unstubAllGlobals());

const known = (...ids: string[]) => ids.map((id) => [queries.run(id).queryKey, { id }] as const);
const compared = (ids: readonly string[], batch: string, answers: Parameters<typeof work>[2]) =>
  work(({ ids: wanted, batch: of }) => useCompared(wanted, of), { ids, batch }, answers);

test("runs stand in the order in which they were named, and it is noted once that they were set side by side", async () => {
  const { now, give } = await compared(["b", "a"], "", known("a", "b"));
  expect(now()).toMatchObject({ ids: ["b", "a"], runs: [{ id: "b" }, { id: "a" }], errors: [], waiting: 0 });
  await give({ ids: ["b", "a"], batch: "" });
  expect(noted).toEqual([["b", "a"]]);
});

test("a single run is not compared with anything", async () => {
  await compared(["a"], "", known("a"));
  expect(noted).toEqual([]);
});

test("no more are shown, or noted, than can be told apart", async () => {
  const ids = Array.from({ length: MOST_COMPARED + 3 }, (_, k) => `run ${k}`);
  const { now } = await compared(ids, "", known(...ids));
  expect(now().ids).toEqual(ids.slice(0, MOST_COMPARED));
  expect(noted).toEqual([ids.slice(0, MOST_COMPARED)]);
});

test("of a batch those that are done stand in the order in which they were asked for; others are waited for", async () => {
  const job = (id: string, state: string, batch = "w") => ({ id, state, batch });
  const queue = [
    job("c", "kept"),
    job("other", "waiting", "v"),
    job("a", "kept"),
    job("d", "running"),
    job("b", "failed"),
    job("e", "waiting"),
  ];
  const { now } = await compared([], "w", [
    ...known("a", "c"),
    [queries.queue().queryKey, queue],
    [queries.batch("w", 3).queryKey, { total: 2, runs: [{ id: "a" }, { id: "c" }] }],
  ]);
  expect(now()).toMatchObject({ ids: ["c", "a"], waiting: 2 });
});

test("a note that can't be written takes nothing from the screen", async () => {
  vi.stubGlobal("fetch", async () => Promise.reject(new TypeError("away")));
  const { now } = await compared(["a", "b"], "", known("a", "b"));
  expect(now()).toMatchObject({ runs: [{ id: "a" }, { id: "b" }], errors: [] });
});
