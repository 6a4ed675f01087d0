/** Own modules: what a text imports, whatever shape it has, and how texts are put together. */
import { describe, expect, test } from "vitest";
import { importsOf, linkModules, moduleName } from "./modules.ts";

describe("what a text imports", () => {
  test.each([
    ['import { band } from "bands";', ["bands"]],
    ["import wide, { type Width } from 'widths'", ["widths"]],
    ['import * as all from "all"; export { one } from "ones"', ["all", "ones"]],
    ['import {\n  a,\n  b,\n} from "spread-over-lines";', ["spread-over-lines"]],
    ['import type { A } from "types"; export type { B } from "more-types"', []],
    ['import type from "type-is-a-name"', ["type-is-a-name"]],
    ['// import { no } from "comment"\n/* import { no } from "comment" */', []],
    ['const a = "import { no } from \'text\'"; const b = `import { no } from "text"`;', []],
    ['const load = /import a from "b"/;', []],
    ['import { a } from "twice"; import { b } from "twice";', ["twice"]],
    ["const from = 1;", []],
    ["import { a } from", []],
  ])("%s", async (text, names) => {
    expect(await importsOf(text)).toEqual(names);
  });

  // A pattern that goes back took minutes for some of these. No time is asserted: it would run into the test's limit.
  test.each([
    ["import ", 75_000],
    ["import { ", 58_000],
    ["import a from ", 37_000],
    ["export ", 75_000],
    ["import a,", 58_000],
    ["from '", 85_000],
    ["/*", 260_000],
    ["`${", 170_000],
    ["(", 520_000],
    ['import{a}from"b";', 30_000],
    ['//! module "a"\n', 34_000],
  ])("half a megabyte of %j is read in one go", async (part, count) => {
    const names = await importsOf(part.repeat(count));
    expect(names.length).toBeLessThanOrEqual(1);
  });
});

test("texts are put behind the one that imports them, each once, and what is missing is named", async () => {
  const texts: Record<string, string> = {
    bands: '//! module "bands"\nimport { width } from "widths";\nexport const band = width;\n',
    widths: '//! module "widths"\nexport const width = 2;',
  };
  const find = async (name: string): Promise<string | null> => texts[name] ?? null;
  const linked = await linkModules('import { band } from "bands";\nimport { width } from "widths";', find);
  expect(linked.split("\n").filter((line) => moduleName(line))).toEqual(['//! module "bands"', '//! module "widths"']);
  await expect(linkModules('import { x } from "nowhere";', find)).rejects.toThrow(/no module "nowhere"/);
});
