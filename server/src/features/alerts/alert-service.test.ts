/** Alerts through real channels: a mailbox, an address for web calls, a database file. */
import { createHmac } from "node:crypto";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { createServer, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { AlertChannel, AlertSetup, ServerEvent } from "@plan-tester/contract";
import { Inbox } from "@plan-tester/venue/inbox";
import pino from "pino";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Background } from "../../background.ts";
import { Database } from "../../db/database.ts";
import { EventStream } from "../../http/events.ts";
import { freePort } from "../../testing.ts";
import type { Alert } from "./alert.ts";
import { AlertRepository } from "./alert-repository.ts";
import { type AlertPace, AlertService } from "./alert-service.ts";
import { FIRST_SETUP } from "./setup.ts";

interface Taken {
  readonly headers: IncomingMessage["headers"];
  readonly body: string;
}

const PACE: AlertPace = { retries: 3, firstPauseMs: 5, factor: 2, maxPauseMs: 20, minuteMs: 50 };
const ALL = { offset: 0, limit: 100, watchId: "", state: "" } as const;

let folder: string;
let database: Database;
let alerts: AlertService;
let told: ServerEvent[];
let taken: Taken[];
/** What the other side answers, in order; 200 when there is no more. */
let answers: number[];
const target = createServer((request, response) => {
  let body = "";
  request.on("data", (part) => {
    body += part;
  });
  request.on("end", () => {
    taken.push({ headers: request.headers, body });
    response.statusCode = answers.shift() ?? 200;
    response.setHeader("Location", "http://example.test/");
    response.end("thanks");
  });
});

const open = async (): Promise<AlertService> => {
  const events = new EventStream();
  events.send = (event) => void told.push(event);
  const background = new Background(pino({ level: "silent" }), events);
  const service = new AlertService({ repository: new AlertRepository(database), background, events, pace: PACE });
  await service.open(Date.now());
  return service;
};

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), "plan-tester-"));
  database = await Database.open(join(folder, "alerts.sqlite"));
  [told, taken, answers] = [[], [], []];
  target.listen(0, "127.0.0.1");
  await once(target, "listening");
  alerts = await open();
});
afterEach(async () => {
  await alerts.close();
  await database.close();
  target.closeAllConnections();
  target.close();
  rmSync(folder, { recursive: true, force: true });
});

const web = (): AlertChannel => ({
  ...{ id: "web", name: "Web", isOn: true, kind: "web call", email: null },
  call: {
    url: `http://127.0.0.1:${(target.address() as AddressInfo).port}/hook?e={{event}}`,
    method: "POST",
    headers: [{ name: "Content-Type", value: "application/json" }],
    body: '{ "text": "{{text}}" }',
  },
});
const mailbox = (port: number): AlertChannel => ({
  ...{ id: "mail", name: "Mail", isOn: true, kind: "e-mail", call: null },
  email: {
    ...{ host: "127.0.0.1", port, security: "none", user: "trader", from: "app@example.test", to: ["me@example.test"] },
    ...{ subject: "{{watch}}: {{event}}", body: "{{text}}\n" },
  },
});
const setUp = (channels: readonly AlertChannel[], part: Partial<AlertSetup> = {}) =>
  alerts.change({
    ...alerts.view().setup,
    ...{ channels, allowsPrivate: true, perMinute: 600 },
    rules: [
      {
        ...{ id: "r", isOn: true, watchId: null, leastLevel: "info", events: ["filled", "error"] },
        channels: channels.map(({ id }) => id),
      },
    ],
    ...part,
  });

const alert = (text: string, part: Partial<Alert> = {}): Alert => ({
  ...{ watchId: "w1", watchName: "One", planTitle: "Plan", symbol: "KELP", event: "filled", level: "notice", by: "venue", timeMs: 0 },
  ...{ atMs: Date.now(), text },
  ...part,
});

const outcomes = async () => (await alerts.deliveries(ALL)).deliveries;
/** Waits until none waits. */
const settled = () =>
  vi.waitFor(async () => expect((await outcomes()).filter(({ state }) => state === "waiting")).toEqual([]), { timeout: 10_000 });

