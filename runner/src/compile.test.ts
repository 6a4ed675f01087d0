import { describe, expect, test } from "vitest";
import { compilePlan } from "./compile.ts";

describe("a plan that can't be read says line and column", () => {
  test.each([
    ["export default plan({\n  title: ,\n});", /Line 2, column \d+/],
    ["const a = 1;\nconst a = 2;", /Line 2, column 7: Identifier 'a' has already been declared/],
    ['const x = await import("fs");', /Line 1, column 17: import\(…\) is not part of the plan language/],
    ["const a = '<!-- hm';", /HTML comment marks/],
  ])("%s", (source, message) => {
    expect(() => compilePlan(source)).toThrow(message);
  });

  test("one that is too long is refused", () => {
    expect(() => compilePlan("x".repeat(600_000))).toThrow(/600000 characters/);
  });
});

test("loops get a step counter and order calls the line they stand on; lines stay", () => {
  const { code } = compilePlan(
    "const a: number = 1;\nfor (let i = 0; i < 3; i++) work(i);\nwhile (true) {\n  enter.long({ tag: 'x' });\n}\n",
  );
  const lines = code.split("\n");
  expect(lines[1]).toContain("{__step();work(i);}");
  expect(lines[2]).toContain("while (true) {__step();");
  expect(lines[3]).toContain("(__at(4),enter.long({ tag: 'x' }))");
});

test("an order call that is all of a loop's body is put in order", () => {
  const { code } = compilePlan("for (let i = 0; i < 3; i++) enter.long()\nif (a) enter.short()");
  expect(code.split("\n")[0]).toContain("i++) {__step();(__at(1),enter.long())}");
});

test("statements are counted where they begin, branches and arrows without braces too", () => {
  const source =
    "const a = 1;\nif (a) work();\nelse rest();\nconst f = () => a + 1;\nfunction g() {\n  return f();\n}\nfor (const x of list) use(x);";
  const { code, places } = compilePlan(source, { reports: "all" });
  const { statements } = places;
  const at = (line: number) =>
    statements.filter((statement) => statement.line === line).map(({ column, endColumn }) => [column, endColumn]);
  expect([...new Set(statements.map(({ line }) => line))].sort()).toEqual([1, 2, 3, 4, 6, 8]);
  expect(at(1)).toEqual([[1, 13]]);
  expect(at(2)).toContainEqual([8, 15]);
  const rows = code.split("\n");
  expect(rows[1]).toMatch(/^__hit\(\d+\);if \(__test\(0,\(a\)\)\) \{__hit\(\d+\);work\(\);\}/);
  expect(rows[2]).toMatch(/else \{__hit\(\d+\);rest\(\);\}/);
  expect(rows[3]).toMatch(/\(\) => \(__step\(\),\(__hit\(\d+\),a \+ 1\)\)/);
  expect(rows[5]).toMatch(/__hit\(\d+\);return f\(\);/);
  expect(compilePlan(source).places).toEqual({ statements: [], names: [], tests: [] });
});

test.each([
  ["let n = 1;", "let n = __see(0,(1));", ["n"], []],
  ["n += 2;", "__see(0,(n += 2));", ["n"], []],
  ["n++;", "(n++,__see(0,n));", ["n"], []],
  ["const { upper, lower: low } = bands;", "const { upper, lower: low } = bands;__see(0,upper);__see(1,low);", ["upper", "low"], []],
  ["const f = () => 1;", "const f = () => (__step(),(__hit(0),1));", [], []],
  ["if (a && !b || c) go();", "if (__test(0,(a)) && __test(1,(!b)) || __test(2,(c))) {__hit(0);go();}", [], ["a", "!b", "c"]],
  ["flat && isUp && go();", "__test(0,(flat)) && __test(1,(isUp)) && go();", [], ["flat", "isUp"]],
  ["const x = a ? b : c;", "const x = __see(0,(__test(0,(a)) ? b : c));", ["x"], ["a"]],
  ["when(crossesAbove(a, b), go);", "when(__see(0,(crossesAbove(a, b))), go);", ["crossesAbove(a, b)"], []],
])("%s reports its names and tests", (source, expected, names, tests) => {
  const { code, places } = compilePlan(`first();\n${source}`, { reports: "all" });
  expect(code.split("\n")[1]!.replace(/^__hit\(\d+\);/, "")).toBe(expected);
  expect(places.names.map(({ name }) => name)).toEqual(names);
  expect(places.tests.map(({ text }) => text)).toEqual(tests);
  expect([...places.names, ...places.tests].every(({ line }) => line === 2)).toBe(true);
});

test("columns go back to the source past what was put in", () => {
  const { columnOf, code } = compilePlan("x();\nwhile (a) { enter.long(); broken(); }");
  const column = code.split("\n")[1]!.indexOf("broken") + 1;
  expect(columnOf(2, column)).toBe("while (a) { enter.long(); broken(); }".indexOf("broken") + 1);
});
