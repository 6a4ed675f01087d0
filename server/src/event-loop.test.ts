/** The server's thread stays free, whatever goes on: nothing that grows with trades, orders, bars or text is done on it. */
import { spawn } from "node:child_process";
import { once } from "node:events";
import { readFileSync } from "node:fs";
import { afterAll, beforeAll, expect, test } from "vitest";
import { SWING_FORMAT, SWING_SETTINGS, TestServer } from "./testing.ts";

const MAX_DELAY_MS = 100;
const LOOK_EVERY_MS = 5;

/**
 * The longest that this thread has worked without letting a timer in, milliseconds. Time on the processor, where the system
 * tells it: that other processes of a busy machine got their turn is nobody's fault here.
 */
class BusyWatch {
  #last = BusyWatch.#nowMs();
  #longest = 0;
  readonly #timer = setInterval(() => this.#look(), LOOK_EVERY_MS);

  static #nowMs(): number {
    try {
      return Number(readFileSync("/proc/self/schedstat", "utf8").split(" ")[0]) / 1e6;
    } catch {
      return performance.now();
    }
  }

  #look(): void {
    const now = BusyWatch.#nowMs();
    this.#longest = Math.max(this.#longest, now - this.#last);
    this.#last = now;
  }

  /** The longest since it was asked last. */
  take(): number {
    this.#look();
    const longest = this.#longest;
    this.#longest = 0;
    return longest;
  }

  end(): void {
    clearInterval(this.#timer);
  }
}

const server = new TestServer();
beforeAll(async () => {
  await server.start("", false);
  await server.importSwing();
});
afterAll(() => server.end());

/** Five lots on every minute, closed on the next: about 100,000 trades. */
const FLOOD = `export default plan({
  title: "Flood",
  inputs: { lots: whole(5) },
  build({ on, enter, position, inputs }) {
    on.barClose(() => {
      position.close();
      for (let k = 0; k < inputs.lots; k++) enter.long({ tag: "k" + k });
    });
  },
});`;

/** What a client does, in a process of its own, so that reading the answers costs the server nothing. */
const CLIENT = `
const [base, given] = [process.argv[1], JSON.parse(process.argv[2])];
const post = async (method, path, body, type = "application/json") => {
  const response = await fetch(base + path, { method, body, headers: { "Content-Type": type } });
  const bytes = Buffer.from(await response.arrayBuffer());
  if (!response.ok) throw new Error(method + " " + path + " " + response.status + " " + bytes.subarray(0, 300));
  return bytes;
};
const json = (method, path, body) => post(method, path, JSON.stringify(body));
const rows = ["time,open,high,low,close,volume"];
for (let i = 0; i < 150000; i++) {
  const p = (400 + 20 * Math.sin(i / 97)).toFixed(2);
  rows.push(new Date(Date.UTC(2024, 0, 1) + i * 60000).toISOString() + "," + p + "," + (+p + 1) + "," + (+p - 1) + "," + p + ",5");
}
const spec = encodeURIComponent(JSON.stringify(given.imported));
const step = async (name, work) => { const bytes = await work(); process.stdout.write(name + "\\n"); return bytes; };
const importing = step("import", () => post("POST", "/imports/big?spec=" + spec, rows.join("\\n"), "text/csv"));
await step("sweep", () => json("POST", "/sweeps", given.sweep));
const run = await step("run", () => json("POST", "/runs", given.run));
process.stdout.write(JSON.parse(run).trades.length + " trades\\n");
await step("keep", () => json("PUT", "/runs/flood/keep", { name: "Flood", note: "", tags: [] }));
await step("evidence", () => post("GET", "/runs/flood"));
await step("orders", () => post("GET", "/runs/flood/orders"));
await step("columns", () => post("GET", "/runs/flood/columns"));
const plan = JSON.parse(await json("POST", "/plans", {}));
for (let k = 0; k < 20; k++) await step("save", () => json("PATCH", "/plans/" + plan.id, { source: given.run.source + "// ".padEnd(200000, "x") + k }));
await step("verify", () => json("POST", "/runs/flood/verify", {}));
await importing;
await step("big bars", () => post("GET", "/markets/BIG/bars?timeframe=15m&from=2024-01-01&to=2024-12-31"));
await step("big run", () => json("POST", "/runs", { ...given.run, id: "big", settings: { ...given.run.settings, symbol: "BIG", from: "2024-01-01", to: "2024-12-31", timeframe: "15m", path: "finer" } }));
await step("delete run", () => post("DELETE", "/runs/flood"));
`;

test("the longest delay stays short with 100,000 trades, an import, a sweep, saves and evidence pages", {
  timeout: 180_000,
  retry: 2,
}, async () => {
  const minutes = { ...SWING_SETTINGS, timeframe: "1m", to: "2025-03-16" };
  const request = {
    run: { id: "flood", planId: "flood", source: FLOOD, inputs: {}, settings: minutes },
    sweep: {
      ...{ planId: "flood", source: FLOOD, inputs: {}, settings: { ...minutes, timeframe: "15m" } },
      ...{ ranges: [{ input: "lots", from: 1, to: 200, step: 1 }], outOfSample: null, aim: "netProfit", constraints: [], search: null },
    },
    imported: { instrument: { symbol: "BIG", tickSize: 0.01, pointValue: 1 }, format: SWING_FORMAT, timeframe: "1m" },
  };
  const watch = new BusyWatch();
  const client = spawn(process.execPath, ["--input-type=module", "-e", CLIENT, server.base, JSON.stringify(request)], {
    stdio: ["ignore", "pipe", "pipe"],
  });
  let [said, complaints] = ["", ""];
  /** The longest delay before the end of each step, milliseconds. */
  const delays: [string, number][] = [];
  client.stdout!.on("data", (part: Buffer) => {
    said += part;
    delays.push([String(part).trim(), Math.round(watch.take())]);
  });
  client.stderr!.on("data", (part: Buffer) => {
    complaints += part;
  });
  await once(client, "exit");
  watch.end();
  expect(complaints).toBe("");
  expect(Number(/(\d+) trades/.exec(said)![1])).toBeGreaterThan(100_000);
  expect(delays.length).toBeGreaterThan(10);
  expect(delays.filter(([, ms]) => ms >= MAX_DELAY_MS)).toEqual([]);
});
