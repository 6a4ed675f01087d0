/**
 * From a plan's TypeScript to a script that the sandbox can evaluate. Line numbers stay those of the source; the few
 * characters that are put in are remembered, so that an error's column can be taken back to the source too.
 */
import { PlanTesterError } from "@plan-tester/core";
import { type AnyNode, type Program, parse } from "acorn";
import { full } from "acorn-walk";
import MagicString from "magic-string";
import { transform } from "sucrase";
import { type FreeName, freeNames } from "./free-names.ts";
import { type SourcePlace, type Spanned, TraceMarks, type TracePlaces } from "./trace-marks.ts";

export const PLAN_FILE = "plan.ts";
const GUARD = "__step();";
/** Calls that may send an order, by the last name of what is called. */
const ORDER_CALLS = new Set(["long", "short", "stop", "limit", "stopLimit", "at", "close", "reduce", "goTo", "all"]);
const FUNCTIONS: ReadonlySet<string> = new Set(["FunctionDeclaration", "FunctionExpression", "ArrowFunctionExpression"]);
const MOST_SOURCE = 512 * 1024;

const NOT_TRACED: TracePlaces = { statements: [], names: [], tests: [] };

/** A text in which order calls note their line: the plan's own. In a module they are told by the line that called it. */
type Role = "plan" | "module";

export interface CompiledPlan {
  /** The body of the plan's module function. */
  readonly code: string;
  /** Takes a position in `code` back to the source. */
  readonly columnOf: (line: number, column: number) => number;
  readonly lines: number;
  /** Names that are used on a line and declared nowhere. */
  readonly freeNames: ReadonlyMap<number, readonly string[]>;
  /** What reports on itself, by the number under which it does; empty unless it is traced. */
  readonly places: TracePlaces;
}

export interface CompileOptions {
  readonly role?: Role;
  readonly reports?: Reports;
}

/**
 * What a script reports on itself: for evidence, which is a pass of its own, how often each statement runs, and named values
 * and tests; where conditions are put in the place of others, the values of declared names.
 */
export type Reports = "none" | "names" | "all";

/** A syntax error as the editor shows it. */
export function syntaxError(message: string, line: number, column: number): PlanTesterError {
  return new PlanTesterError("bad-plan", `Line ${line}, column ${column}: ${message}`, { line, column });
}

/**
 * @throws PlanTesterError bad-plan with line and column when the source can't be read.
 */
export function compilePlan(source: string, { role = "plan", reports = "none" }: CompileOptions = {}): CompiledPlan {
  if (source.length > MOST_SOURCE)
    throw new PlanTesterError("bad-plan", `The plan is ${source.length} characters long; the most is ${MOST_SOURCE}.`, {});
  refuseImports(source);
  return instrument(planScript(source), role, reports);
}

/**
 * The same program without types, line for line.
 * @throws PlanTesterError bad-plan with line and column when it can't be read.
 */
export function planScript(source: string): string {
  try {
    return transform(source, { transforms: ["typescript", "imports"], disableESTransforms: true, filePath: PLAN_FILE }).code;
  } catch (error) {
    throw readable(error);
  }
}

/**
 * Its syntax tree, with lines, and the script that places in it are of.
 * @throws PlanTesterError bad-plan with line and column when it can't be read, or has too many levels inside each other
 */
export function planTree(source: string): { readonly script: string; readonly tree: Program } {
  try {
    const script = planScript(source);
    return { script, tree: parse(script, { ecmaVersion: 2023, sourceType: "script", locations: true }) };
  } catch (error) {
    if (error instanceof PlanTesterError) throw error;
    if (error instanceof RangeError)
      throw new PlanTesterError("bad-plan", "The program has too many levels inside each other to be read.", {});
    throw readable(error);
  }
}

