/** The venue's border: who may speak to it, what it refuses, and what its feed says, over a real socket. */
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmdirSync, rmSync, writeFileSync } from "node:fs";
import { request } from "node:http";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unpackColumns } from "@plan-tester/contract";
import { PLAIN_ORDER } from "@plan-tester/core";
import { instrumentNamed } from "@plan-tester/demo";
import { afterAll, beforeAll, describe, expect, test, vi } from "vitest";
import { WebSocket } from "ws";
import type { VenueMessage } from "./protocol.ts";
import { Venue } from "./venue.ts";

const folder = mkdtempSync(join(tmpdir(), "plan-tester-venue-"));
let port = 0;
let venue: Venue;

beforeAll(async () => {
  port = await new Promise<number>((resolve) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port: found } = probe.address() as { port: number };
      probe.close(() => resolve(found));
    });
  });
  venue = new Venue({ port, stateFile: join(folder, "venue.state") });
});
afterAll(() => {
  venue.close();
  rmSync(folder, { recursive: true, force: true });
});

interface Answer {
  readonly status: number;
  readonly body: Buffer;
}

function ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const sent = request(
      { host: "127.0.0.1", port, method, path, headers: { "Content-Type": "application/json", ...headers } },
      (response) => {
        const parts: Buffer[] = [];
        response.on("data", (part: Buffer) => parts.push(part));
        response.on("end", () => resolve({ status: response.statusCode!, body: Buffer.concat(parts) }));
      },
    );
    sent.on("error", reject);
    sent.end(body === undefined ? undefined : typeof body === "string" ? body : JSON.stringify(body));
  });
}
const said = ({ body }: Answer) => JSON.parse(body.toString()) as { error: { code: string; message: string } };

const TICKET = {
  ...PLAIN_ORDER,
  ...{ side: 1, kind: "market", quantity: 1, intent: "enter", price: null, limitPrice: null },
  ...{ submittedBar: 0, submittedTime: 0, expiresBar: null, expiresTime: null },
};
const opened = (id: string) => ask("POST", "/accounts", { id, instrument: instrumentNamed("KELP"), settings: { cash: 50_000 } });

describe("who may speak to it", () => {
  test.each<[string, Record<string, string>, number]>([
    ["a program on this machine", {}, 200],
    ["by its other names", { Host: "localhost:4178" }, 200],
    ["in capitals", { Host: "LOCALHOST" }, 200],
    ["a page whose name was made to resolve here", { Host: "shells.example:4178" }, 403],
    ["a name that only begins like this machine's", { Host: "127.0.0.1.example" }, 403],
    ["a web page, even of this machine", { Origin: "http://localhost:4177" }, 403],
    ["a page that hides where it is from", { Origin: "null" }, 403],
  ])("%s", async (_name, headers, status) => {
    expect((await ask("GET", "/status", undefined, headers)).status).toBe(status);
  });

  test.each([{ Origin: "http://localhost:4177" }, { Host: "shells.example" }])("nor does its feed open to %o", async (headers) => {
    const socket = new WebSocket(`ws://127.0.0.1:${port}/feed`, { headers });
    const end = await new Promise<string>((resolve) => {
      socket.on("open", () => resolve("open"));
      socket.on("error", (error) => resolve(error.message));
    });
    expect(end).toMatch(/401|403/);
  });
});

describe("what it refuses, in words", () => {
  test.each<[string, string, string, unknown, number, RegExp]>([
    ["an account that is not there", "GET", "/accounts/gone", undefined, 404, /no account "gone"/],
    ["an instrument that it does not trade", "GET", "/bars?symbol=GONE", undefined, 404, /does not trade GONE/],
    ["a speed of nothing", "POST", "/speed", { speed: 0 }, 400, /speed/],
    ["a speed beyond the most", "POST", "/speed", { speed: 100_000 }, 400, /speed/],
    ["an account without a name", "POST", "/accounts", { id: "", instrument: {}, settings: {} }, 400, /id/],
    ["settings that can't be", "POST", "/accounts", { id: "b", instrument: instrumentNamed("KELP"), settings: { cash: -1 } }, 400, /cash/],
    ["what is no JSON", "POST", "/speed", "{ speed", 400, /JSON/],
  ])("%s", async (_name, method, path, body, status, words) => {
    const answer = await ask(method, path, body);
    expect(answer.status).toBe(status);
    expect(said(answer).error.message).toMatch(words);
  });

  test.each<[string, object, RegExp]>([
    ["a side that is none", { side: 2 }, /side/],
    ["a field that it does not know", { hidden: 1 }, /hidden/],
    ["a tag that is too long", { tag: "x".repeat(61) }, /tag/],
    ["a line before the first", { line: -1 }, /line/],
  ])("an order with %s", async (_name, wrong, words) => {
    await opened("orders");
    const answer = await ask("POST", "/accounts/orders/orders", { clientId: 1, ticket: { ...TICKET, ...wrong } });
    expect(answer.status).toBe(400);
    expect(said(answer).error.message).toMatch(words);
  });
});

