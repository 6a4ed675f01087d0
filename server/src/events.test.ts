/** What the server tells without being asked, as a page hears it. */
import type { ServerEvent } from "@plan-tester/contract";
import { afterAll, beforeAll, expect, test, vi } from "vitest";
import { SWING_SETTINGS, TestServer } from "./testing.ts";

const server = new TestServer();
beforeAll(async () => {
  await server.start();
  await server.importSwing();
});
afterAll(() => server.end());

/** A page that listens: what it has heard, and a way to leave. */
async function listening(): Promise<{ readonly heard: ServerEvent[]; readonly leave: () => void }> {
  const control = new AbortController();
  const response = await fetch(`${server.base}/events`, { signal: control.signal });
  expect(response.headers.get("content-type")).toContain("text/event-stream");
  const heard: ServerEvent[] = [];
  const read = async (): Promise<void> => {
    let rest = "";
    const decoder = new TextDecoder();
    for await (const bytes of response.body!) {
      rest += decoder.decode(bytes as Uint8Array, { stream: true });
      const messages = rest.split("\n\n");
      rest = messages.pop()!;
      for (const message of messages) if (message.startsWith("data: ")) heard.push(JSON.parse(message.slice(6)) as ServerEvent);
    }
  };
  // Leaving ends the reading by an error.
  read().catch(() => undefined);
  return { heard, leave: () => control.abort() };
}

const source = (body: string): string =>
  `export default plan({ title: "Told", build({ on, enter, position }) { let n = 0; on.barClose(() => { n++; ${body} if (n % 9 === 0 && position.flat) enter.long({ timeLimit: { bars: 4 } }); }); } });`;
const runOf = (id: string, body = "", more = {}) => ({
  id,
  planId: "told",
  source: source(body),
  inputs: {},
  settings: { ...SWING_SETTINGS, ...more },
});

test("every page hears a run's figures, those of its evidence, ahead of the answer", async () => {
  const pages = [await listening(), await listening()];
  const { body } = await server.ask("createRun", {}, runOf("figures"));
  expect(body.status).toBe("complete");
  for (const { heard, leave } of pages) {
    // The answer is there: what was sent before it has been read, or is about to be.
    await vi.waitFor(() => expect(heard.filter(({ type }) => type === "run-figures")).toHaveLength(1));
    expect(heard.find(({ type }) => type === "run-figures")).toEqual({
      ...{ type: "run-figures", id: "figures" },
      ...{ figures: body.figures, benchmarkFigures: body.benchmarkFigures },
    });
    leave();
  }
  expect(body.figures.trades).toBeGreaterThan(20);
});

test("a run that fails on its way tells what it came to until then; one that can't be read tells nothing", async () => {
  const { heard, leave } = await listening();
  const { body } = await server.ask("createRun", {}, runOf("failing", 'if (n === 300) throw new Error("enough");'));
  expect(body.status).toBe("failed");
  expect((await server.ask("createRun", {}, { ...runOf("broken"), source: "export default plan({ title: , })" })).status).toBe(422);
  await vi.waitFor(() => expect(heard.some(({ type }) => type === "run-figures")).toBe(true));
  expect(heard.flatMap((event) => (event.type === "run-figures" ? [[event.id, event.figures.trades]] : []))).toEqual([
    ["failing", body.figures.trades],
  ]);
  leave();
});

test("a long run tells how far it is, and its figures once, last", async () => {
  const { heard, leave } = await listening();
  // Slow enough to be told of: the minutes of the file, with work on each.
  const work = "let sum = 0; for (let k = 0; k < 3000; k++) sum += Math.sqrt(k + n); if (sum < 0) return;";
  const { body } = await server.ask("createRun", {}, runOf("long", work, { timeframe: "1m" }));
  await vi.waitFor(() => expect(heard.some(({ type }) => type === "run-figures")).toBe(true));
  const own = heard.filter((event) => "id" in event && event.id === "long");
  expect(own.filter(({ type }) => type === "run-progress").length).toBeGreaterThan(0);
  expect(own.map(({ type }) => type).lastIndexOf("run-progress")).toBeLessThan(own.findIndex(({ type }) => type === "run-figures"));
  const done = own.flatMap((event) => (event.type === "run-progress" ? [event.done] : []));
  expect(done).toEqual([...done].sort((a, b) => a - b));
  expect(done.at(-1)).toBeLessThanOrEqual(body.bars);
  leave();
});

test("a page that has left is spoken to no more, and costs the others nothing", async () => {
  const [first, second] = [await listening(), await listening()];
  first.leave();
  await server.ask("createRun", {}, runOf("after"));
  await vi.waitFor(() => expect(second.heard.some((event) => event.type === "run-figures" && event.id === "after")).toBe(true));
  expect(first.heard).toEqual([]);
  second.leave();
});