function refuseImports(source: string): void {
  const lines = source.split("\n");
  lines.forEach((text, i) => {
    const at = text.search(/\bimport\s*\(|<!--|-->/);
    if (at >= 0)
      throw syntaxError(
        text.slice(at).startsWith("import")
          ? "import(…) is not part of the plan language; a plan can't load code while it runs."
          : "HTML comment marks (<!-- and -->) are not allowed, not even in text.",
        i + 1,
        at + 1,
      );
  });
}

/** Names under which the program's own counters and notes are handed in. */
const RESERVED = /^__(step|at|hit|see|test)$/;
const NO_WAITING = "A plan can't wait for anything: async and await are no part of the plan language.";

interface Named extends Spanned {
  readonly name?: unknown;
  readonly async?: unknown;
}

/** What a script may not say, however it is spelt: the tree has names as they are meant, not as they are escaped. */
function refuseIn(tree: AnyNode, refuse: (message: string, node: Spanned) => never): void {
  full(tree, (node) => {
    const { type, name, async } = node as unknown as Named & { readonly type: string };
    if (typeof name === "string" && RESERVED.test(name))
      refuse("__step, __at, __hit, __see and __test are names of the program that runs plans: choose others.", node);
    if (type === "Identifier" && name === "eval") refuse("eval is not part of the plan language: a plan is all of its text.", node);
    if (async === true || type === "AwaitExpression" || (type === "ForOfStatement" && "await" in node && node.await))
      refuse(NO_WAITING, node);
    if (type === "ImportExpression") refuse("import(…) is not part of the plan language; a plan can't load code while it runs.", node);
    if (type === "MetaProperty" && "meta" in node && (node.meta as { name?: string }).name === "import")
      refuse("import.meta is not part of the plan language.", node);
  });
}

/** Sucrase and acorn both say "message (line:column)". */
function readable(error: unknown): PlanTesterError {
  const text = error instanceof Error ? error.message : String(error);
  const match = /^(?:Error transforming [^:]*: )?(?:SyntaxError: )?(.*?)\s*\((\d+):(\d+)\)$/s.exec(text);
  return match ? syntaxError(`${match[1]}.`, Number(match[2]), Number(match[3]) + 1) : new PlanTesterError("bad-plan", text, {});
}

interface CallNode extends Spanned {
  readonly callee: Spanned & { readonly computed?: boolean; readonly property?: { readonly name?: string } };
}

/**
 * Adds two things to a plan's script. A step counter at the head of every loop body, so that an endless loop ends with
 * the line it stands on; and a note of the line in front of every call that may send an order, so that each order and
 * trade knows where it came from at no cost.
 */
function instrument(script: string, role: Role, reports: Reports): CompiledPlan {
  let tree: ReturnType<typeof parse>;
  try {
    tree = parse(script, { ecmaVersion: 2023, sourceType: "script", locations: false });
  } catch (error) {
    throw readable(error);
  }
  const edited = new MagicString(script);
  const starts = lineStarts(script);
  const insertions: { at: number; length: number }[] = [];
  const insert = (at: number, text: string): void => {
    // Inner nodes come first: what is put in later is around them.
    edited.prependRight(at, text);
    insertions.push({ at, length: text.length });
  };
  const insertAfter = (at: number, text: string): void => {
    edited.appendLeft(at, text);
    insertions.push({ at, length: text.length });
  };
  const head = /^"use strict";(?:\s*Object\.defineProperty\(exports, "__esModule", \{value: true\}\);)?/.exec(script)?.[0].length ?? 0;
  const placeOf = (node: Spanned): SourcePlace => {
    const [begin, end] = [place(starts, node.start), place(starts, node.end)];
    // The first line of the script has a prologue that the source has not.
    const column = (at: { line: number; column: number }): number => Math.max(1, at.column - (at.line === 1 ? head : 0));
    return { line: begin.line, column: column(begin), endLine: end.line, endColumn: column(end) };
  };
  const marks = reports === "none" ? null : new TraceMarks({ script, head, placeOf, insert, insertAfter }, reports === "names");
  refuseIn(tree, (message, node) => {
    const { line, column } = placeOf(node);
    throw syntaxError(message, line, column);
  });
  full(tree, (node) => {
    marks?.mark(node);
    // Functions too: one that calls itself twice over needs no loop to have no end. And whoever catches the end is told again.
    if (FUNCTIONS.has(node.type)) {
      const { body } = node as unknown as { body: Spanned };
      if (body.type === "BlockStatement") insert(body.start + 1, GUARD);
      else {
        insert(body.start, "(__step(),");
        insertAfter(body.end, ")");
      }
    }
    if (node.type === "CatchClause") insert((node as unknown as { body: Spanned }).body.start + 1, GUARD);
    if (/^(For|ForIn|ForOf|While|DoWhile)Statement$/.test(node.type)) {
      const { body } = node as unknown as { body: Spanned };
      if (body.type === "BlockStatement") insert(body.start + 1, GUARD);
      else {
        insert(body.start, `{${GUARD}`);
        insertAfter(body.end, "}");
      }
    }
    if (node.type !== "CallExpression" || role === "module") return;
    const { callee, start, end } = node as unknown as CallNode;
    if (callee.type !== "MemberExpression" || !(callee.computed || ORDER_CALLS.has(callee.property?.name ?? ""))) return;
    insert(start, `(__at(${place(starts, start).line}),`);
    insertAfter(end, ")");
  });
  const shifts = insertions.sort((a, b) => a.at - b.at).map(({ at, length }) => ({ ...place(starts, at), length }));
  return {
    code: edited.toString(),
    lines: starts.length,
    freeNames: byLine(freeNames(tree), starts),
    places: marks ?? NOT_TRACED,
    columnOf(line, column) {
      let back = line === 1 ? head : 0;
      for (const shift of shifts) if (shift.line === line && shift.column + back < column) back += shift.length;
      return Math.max(1, column - back);
    },
  };
}

function byLine(names: readonly FreeName[], starts: readonly number[]): ReadonlyMap<number, readonly string[]> {
  const lines = new Map<number, string[]>();
  for (const { name, at } of names) {
    const { line } = place(starts, at);
    const known = lines.get(line);
    if (known) known.push(name);
    else lines.set(line, [name]);
  }
  return lines;
}

function lineStarts(text: string): number[] {
  const starts = [0];
  for (let i = text.indexOf("\n"); i >= 0; i = text.indexOf("\n", i + 1)) starts.push(i + 1);
  return starts;
}

function place(starts: readonly number[], at: number): { line: number; column: number } {
  let [line, beyond] = [1, starts.length + 1];
  while (beyond - line > 1) {
    const middle = (line + beyond) >> 1;
    if (starts[middle - 1]! <= at) line = middle;
    else beyond = middle;
  }
  return { line, column: at - starts[line - 1]! + 1 };
}