test("an e-mail comes with its fields filled in", async () => {
  const port = await freePort();
  const inbox = new Inbox(port);
  await vi.waitFor(() => expect(inbox.list().smtpPort).toBe(port + 1));
  await setUp([mailbox(port + 1)]);
  await alerts.setSecret("mail", "open sesame");
  await alerts.take([alert("bought 2 KELP\nat 412.50")]);
  await settled();
  expect(inbox.list().mails).toMatchObject([
    { from: "app@example.test", to: "me@example.test", subject: "One: filled", text: "bought 2 KELP\nat 412.50" },
  ]);
  expect(await outcomes()).toMatchObject([{ state: "sent", tries: 1, channelName: "Mail", event: "filled" }]);
  inbox.close();
});

test("a web call is signed over its time and body, and says which alert it is", async () => {
  await setUp([web()]);
  await alerts.setSecret("web", "open sesame");
  await alerts.take([alert('a "quote"')]);
  await settled();
  const [{ headers, body }] = taken as [Taken];
  expect(JSON.parse(body)).toEqual({ text: 'a "quote"' });
  const time = String(headers["x-plan-tester-time"]);
  expect(headers["x-plan-tester-signature"]).toBe(`sha256=${createHmac("sha256", "open sesame").update(`${time}.${body}`).digest("hex")}`);
  const [row] = await outcomes();
  expect(headers["x-plan-tester-alert"]).toBe(String(row!.id));
  expect(row).toMatchObject({ state: "sent", outcome: "answered 200: thanks" });
});

test("a secret is told to nobody", async () => {
  await setUp([web()]);
  await alerts.setSecret("web", "open sesame");
  await alerts.take([alert("x")]);
  await settled();
  const everything = JSON.stringify([alerts.view(), alerts.preview(web()), await outcomes(), told]);
  expect(everything).not.toContain("open sesame");
  expect(alerts.view().withSecret).toEqual(["web"]);
  await setUp([]);
  expect(await new AlertRepository(database).secrets()).toEqual(new Map());
});

test("what fails is tried again, and each alert comes once", async () => {
  answers = [500, 503];
  await setUp([web()]);
  await alerts.take([alert("once")]);
  await settled();
  expect(await outcomes()).toMatchObject([{ state: "sent", tries: 3 }]);
  expect(alerts.countsOf("w1")).toEqual({ sent: 1, failed: 0 });
});

test("what keeps failing is given up with its reason, and the screen says so", async () => {
  answers = Array.from({ length: 20 }, () => 500);
  await setUp([web()]);
  await alerts.take([alert("never")]);
  await settled();
  expect(await outcomes()).toMatchObject([{ state: "failed", tries: 4, outcome: "answered 500: thanks" }]);
  expect(told).toContainEqual(
    expect.objectContaining({ type: "alert", level: "warning", text: "not sent through Web: answered 500: thanks" }),
  );
  answers = [];
  await alerts.take([alert("then")]);
  await settled();
  await alerts.test("web");
  expect(alerts.countsOf("w1")).toEqual({ sent: 1, failed: 1 });
  // The next server knows as much.
  await alerts.close();
  alerts = await open();
  expect(alerts.countsOf("w1")).toEqual({ sent: 1, failed: 1 });
  expect(alerts.countsOf("another")).toEqual({ sent: 0, failed: 0 });
});

test("redirects are not followed, and not tried again", async () => {
  answers = [302];
  await setUp([web()]);
  await alerts.take([alert("away")]);
  await settled();
  expect(await outcomes()).toMatchObject([{ state: "failed", tries: 1, outcome: expect.stringMatching(/redirects are not followed/) }]);
  expect(taken).toHaveLength(1);
});

test("this machine is not called where that is not allowed", async () => {
  await setUp([web()], { allowsPrivate: false });
  await alerts.take([alert("home")]);
  await settled();
  expect(await outcomes()).toMatchObject([
    { state: "failed", tries: 1, outcome: expect.stringMatching(/on this machine or a private network/) },
  ]);
  expect(taken).toEqual([]);
});

