import { SKELETON } from "@plan-tester/contract";
import { expect, test } from "vitest";
import { renamed } from "./renamed.ts";

test.each([
  ['export default plan({ title: "Old", build() {} });', 'export default plan({ title: "New", build() {} });'],
  ["export default plan({\n  title: 'It\\'s old',\n});", 'export default plan({\n  title: "New",\n});'],
  ["export default plan({ inputs: {}, title: `Old` });", 'export default plan({ inputs: {}, title: "New" });'],
  [
    'const a = { title: "other" };\nexport default plan({ title: "Old" });',
    'const a = { title: "other" };\nexport default plan({ title: "New" });',
  ],
])("%j", (source, expected) => {
  expect(renamed(source, "New")).toBe(expected);
});

test.each([
  "",
  "export default plan({ build() {} });",
  "const name = 'x'; export default plan({ title: name });",
  "title: 'Old'",
  "export default plan({ title: `Old $" + "{1}` });",
])("%j has no title that can be changed", (source) => {
  expect(renamed(source, "New")).toBe(source);
});

test("quotes and signs of a title are written so that they read back", () => {
  const title = 'Say "tide" \\ $& `now`';
  const text = renamed(SKELETON, title);
  expect(text).toContain(`title: ${JSON.stringify(title)}`);
  expect(text.replace(JSON.stringify(title), '"New plan"')).toBe(SKELETON);
});

test.each([
  ["declarations", "plan({ "],
  ["titles without a text", "title : "],
])("long texts of %s are left alone", (_name, piece) => {
  const source = `plan({ ${piece.repeat(60_000)}`;
  // Half a megabyte is no good in a message.
  expect(renamed(source, "New") === source).toBe(true);
});
