/** Which alerts go where, what their texts become, when they may go, and where web calls may not. */
import type { AlertLevel, AlertRule, AlertSetup, TemplateField } from "@plan-tester/contract";
import { TEMPLATE_FIELDS } from "@plan-tester/contract";
import { describe, expect, test } from "vitest";
import { isPublic, publicLookup, refusePrivate } from "../../http/private-address.ts";
import { type Alert, channelsFor, levelOf } from "./alert.ts";
import { quietFor } from "./quiet.ts";
import { checkSetup, FIRST_SETUP } from "./setup.ts";
import { checkTemplate, fill } from "./template.ts";

const screen = FIRST_SETUP.channels[0]!;
const mail = { ...screen, id: "mail", name: "Mail" };
const off = { ...screen, id: "off", isOn: false };
const rule = (part: Partial<AlertRule>): AlertRule => ({
  ...{ id: "r", isOn: true, watchId: null, events: ["filled", "error"], leastLevel: "info", channels: ["mail"] },
  ...part,
});
const alert = (part: Partial<Alert>): Alert => ({
  ...{
    watchId: "w1",
    watchName: "One",
    planTitle: "Plan",
    symbol: "KELP",
    event: "filled",
    level: "notice",
    text: "bought 2",
    by: "venue",
  },
  ...{ timeMs: 0, atMs: 0 },
  ...part,
});

describe("rules", () => {
  const rows: [string, readonly AlertRule[], Partial<Alert>, string[]][] = [
    ["no rule, no channel", [], {}, []],
    ["an event of the rule", [rule({})], {}, ["mail"]],
    ["an event of no rule", [rule({})], { event: "lag" }, []],
    ["a rule that is off", [rule({ isOn: false })], {}, []],
    ["another watch's rule", [rule({ watchId: "w2" })], {}, []],
    ["its own rule", [rule({ watchId: "w1" })], {}, ["mail"]],
    ["below the level", [rule({ leastLevel: "warning" })], { level: "notice" }, []],
    ["at the level", [rule({ leastLevel: "warning" })], { level: "warning" }, ["mail"]],
    ["above the level", [rule({ leastLevel: "warning" })], { level: "alert" }, ["mail"]],
    ["two rules, one channel, once", [rule({}), rule({ id: "s" })], {}, ["mail"]],
    ["several channels in the setup's order", [rule({ channels: ["mail", "screen"] })], {}, ["screen", "mail"]],
    ["a channel that is off", [rule({ channels: ["off"] })], {}, []],
  ];
  test.each(rows)("%s", (_name, rules, part, expected) => {
    const setup: AlertSetup = { ...FIRST_SETUP, channels: [screen, mail, off], rules };
    expect(channelsFor(alert(part), setup).map(({ id }) => id)).toEqual(expected);
  });

  test("a line of the plan's log has the plan's level, anything else its own", () => {
    const levels: [Parameters<typeof levelOf>, AlertLevel][] = [
      [["plan's log", "alert"], "alert"],
      [["plan's log", ""], "info"],
      [["error", ""], "alert"],
      [["order sent", ""], "info"],
    ];
    for (const [given, expected] of levels) expect(levelOf(...given)).toBe(expected);
  });
});

const fields = Object.fromEntries(TEMPLATE_FIELDS.map((field) => [field, `<${field}>`])) as Record<TemplateField, string>;

describe("templates", () => {
  test.each([
    ["{{watch}}: {{ text }}", "<watch>: <text>"],
    ["no field", "no field"],
    ["{watch} {{{watch}}}", "{watch} {<watch>}"],
  ])("%s", (template, expected) => expect(fill(template, fields)).toBe(expected));

  test("a field in a JSON body stays inside its string", () => {
    const nasty = { ...fields, text: 'a "quote",\na line, a \\ and {{watch}}' };
    expect(JSON.parse(fill('{ "text": "{{text}}" }', nasty, true))).toEqual({ text: nasty.text });
  });

  test("a field that there is none of is refused by name", () => {
    expect(() => checkTemplate("{{price}}", "The body")).toThrow(/The body names {{price}}; there are {{watch}}/);
  });
});

