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
afterAll(async () => {
  await venue.close();
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

const account = (id: string) => ({ id, instruments: [instrumentNamed("KELP")], settings: { cash: 50_000 }, timeframe: "15m" });
const opened = (id: string) => ask("POST", "/accounts", account(id));
const TICKET = {
  ...PLAIN_ORDER,
  ...{ side: 1, kind: "market", quantity: 1, intent: "enter", price: null, limitPrice: null },
  ...{ submittedBar: 0, submittedTime: 0, expiresBar: null, expiresTime: null },
};

/** A client's socket, what it heard, and how it ended. */
async function joined() {
  const socket = new WebSocket(`ws://127.0.0.1:${port}/feed`);
  const heard: VenueMessage[] = [];
  socket.on("message", (data) => heard.push(JSON.parse(String(data)) as VenueMessage));
  const ended = new Promise<string>((resolve) => socket.on("close", (_code, reason) => resolve(String(reason))));
  await new Promise((resolve) => socket.on("open", resolve));
  return { socket, heard, ended, say: (message: object) => socket.send(JSON.stringify(message)) };
}

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
    ["an account that is not there", "POST", "/accounts/gone/me/flatten", {}, 404, /no account "gone"/],
    ["an instrument that it does not trade", "GET", "/bars?symbol=GONE", undefined, 404, /does not trade GONE/],
    ["a speed of nothing", "POST", "/clock", { speed: 0 }, 400, /speed/],
    ["a clock that is told nothing", "POST", "/clock", {}, 400, /clock/],
    ["an account without a name", "POST", "/accounts", { ...account(""), id: "" }, 400, /id/],
    ["a timeframe that is none", "POST", "/accounts", { ...account("b"), timeframe: "7x" }, 400, /not a timeframe/],
    ["settings that can't be", "POST", "/accounts", { ...account("b"), settings: { cash: -1 } }, 400, /cash/],
    ["what is no JSON", "POST", "/clock", "{ speed", 400, /JSON/],
  ])("%s", async (_name, method, path, body, status, words) => {
    const answer = await ask(method, path, body);
    expect(answer.status).toBe(status);
    expect(said(answer).error.message).toMatch(words);
  });

  const commands = (wrong: object) => ({
    ...{ type: "commands", account: "orders", owner: "me", first: 1 },
    commands: [{ kind: "submit", symbol: "KELP", orderId: 1, ticket: { ...TICKET, ...wrong } }],
  });
  test.each<[string, object, RegExp]>([
    ["a message that it does not know", { type: "sing" }, /"sing" is not known/],
    ["an order with a side that is none", commands({ side: 2 }), /side/],
    ["an order with a field that it does not know", commands({ hidden: 1 }), /hidden/],
    ["an order with a tag that is too long", commands({ tag: "x".repeat(61) }), /tag/],
  ])("%s: the line is closed with the reason", async (_name, message, words) => {
    const { say, ended } = await joined();
    say(message);
    expect(await ended).toMatch(words);
  });

  test("commands of an account that is not there are answered, and the line goes on", async () => {
    const { say, heard, socket } = await joined();
    say({ type: "hello", answers: false });
    say({ type: "commands", account: "gone", owner: "me", first: 1, commands: [] });
    await vi.waitFor(() => expect(heard.find(({ type }) => type === "refused")).toMatchObject({ reason: 'there is no account "gone"' }));
    expect(socket.readyState).toBe(socket.OPEN);
    socket.close();
  });
});

