/** The types that the editor ships name exactly what a plan gets. */
import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { walk } from "../testing/bars.ts";
import { runBuild } from "../testing/run.ts";
import { VOCABULARY } from "./vocabulary.ts";

const types = readFileSync(new URL("./language.d.ts", import.meta.url), "utf8");
const reference = readFileSync(new URL("../../../docs/plan-language.md", import.meta.url), "utf8");

/** Member names at the first level of an interface or object type that begins with `head`. */
function membersOf(head: string): string[] {
  const start = types.indexOf(head) + head.length;
  let depth = 1;
  let end = start;
  while (depth > 0) {
    if (types[end] === "{") depth++;
    if (types[end] === "}") depth--;
    end++;
  }
  const body = types.slice(start, end - 1).replace(/\/\*\*[\s\S]*?\*\//g, "");
  const names: string[] = [];
  let level = 0;
  for (const line of body.split("\n")) {
    const name = /^\s*(?:readonly )?(\w+)\??\s*[:(<]/.exec(line)?.[1];
    if (level === 0 && name) names.push(name);
    level += (line.match(/[{(]/g)?.length ?? 0) - (line.match(/[})]/g)?.length ?? 0);
  }
  return names.sort();
}

test("every global name has a declaration with a hover text, and no declaration is empty", () => {
  const declared = [...types.matchAll(/\*\/\s*\ndeclare function (\w+)/g)].map(([, name]) => name);
  expect(declared.sort()).toEqual(Object.keys(VOCABULARY).sort());
});

test("the context of build is the one that is declared", () => {
  runBuild(walk(30, 1), (context) => {
    expect(Object.keys(context).sort()).toEqual(membersOf("interface Context<Values> {"));
    expect(Object.keys(context.on).sort()).toEqual(membersOf("  readonly on: {"));
    expect(Object.keys(context.position).sort()).toEqual(membersOf("  readonly position: {"));
    expect(Object.keys(context.clock).sort()).toEqual(membersOf("  readonly clock: {"));
    expect(Object.keys(context.orders).sort()).toEqual(membersOf("  readonly orders: {"));
    expect(Object.keys(context.account).sort()).toEqual(["cash", "equity"]);
  });
  expect.assertions(6);
});

test("the reference names every one of them", () => {
  const missing = [...Object.keys(VOCABULARY), ...membersOf("  readonly on: {"), ...membersOf("  readonly position: {")].filter(
    (name) => !reference.includes(name),
  );
  expect(missing).toEqual([]);
});