test("what waits when the server ends is sent by the next", async () => {
  answers = Array.from({ length: 1 }, () => 500);
  await setUp([web()], { perMinute: 1 });
  await alerts.take([alert("first"), alert("second"), alert("third")]);
  await alerts.close();
  expect((await outcomes()).some(({ state }) => state === "waiting")).toBe(true);
  alerts = await open();
  await settled();
  expect((await outcomes()).map(({ text, state }) => [text, state])).toEqual([
    ["third", "sent"],
    ["second", "sent"],
    ["first", "sent"],
  ]);
  const texts = taken.map(({ body }) => (JSON.parse(body) as { text: string }).text);
  expect(new Set(texts)).toEqual(new Set(["first", "second", "third"]));
});

/** Quiet hours that are now. */
const quietNow = (lets: boolean): AlertSetup["quiet"] => {
  const clock = (hours: number): string => `${String((new Date().getUTCHours() + hours + 24) % 24).padStart(2, "0")}:00`;
  return { isOn: true, from: clock(-2), to: clock(3), zone: "UTC", lets };
};

test("in quiet hours only the urgent goes out; the screen shows everything", async () => {
  const quiet = quietNow(true);
  const [screen] = FIRST_SETUP.channels;
  await setUp([screen!, web()], { quiet });
  await alerts.take([alert("can wait"), alert("urgent", { event: "error", level: "alert" })]);
  await vi.waitFor(() => expect(taken.map(({ body }) => JSON.parse(body))).toEqual([{ text: "urgent" }]));
  await vi.waitFor(async () =>
    expect((await outcomes()).find(({ text, channelId }) => text === "can wait" && channelId === "web")).toMatchObject({
      state: "waiting",
      outcome: `waits for the end of the quiet hours at ${quiet.to}`,
    }),
  );
  expect(told.flatMap((event) => (event.type === "alert" ? [event.text] : []))).toEqual(["can wait", "urgent"]);
});

test("a test goes through at once, and says what came of it", async () => {
  answers = [404];
  await setUp([web()]);
  expect(await alerts.test("web")).toMatchObject({ state: "failed", event: "test", outcome: "answered 404: thanks" });
  expect(await alerts.test("web")).toMatchObject({ state: "sent", outcome: "answered 200: thanks" });
  await expect(alerts.test("none")).rejects.toThrow(/no channel "none"/);
});

test("a preview is of what happened last, an example before", async () => {
  await setUp([web()]);
  expect(alerts.preview(web())).toMatchObject({ isExample: true });
  await alerts.take([alert("sold 1")]);
  expect(alerts.preview(web())).toMatchObject({ isExample: false, of: "One: sold 1", body: '{ "text": "sold 1" }' });
});

test("two windows: the second to save is told, and overwrites nothing", async () => {
  const { setup } = alerts.view();
  await alerts.change({ ...setup, perMinute: 7 });
  await expect(alerts.change({ ...setup, perMinute: 9 })).rejects.toThrow(/changed in another window/);
  expect(alerts.view().setup.perMinute).toBe(7);
  const now = alerts.view().setup;
  const both = await Promise.allSettled([8, 9].map((perMinute) => alerts.change({ ...now, perMinute })));
  expect(both.map(({ status }) => status)).toEqual(["fulfilled", "rejected"]);
  expect(alerts.view().setup.perMinute).toBe(8);
});

test("a channel that can't keep up has so many waiting and no more, whatever its limit was when they came", async () => {
  const setup = { quiet: quietNow(false) };
  await setUp([web()], setup);
  await alerts.take(Array.from({ length: 300 }, (_none, k) => alert(`a ${k}`)));
  await setUp([web()], { ...setup, perMinute: 1 });
  await alerts.take(Array.from({ length: 200 }, (_none, k) => alert(`b ${k}`)));
  await alerts.take([alert("one too many"), alert("of another watch", { watchId: "w2" })]);
  const left = async (watchId: string) => (await alerts.deliveries({ ...ALL, watchId, state: "left out" })).deliveries;
  expect(await left("w1")).toMatchObject([{ text: "one too many", outcome: /500 alerts wait/ }]);
  expect(await left("w2")).toMatchObject([{ text: "of another watch" }]);
});