describe("what it does", () => {
  test("gives the bars that are finished, as columns of one length in the order of time", async () => {
    const { body } = await ask("GET", "/bars?symbol=KELP");
    const { columns } = unpackColumns(new Uint8Array(body).buffer as ArrayBuffer);
    const { time, close } = columns as Record<string, Float64Array>;
    expect(time!.length).toBe(close!.length);
    expect(time!.every((value, i) => i === 0 || value > time![i - 1]!)).toBe(true);
  });

  test("gives a past day as a file of bars, once it is over", async () => {
    const day = "2026-03-02";
    expect((await ask("GET", `/history/KELP/${day}`)).status).toBe(404);
    await ask("POST", "/clock", { speed: 100_000, holds: false });
    await vi.waitFor(async () => expect((await ask("GET", `/history/KELP/${day}`)).status).toBe(200), { timeout: 20_000, interval: 100 });
    await ask("POST", "/clock", { speed: 1 });
    const [head, ...rows] = (await ask("GET", `/history/KELP/${day}`)).body.toString().trimEnd().split("\n");
    expect(head).toMatch(/^time,open,high,low,close,volume/);
    const { columns } = unpackColumns(new Uint8Array((await ask("GET", "/bars?symbol=KELP")).body).buffer as ArrayBuffer);
    const [from, to] = [Date.parse(`${day}T00:00:00Z`), Date.parse(`${day}T24:00:00Z`)];
    const ofDay = [...columns.time!].flatMap((time, i) => (time >= from && time < to ? [[time, columns.close![i]]] : []));
    expect(ofDay.length).toBeGreaterThan(300);
    expect(rows.map((row) => [Date.parse(row.split(",")[0]!), Number(row.split(",")[4])])).toEqual(ofDay);
    expect((await ask("GET", "/history/KELP/2026-03-01")).status).toBe(404);
    expect((await ask("GET", "/history/KELP/tomorrow")).status).toBe(404);
  });

  test("its clock waits for a client that answers, and what that one sends fills at the open it was told of", async () => {
    await opened("held");
    await ask("POST", "/clock", { speed: 600, holds: true });
    const { socket, heard, say } = await joined();
    const words = () => heard.filter((message) => "seq" in message);
    say({ type: "hello", answers: true });
    say({ type: "follow", account: "held", owner: "me", after: 0, prices: false });
    await vi.waitFor(() => expect(words().length).toBeGreaterThan(0), 10_000);
    const [first] = words();
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect(words()).toEqual([first]);
    // Up to an opening, acknowledged one by one; there an order is sent.
    for (let at = 0; ; at++) {
      await vi.waitFor(() => expect(words().length).toBeGreaterThan(at), 10_000);
      const word = words()[at]!;
      if (word.type === "opening" && word.symbols.includes("KELP")) {
        say({
          type: "commands",
          account: "held",
          owner: "me",
          first: 1,
          commands: [{ kind: "submit", symbol: "KELP", orderId: 1, ticket: TICKET }],
        });
        say({ type: "ack", seq: word.seq });
        await vi.waitFor(() =>
          expect(heard.find(({ type }) => type === "report")).toMatchObject({ event: { kind: "filled", fill: { timeMs: word.timeMs } } }),
        );
        break;
      }
      say({ type: "ack", seq: (word as { seq: number }).seq });
    }
    socket.close();
  }, 120_000);
});

test("a venue that can't write its state down goes on, says so, and writes it when it can", async () => {
  const stateFile = join(folder, "venue.state");
  const trouble = async (): Promise<string> => JSON.parse(String((await ask("GET", "/status")).body)).trouble;
  // What stands in the way of the new file is what a full disk is: the write fails.
  rmSync(`${stateFile}.new`, { force: true });
  mkdirSync(`${stateFile}.new`);
  expect((await opened("unwritten")).status).toBe(200);
  await vi.waitFor(async () => expect(await trouble()).not.toBe(""));
  expect(await trouble()).toMatch(/state is not written down: .*A restart now would lose/);
  rmdirSync(`${stateFile}.new`);
  await vi.waitFor(async () => expect(await trouble()).toBe(""));
  expect(readFileSync(stateFile).includes("unwritten")).toBe(true);
});

test("a state that can't be read is put aside, and the venue begins anew", async () => {
  const stateFile = join(folder, "broken.state");
  writeFileSync(stateFile, "no state at all");
  const anew = new Venue({ port: 0, stateFile });
  await anew.close();
  expect(readFileSync(`${stateFile}.unreadable`, "utf8")).toBe("no state at all");
  expect(existsSync(stateFile)).toBe(true);
});