describe("what it does", () => {
  test("an account is opened once, whoever asks again finds it as it is", async () => {
    await opened("once");
    await ask("POST", "/accounts/once/orders", { clientId: 5, ticket: { ...TICKET, kind: "limit", price: 1 } });
    const again = JSON.parse((await opened("once")).body.toString()) as { orders: { id: number }[] };
    expect(again.orders.map(({ id }) => id)).toEqual([5]);
    expect(JSON.parse((await ask("POST", "/accounts/once/orders/5/cancel")).body.toString())).toEqual({ done: true });
    expect(JSON.parse((await ask("POST", "/accounts/once/orders/5/cancel")).body.toString())).toEqual({ done: false });
    await ask("DELETE", "/accounts/once");
    expect((await ask("GET", "/accounts/once")).status).toBe(404);
  });

  test("gives the bars that are finished, as columns of one length in the order of time", async () => {
    const { body } = await ask("GET", "/bars?symbol=KELP");
    const { columns } = unpackColumns(new Uint8Array(body).buffer as ArrayBuffer);
    const { time, close } = columns as Record<string, Float64Array>;
    expect(time!.length).toBe(close!.length);
    expect(time!.every((value, i) => i === 0 || value > time![i - 1]!)).toBe(true);
  });

  test("its feed tells the clock, bars, and what becomes of an order", async () => {
    await opened("heard");
    await ask("POST", "/speed", { speed: 600 });
    const socket = new WebSocket(`ws://127.0.0.1:${port}/feed`);
    const heard: VenueMessage[] = [];
    const filled = new Promise<void>((resolve) => {
      socket.on("message", (data) => {
        const message = JSON.parse(String(data)) as VenueMessage;
        heard.push(message);
        if (message.type === "account" && message.fills.length > 0) resolve();
      });
    });
    await new Promise((resolve) => socket.on("open", resolve));
    await ask("POST", "/accounts/heard/orders", { clientId: 1, ticket: TICKET });
    await filled;
    socket.close();
    expect(new Set(heard.map(({ type }) => type))).toEqual(new Set(["status", "account", "bar"]));
    const bars = heard.flatMap((message) => (message.type === "bar" && message.symbol === "KELP" ? [message.bar.time] : []));
    expect(bars).toEqual([...bars].sort((a, b) => a - b));
  });
});

test("a venue that can't write its state down goes on, says so, and writes it when it can", async () => {
  const stateFile = join(folder, "venue.state");
  const quiet = vi.spyOn(console, "error").mockReturnValue(undefined);
  // What stands in the way of the new file is what a full disk is: the write fails.
  rmSync(`${stateFile}.new`, { force: true });
  mkdirSync(`${stateFile}.new`);
  const body = { id: "unwritten", instrument: instrumentNamed("KELP"), settings: { cash: 1000 } };
  expect((await ask("POST", "/accounts", body)).status).toBe(200);
  const trouble = async (): Promise<string> => JSON.parse(String((await ask("GET", "/status")).body)).trouble;
  expect(await trouble()).toMatch(/state is not written down: .*A restart now would lose/);
  expect((await ask("GET", "/accounts/unwritten")).status).toBe(200);
  expect(quiet).toHaveBeenCalledTimes(1);
  rmdirSync(`${stateFile}.new`);
  venue.save();
  expect(await trouble()).toBe("");
  expect(readFileSync(stateFile).includes("unwritten")).toBe(true);
  quiet.mockRestore();
});

test("a state that can't be read is put aside, and the venue begins anew", async () => {
  const stateFile = join(folder, "broken.state");
  writeFileSync(stateFile, "no state at all");
  const quiet = vi.spyOn(console, "error").mockReturnValue(undefined);
  const anew = new Venue({ port: 0, stateFile });
  anew.close();
  expect(readFileSync(`${stateFile}.unreadable`, "utf8")).toBe("no state at all");
  expect(existsSync(stateFile)).toBe(true);
  expect(quiet.mock.calls[0]![0]).toContain("could not be read");
  quiet.mockRestore();
});
