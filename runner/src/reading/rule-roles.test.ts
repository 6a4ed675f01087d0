import { expect, test } from "vitest";
import { namedRules } from "./rule-roles.ts";

const rolesOf = (body: string): Record<string, string> => {
  const rules = namedRules(`export default plan({ title: "t", build({ bars, when, during, enter, exit, position, on }) {\n${body}\n} });`);
  return Object.fromEntries(rules.map(({ name, without }) => [name, without]));
};

test.each([
  ["a filter", "const a = f(); const b = f(); when(a.and(b), () => enter.long());", { a: "always", b: "always" }],
  ["an alternative", "const a = f(); const b = f(); when(a.or(b), () => enter.long());", { a: "never", b: "never" }],
  ["what must not be", "const a = f(); const b = f(); when(b.and(a.not()), () => enter.long());", { a: "never", b: "always" }],
  [
    "none of several",
    "const a = f(); const b = f(); const c = f(); when(c.and(a.or(b).not()), () => enter.long());",
    { a: "never", b: "never" },
  ],
  ["the one trigger", "const a = f(); when(a, () => enter.long());", { a: "always" }],
  ["what closes", "const a = f(); when(a, () => position.close());", { a: "never" }],
  ["an exit by name", "const a = f(); when(a, () => exit.long());", { a: "never" }],
  ["a state that begins", "const a = f(); when(becomes(a), () => enter.long());", { a: "always" }],
  ["asked in a handler", "const a = f(); on.barClose(() => { if (a.now && position.flat) enter.long(); });", { a: "always" }],
  ["either in a handler", "const a = f(); on.barClose(() => { if (a.now || late) enter.long(); });", { a: "never" }],
  ["a guard that leaves", "const a = f(); on.barClose(() => { if (a.now) return; enter.long(); });", { a: "never" }],
  ["a guard turned", "const a = f(); on.barClose(() => { if (!a.now) return; enter.long(); });", { a: "always" }],
  ["a guard with braces", "const a = f(); on.barClose(() => { if (!a.ago(1)) { return; } enter.long(); });", { a: "always" }],
  ["closing in a handler", "const a = f(); on.barClose(() => { if (a.now) position.close(); });", { a: "never" }],
  ["by another name", "const a = f(); const b = a; const c = f(); when(c.or(b), () => enter.long());", { a: "never", b: "never" }],
  ["turned under another name", "const a = f(); const b = a.not(); const c = f(); when(c.and(b), () => enter.long());", { a: "never" }],
  ["named in a circle", "let a = b; let b = a; ", { a: "always", b: "always" }],
  ["used nowhere", "const a = f();", { a: "always" }],
])("%s", (_what, body, expected) => expect(rolesOf(body)).toMatchObject(expected));

test("a condition that is written out where it is waited for goes by its text", () => {
  expect(
    rolesOf(
      "when(crossesAbove(bars.close,\n  fast), () => enter.long());\nduring(isBelow(a, b), () => position.close());\nwhen(x.and(y), () => enter.long()); when(becomes(x), () => enter.long());",
    ),
  ).toEqual({
    "crossesAbove(bars.close, fast)": "always",
    "isBelow(a, b)": "never",
  });
  expect(rolesOf("mirrored((side) => when(side.crossesAbove(a, b), () => side.enter()));")).toEqual({
    "side.crossesAbove(a, b)": "always",
  });
});

test("lines are those of the plan's text", () => {
  expect(namedRules("const x = 1;\nconst early = f();\n")).toEqual([
    { name: "x", line: 1, without: "always" },
    { name: "early", line: 2, without: "always" },
  ]);
});