describe("quiet hours", () => {
  const at = (time: string): number => Date.parse(`2025-03-03T${time}Z`);
  const overNight = { isOn: true, from: "22:00", to: "07:00", zone: "UTC", lets: false };
  const rows: [string, Partial<AlertSetup["quiet"]>, string, number][] = [
    ["off", { isOn: false }, "23:00:00", 0],
    ["before", {}, "21:59:59", 0],
    ["as they begin", {}, "22:00:00", 9 * 60],
    ["before midnight", {}, "23:30:00", 7.5 * 60],
    ["after midnight", {}, "06:59:00", 1],
    ["a half minute before their end", {}, "06:59:30", 0.5],
    ["as they end", {}, "07:00:00", 0],
    ["within one day", { from: "12:00", to: "13:00" }, "12:15:00", 45],
    ["equal ends are none", { from: "12:00", to: "12:00" }, "12:00:00", 0],
    ["in another zone", { zone: "Asia/Tokyo" }, "14:00:00", 8 * 60],
  ];
  test.each(rows)("%s", (_name, part, time, minutes) => expect(quietFor({ ...overNight, ...part }, at(time))).toBe(minutes * 60_000));
});

describe("where web calls may not go", () => {
  test.each([
    "127.0.0.1",
    "10.1.2.3",
    "192.168.0.1",
    "172.16.0.9",
    "169.254.169.254",
    "0.0.0.0",
    "100.64.0.1",
    "::1",
    "fe80::1",
    "fd00::1",
    "::ffff:10.0.0.1",
    "255.255.255.255",
  ])("%s", (address) => {
    expect(isPublic(address)).toBe(false);
    expect(() => refusePrivate(address.includes(":") ? `[${address}]` : address)).toThrow(/private network/);
  });
  test.each(["8.8.8.8", "2606:4700::1111", "::ffff:8.8.8.8"])("%s is open", (address) => expect(isPublic(address)).toBe(true));
  test("a name that leads to this machine", async () => {
    const error = await new Promise<Error | null>((resolve) => publicLookup("localhost", { all: true }, resolve));
    expect(error?.message).toMatch(/localhost is .*on this machine or a private network/);
  });
});

describe("setups", () => {
  const call = { url: "https://example.test/a", method: "POST" as const, headers: [], body: "{{text}}" };
  const web = { ...mail, kind: "web call" as const, call };
  const rows: [string, Partial<AlertSetup>, RegExp][] = [
    ["a rule of a channel that is gone", { rules: [rule({ channels: ["gone"] })] }, /"gone", which is no channel/],
    ["two channels with one id", { channels: [screen, screen] }, /same id/],
    ["a channel without its fields", { channels: [{ ...mail, kind: "web call" }] }, /has the fields of another/],
    [
      "a field that there is none of",
      { channels: [{ ...web, call: { ...call, body: "{{profit}}" } }] },
      /The body of "Mail" names {{profit}}/,
    ],
    ["a password in the address", { channels: [{ ...web, call: { ...call, url: "https://me:pw@example.test/" } }] }, /holds a password/],
    [
      "a header of the connection",
      { channels: [{ ...web, call: { ...call, headers: [{ name: "Host", value: "x" }] } }] },
      /Host of "Mail" is set by/,
    ],
    ["a zone that is none", { quiet: { ...FIRST_SETUP.quiet, zone: "Sundrey" } }, /zone of the quiet hours is none: Sundrey/],
  ];
  test.each(rows)("%s is refused", (_name, part, message) =>
    expect(() => checkSetup({ ...FIRST_SETUP, rules: [], ...part })).toThrow(message),
  );
  test("the first one is sound", () => expect(() => checkSetup(FIRST_SETUP)).not.toThrow());
});
