/**
 * Watches at work while real processes are killed with -9 at random moments: the server, the venue, a plan's process. After it
 * the venue's account and what the watches hold agree, no trade is missing or written down twice, and nothing is open without
 * its stop (R8.4). What many more sequences do is told by faults.property.test.ts, in one process.
 */
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { isDeepStrictEqual } from "node:util";
import { PLAIN_SETTINGS, type WatchDetail, type WatchEventsPage, type WatchSummary } from "@plan-tester/contract";
import { DAY_MS, makeSeries, Random, sliceByTime, type Trade } from "@plan-tester/core";
import { generateHistory, HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { bundleOf } from "@plan-tester/demo/root";
import type { OwnerHolding } from "@plan-tester/venue";
import pino from "pino";
import { afterAll, expect, test } from "vitest";
import { makeApplication } from "./app.ts";
import { InstrumentEntity } from "./db/entities.ts";
import { freePort } from "./testing.ts";

const KILLS = Number(process.env.KILLS ?? 6);
const SEED = Number(process.env.KILL_SEED ?? Date.now() % 1e9);
const folder = mkdtempSync(join(tmpdir(), "plan-tester-killed-"));
let server: ChildProcess | null = null;
afterAll(() => {
  server?.kill("SIGKILL");
  rmSync(folder, { recursive: true, force: true });
});

const SETTINGS = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "1m", from: "2026-02-02", to: "2026-02-27", costs: "none" as const };
const SOURCE = `export default plan({ title: "Buoy", inputs: { span: whole(3) }, build({ on, inputs, enter, position }) {
  on.barClose(() => {
    if (position.flat) enter.long({ size: units(2), stopLoss: ticks(400), target: ticks(60) });
    else if (position.barsHeld >= inputs.span) position.close();
  });
} });`;

async function prepare(): Promise<void> {
  const application = await makeApplication(
    { port: 0, venuePort: 1, dataFolder: folder, webFolder: "none", queue: "", hasDemo: false },
    pino({ level: "silent" }),
  );
  const instrument = instrumentNamed("KELP")!;
  const all = makeSeries(generateHistory("KELP", HISTORY_TO).columns, "1m", instrument.calendar);
  const minutes = sliceByTime(all, HISTORY_TO - 26 * DAY_MS, null);
  const names = ["time", "open", "high", "low", "close", "volume"] as const;
  const columns = Object.fromEntries(names.map((name) => [name, minutes[name].slice()])) as unknown as typeof minutes;
  await application.database.write((manager) =>
    manager.insert(InstrumentEntity, { symbol: "KELP", facts: instrument, origin: "demo", createdMs: 1 }),
  );
  await application.bars.replace("KELP", "1m", columns);
  await application.close();
}

const wait = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** What was found when it was last looked. */
let last = "";

async function until(what: string, holds: () => Promise<boolean>): Promise<void> {
  const deadline = Date.now() + 150_000;
  while (!(await holds().catch(() => false))) {
    if (Date.now() > deadline) throw new Error(`Waited in vain for: ${what} (seed ${SEED}); last ${last}`);
    await wait(50);
  }
}

/** Processes below another one, by what they run. */
function below(pid: number, what: string): number[] {
  const kin = readdirSync("/proc").flatMap((name) => {
    try {
      const parent = Number(readFileSync(`/proc/${name}/stat`, "utf8").split(") ")[1]!.split(" ")[1]);
      return [{ id: Number(name), parent, args: readFileSync(`/proc/${name}/cmdline`, "utf8") }];
    } catch {
      // No process, or one that has ended meanwhile.
      return [];
    }
  });
  const isBelow = (id: number): boolean => id === pid || kin.some((one) => one.id === id && one.parent > 1 && isBelow(one.parent));
  return kin.flatMap(({ id, args }) => (args.includes(what) && isBelow(id) ? id : []));
}

