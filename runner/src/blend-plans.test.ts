/** Several plans on one account, in a real plan process: who fails is told with the line, a stop keeps what is done. */
import { type BlendRunMeta, unpackColumns } from "@plan-tester/contract";
import { resolveSettings } from "@plan-tester/core";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type BlendRequest, blendPlans } from "./blend-plans.ts";
import { PlanProcess } from "./parent/plan-process.ts";
import { eachBar, INSTRUMENT, walk } from "./testing.ts";

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

const SOUND = eachBar("if (n % 50 === 0 && position.flat) enter.long({ stopLoss: ticks(20), target: ticks(30) });");
const member = (source: string, seed = 3, bars = 2000): BlendRequest["members"][0] => ({
  ...{ runId: `r${seed}`, name: `Plan ${seed}`, source, inputs: {}, settings: resolveSettings({}), rate: 1 },
  feeds: [{ instrument: INSTRUMENT, data: { key: `walk${bars} ${seed}`, series: walk(bars, seed), finer: null } }],
});

async function blended(members: BlendRequest["members"], signal?: AbortSignal) {
  const pieces = await blendPlans(worker, { cash: 1e6, limits: null, members }, signal ? { signal } : {});
  const bytes = Buffer.concat(pieces);
  return unpackColumns<BlendRunMeta>(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer);
}

test("each comes back with its trades, its equity and the times of its bars", async () => {
  const { meta, columns } = await blended([member(SOUND), member(SOUND, 4, 1000)]);
  expect(meta.members.map(({ runId, status }) => [runId, status])).toEqual([
    ["r3", "complete"],
    ["r4", "complete"],
  ]);
  for (const [m, length] of [2000, 1000].entries()) {
    expect([columns[`equity${m}`]!.length, columns[`time${m}`]!.length]).toEqual([length, length]);
    expect(meta.members[m]!.trades.length).toBeGreaterThan(5);
  }
});

test("a plan that fails is told with its line; the others keep what they had done", async () => {
  const { meta } = await blended([member(SOUND), member(eachBar("if (n === 900)\nbars.nothing.more;"), 5)]);
  const [sound, failed] = meta.members;
  expect(failed).toMatchObject({ status: "failed", failure: { line: 6, message: expect.stringContaining("reading 'more'") } });
  expect(sound!.status).toBe("partial");
  expect(sound!.trades.length).toBeGreaterThan(3);
});

test("a plan that can't be read names whose it is", async () => {
  await expect(blended([member(SOUND), member("export default plan({ title: 1 });", 6)])).rejects.toThrow(/Plan 6|title/);
});

test("a stop before the end gives what was done", async () => {
  const control = new AbortController();
  control.abort();
  const { meta } = await blended([member(SOUND, 7, 200_000), member(SOUND, 8, 200_000)], control.signal);
  expect(meta.members.map(({ status }) => status)).toEqual(["partial", "partial"]);
});

test("more sets of bars than a process keeps are refused in words, ahead of any work", async () => {
  const members = Array.from({ length: 15 }, (_none, k) => member(SOUND, k + 20, 50));
  await expect(blended(members)).rejects.toThrow("A joint run reads 14 sets of bars at most, and these members need 15.");
});
