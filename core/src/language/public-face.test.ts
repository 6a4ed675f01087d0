/** The types that the editor ships name exactly what a plan gets. */
import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { STUDIES } from "../studies/catalogue.ts";
import { walk } from "../testing/bars.ts";
import { runBuild } from "../testing/run.ts";
import { evaluateStudy } from "./expression.ts";
import { expressionOf, studyReference, studyTypes } from "./study-face.ts";
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

/** Names that an object offers: its own, and those of its class. */
const offered = (object: object): string[] =>
  [...Object.getOwnPropertyNames(object), ...Object.getOwnPropertyNames(Object.getPrototypeOf(object) ?? {})]
    .filter((name) => name !== "constructor" && !(name in Object.prototype))
    .sort();

test("every global name has a declaration with a hover text, and no declaration is empty", () => {
  const declared = [...(types + studyTypes()).matchAll(/\*\/\s*\ndeclare function (\w+)/g)].map(([, name]) => name);
  expect(declared.sort()).toEqual(Object.keys(VOCABULARY).sort());
});

test("the shipped declarations and the reference of the studies are those of the metadata", async () => {
  await expect(studyTypes()).toMatchFileSnapshot("./studies.d.ts");
  await expect(studyReference()).toMatchFileSnapshot("../../../docs/studies.md");
});

test("every study reads as text the way the reference writes it", () => {
  for (const study of STUDIES) expect(evaluateStudy(expressionOf(study), walk(300, 2)).values.length).toBe(300);
});

test("what build gets is what is declared", () => {
  runBuild(walk(30, 1), (context) => {
    const [market] = context.markets;
    context.on.start(() => expect(offered(context.enter.long.stop(1e6))).toEqual(membersOf("interface Order {")));
    for (const [object, head] of [
      [context, "interface Context<Values> {"],
      [context.on, "  readonly on: {"],
      [context.position, "interface Position {"],
      [context.clock, "  readonly clock: {"],
      [context.orders, "interface Orders {"],
      [context.account, "interface Account {"],
      [context.bars, "interface Bars {"],
      [market, "interface Market {"],
      [context.bars.close, "interface Column {"],
    ] as const)
      expect(offered(object), head).toEqual(membersOf(head));
    expect(offered(context.bars.instrument)).toEqual(membersOf("  readonly instrument: {"));
    for (const [door, head] of [
      [context.enter.long, "interface EntrySide {"],
      [context.exit.short, "interface ExitSide {"],
    ] as const)
      expect(Object.keys(door).sort()).toEqual(membersOf(head));
  });
  expect.assertions(13);
});

test("the reference names every one of them", () => {
  const spoken = reference + studyReference();
  const missing = [
    ...Object.keys(VOCABULARY),
    ...["  readonly on: {", "interface Position {", "interface ExitOptions {", "interface EntryOptions extends ExitOptions {"].flatMap(
      membersOf,
    ),
    ...["interface CloseOptions {", "interface Order {", "interface Market {", "  readonly clock: {"].flatMap(membersOf),
  ].filter((name) => !new RegExp(`\\b${name}\\b`).test(spoken));
  expect(missing).toEqual([]);
});