test("whatever is killed, and when, the venue and the watches agree, and nothing is done twice or forgotten", async () => {
  await prepare();
  const [port, venuePort] = [await freePort(), await freePort()];
  const random = new Random(SEED);
  const ask = async <T>(method: string, path: string, body?: object): Promise<T> => {
    const response = await fetch(`http://127.0.0.1:${port}/api${path}`, {
      method,
      headers: { "Content-Type": "application/json" },
      ...(body && { body: JSON.stringify(body) }),
    });
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
    return (text ? JSON.parse(text) : null) as T;
  };
  const start = async (): Promise<void> => {
    server = spawn(process.execPath, [bundleOf("server.js", import.meta.url)!], {
      env: {
        ...process.env,
        ...{ PLAN_TESTER_PORT: String(port), PLAN_TESTER_VENUE_PORT: String(venuePort), PLAN_TESTER_DATA: folder },
        ...{ PLAN_TESTER_DEMO: "off", LOG_LEVEL: "warn" },
      },
      stdio: "ignore",
    });
    await until("the server and the venue", async () => (await ask<{ venue: string }>("GET", "/health")).venue === "connected");
  };
  await start();
  await ask("PUT", "/venue/clock", { speed: 600 });
  const ids: string[] = [];
  for (const span of [2, 3, 5]) {
    const { id } = await ask<WatchSummary>("POST", "/watches", { planId: "p", source: SOURCE, inputs: { span }, settings: SETTINGS });
    ids.push(id);
  }
  const stateOf = async (id: string): Promise<string> => (await ask<WatchDetail>("GET", `/watches/${id}`)).state;
  /** A plan whose process has died ends its watch, which starts again where its user wants. */
  const isAtWork = async (): Promise<boolean> => {
    const states = await Promise.all(ids.map(stateOf));
    for (const [k, state] of states.entries()) if (state === "ended") await ask("POST", `/watches/${ids[k]}/restart`, { open: "adopt" });
    last = states.join(", ");
    return states.every((state) => state === "armed" || state === "in position");
  };

  const killed = { server: 0, venue: 0, plan: 0 };
  for (let kill = 0; kill < KILLS; kill++) {
    await until("every watch at work", isAtWork);
    await wait(300 + random.next() * 1500);
    const what = (["server", "venue", "plan"] as const)[Math.floor(random.next() * 3)]!;
    killed[what]++;
    const pid = server!.pid!;
    if (what === "server") {
      server!.kill("SIGKILL");
      await once(server!, "close");
      await start();
    } else {
      const found = below(pid, what === "venue" ? "venue.js" : "plan-process.js");
      expect(found.length).toBeGreaterThan(0);
      process.kill(found[Math.floor(random.next() * found.length)]!, "SIGKILL");
      await wait(200);
      await until("the venue", async () => (await ask<{ connected: boolean }>("GET", "/venue")).connected);
    }
  }
  await until("every watch at work", isAtWork);
  await ask("PUT", "/venue/clock", { speed: 1 });

  const holdings = async (): Promise<OwnerHolding[]> =>
    (await fetch(`http://127.0.0.1:${venuePort}/holdings`)).json() as Promise<OwnerHolding[]>;
  const told = async (id: string): Promise<string> => {
    const { events } = await ask<WatchEventsPage>("GET", `/watches/${id}/events?limit=60`);
    return events.map((event) => `${new Date(event.timeMs).toISOString()} ${event.by}: ${event.text}`).join("\n");
  };
  let trades = 0;
  for (const id of ids) {
    const agree = async (): Promise<{ lots: unknown; held: unknown; net: number; cash: number; ids: number[]; bare: number }> => {
      const lots = (await holdings()).find(({ owner }) => owner === id)!.report;
      const { positions } = await ask<WatchDetail>("GET", `/watches/${id}`);
      const closed = await ask<Trade[]>("GET", `/watches/${id}/trades`);
      return {
        lots: lots.books.flatMap((book) => book.lots.map(({ quantity, entryPrice }) => [quantity, entryPrice])),
        held: positions.map(({ units, entryPrice }) => [units, entryPrice]),
        net: closed.reduce((sum, { net }) => sum + net, 0),
        cash: lots.cash - SETTINGS.cash,
        ids: closed.map((one) => one.id),
        bare: lots.books.flatMap((book) => book.lots).filter(({ stop }) => stop === null).length,
      };
    };
    // The market goes on, so that what is read one after another may lie on either side of a fill: agreement is waited for.
    const words = `what ${id} holds and the venue's account to agree`;
    await until(words, async () => {
      const now = await agree();
      last = JSON.stringify(now);
      return Math.abs(now.net - now.cash) < 1e-6 && isDeepStrictEqual(now.held, now.lots) && now.bare === 0;
    }).catch(async (error: unknown) => {
      throw new Error(`${String(error)}\n${await told(id)}`);
    });
    const { ids: numbers } = await agree();
    expect(new Set(numbers).size, await told(id)).toBe(numbers.length);
    trades += numbers.length;
  }
  expect(trades).toBeGreaterThan(ids.length);
  console.info(`killed ${killed.server} servers, ${killed.venue} venues, ${killed.plan} plans; ${trades} trades; seed ${SEED}`);
}, 600_000);
