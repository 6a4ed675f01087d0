/** The whole server on a folder of its own, with a small market, for tests of the API. */
import { mkdtempSync, rmSync } from "node:fs";
import type { Server } from "node:http";
import { type AddressInfo, createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import {
  addressOf,
  type CallOf,
  type ImportReport,
  PLAIN_SETTINGS,
  type ReplyOf,
  ROUTES,
  type RouteName,
  type RunSettings,
} from "@plan-tester/contract";
import { checkReply } from "@plan-tester/contract/check-reply";
import pino from "pino";
import { type Application, makeApplication } from "./app.ts";

/** Two weeks of minutes around the clock, or more, swinging so far, with one line that is no bar. */
export function swingCsv(reach = 20, days = 14): string {
  const rows = ["time,open,high,low,close,volume"];
  for (let i = 0; i < days * 1440; i++) {
    const at = (k: number): number => Math.round((400 + reach * Math.sin(k / 97) + 5 * Math.sin(k / 11)) * 4) / 4;
    const [open, close] = [at(i), at(i + 1)];
    rows.push(
      `${new Date(Date.UTC(2025, 2, 3) + i * 60_000).toISOString()},${open},${Math.max(open, close) + 0.25},${Math.min(open, close) - 0.25},${close},${10 + (i % 7)}`,
    );
  }
  rows.splice(500, 0, "2025-03-03T08:18:30Z,1,2,3,4,5");
  return rows.join("\n");
}

export const SWING_FORMAT = {
  delimiter: ",",
  headerLines: 1,
  time: 0,
  open: 1,
  high: 2,
  low: 3,
  close: 4,
  volume: 5,
  dateFormat: "iso",
  zone: "UTC",
  stamp: "open",
};

export const SWING_SETTINGS: RunSettings = {
  ...PLAIN_SETTINGS,
  symbol: "SWING",
  timeframe: "15m",
  from: "2025-03-03",
  to: "2025-03-12",
  costs: "none",
};

/** Below those that the system gives to connections. */
const LOWEST_PORT = 20_000;
const PORTS = 12_000;

/** A port that nobody listens on, nor on the next: a venue has its mailbox there. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = LOWEST_PORT + Math.floor(Math.random() * PORTS);
    if ((await isFree(port)) && (await isFree(port + 1))) return port;
  }
}

function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, "127.0.0.1", () => probe.close(() => resolve(true)));
  });
}

export class TestServer {
  readonly folder = mkdtempSync(join(tmpdir(), "plan-tester-"));
  application!: Application;
  base = "";
  #server!: Server;

  /**
   * @param queue address of a queue whose workers run its sweeps.
   * @param isChecking whether answers are held against their types, which takes as long as reading them.
   */
  async start(queue = "", isChecking = true): Promise<void> {
    this.application = await makeApplication(
      { port: 0, venuePort: 1, dataFolder: this.folder, webFolder: join(this.folder, "none"), queue, hasDemo: false },
      pino({ level: process.env.LOG_LEVEL ?? "silent" }),
      isChecking ? checkReply : null,
    );
    this.#server = this.application.app.listen(0, "127.0.0.1");
    await new Promise((resolve) => this.#server.once("listening", resolve));
    this.base = `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}/api`;
  }

  async stop(): Promise<void> {
    this.#server.closeAllConnections();
    this.#server.close();
    await this.application.close();
  }

  /** Stops it and takes its folder away. */
  async end(): Promise<void> {
    await this.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }

  async call<T>(method: string, path: string, body?: unknown): Promise<{ status: number; body: T }> {
    const response = await fetch(this.base + path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { "Content-Type": "application/json" } }),
    });
    const text = await response.text();
    return { status: response.status, body: (text ? JSON.parse(text) : null) as T };
  }

  /** Calls a route by its name. The body is what its type says when the status is that of success. */
  ask<Name extends RouteName>(name: Name, ...given: CallOf<Name>): Promise<{ status: number; body: ReplyOf<Name> }> {
    const [fields = {}, body] = given as readonly [fields?: Record<string, never>, body?: unknown];
    return this.call<ReplyOf<Name>>(ROUTES[name].method, addressOf(ROUTES[name], fields), body);
  }

  async bytes(path: string): Promise<ArrayBuffer> {
    return (await fetch(this.base + path)).arrayBuffer();
  }

  /** @param more of the request: the timeframe, or whether bars are added */
  async importSwing(symbol = "SWING", file: string | Uint8Array = swingCsv(), format: object = SWING_FORMAT, more: object = {}) {
    const spec = { instrument: { symbol, tickSize: 0.25, pointValue: 10 }, format, timeframe: "1m", ...more };
    const response = await fetch(`${this.base}/imports/test?spec=${encodeURIComponent(JSON.stringify(spec))}`, {
      method: "POST",
      body: typeof file === "string" ? file : new Blob([new Uint8Array(file)]),
      headers: { "Content-Type": "text/csv" },
    });
    return { status: response.status, body: (await response.json()) as ImportReport & { error?: { message: string } } };
  }
}
