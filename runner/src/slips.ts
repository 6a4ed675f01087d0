/**
 * Likely slips (N75): reads a plan's program and what came of its run, and says what looks like a mistake, with line and
 * reason. A finding is a question, never a refusal: each test of these has a plan that trips it and one that rightly
 * does not.
 */
import { firstAtOrAfter, type RunResult, type Slip, type Trade } from "@plan-tester/core";
import type { Node } from "acorn";
import { ancestor, full, simple } from "acorn-walk";
import { planTree } from "./compile.ts";
import { splitModules } from "./modules.ts";
import { argumentsOf, lineOf, type Part, propertyOf, sideOf } from "./syntax.ts";

/** The run's part may be left out: then only the program is read. */
export function findSlips(source: string, result: Pick<RunResult, "orders" | "trades"> | null): Slip[] {
  let tree: Node;
  try {
    tree = planTree(splitModules(source).plan).tree;
  } catch {
    return [];
  }
  const found = [...unusedInputs(tree), ...wrongSides(tree), ...copiedSides(tree), ...deadExits(tree), ...conditionsAsAnswers(tree)];
  if (result) found.push(...missingGuards(tree, result), ...missingStops(result), ...deafTargets(result));
  return found.sort((a, b) => a.line - b.line);
}

// --- the program ---------------------------------------------------------------------------------------------------

interface Entry {
  readonly node: Node;
  readonly side: "long" | "short";
}

function entriesIn(node: Node): Entry[] {
  const found: Entry[] = [];
  simple(node, {
    CallExpression(call) {
      const target = sideOf(call as Part);
      if (target?.verb === "enter") found.push({ node: call, side: target.side });
    },
  });
  return found;
}

/** The one side that everything in a node enters, or null. */
function onlySide(node: Node): "long" | "short" | null {
  const sides = new Set(entriesIn(node).map(({ side }) => side));
  return sides.size === 1 ? [...sides][0]! : null;
}

function unusedInputs(tree: Node): Slip[] {
  const declared: { name: string; line: number }[] = [];
  const used = new Set<string>();
  let isOpaque = false;
  ancestor(tree, {
    CallExpression(given) {
      const call = given as Part;
      if (call.callee?.name !== "plan") return;
      for (const property of propertyOf(argumentsOf(call)[0], "inputs")?.properties ?? [])
        if (property.key?.name) declared.push({ name: property.key.name, line: lineOf(property) });
    },
    Identifier(node, _state, ancestors) {
      if (node.name !== "inputs") return;
      const parent = ancestors.at(-2) as Part | undefined;
      if (parent?.type === "MemberExpression" && parent.object === node && !parent.computed) used.add(parent.property?.name ?? "");
      else if (parent?.type === "VariableDeclarator" && parent.init === node && parent.id?.type === "ObjectPattern")
        for (const property of parent.id.properties ?? []) used.add(property.key?.name ?? "");
      // Passed on whole: it can't be told what is read of it.
      else isOpaque = true;
    },
  });
  if (isOpaque) return [];
  return declared
    .filter(({ name }) => !used.has(name))
    .map(({ name, line }) => ({
      code: "unused input",
      line,
      text: `Input "${name}" is never read`,
      advice: `Use inputs.${name}, or take it out: a sweep over it would try the same plan again and again.`,
    }));
}

const SHORT_WORDS = /short|sell|bear/i;
const LONG_WORDS = /long|buy|bull/i;

/** Which side a name or text speaks of, when it speaks of one. */
function spokenSide(text: string): "long" | "short" | null {
  const [isShort, isLong] = [SHORT_WORDS.test(text), LONG_WORDS.test(text)];
  return isShort === isLong ? null : isShort ? "short" : "long";
}

const namesIn = (node: Node): string => {
  const names: string[] = [];
  full(node, (part) => {
    if (part.type === "Identifier") names.push(part.name);
  });
  return names.join(" ");
};

const isWait = ({ callee }: Part): boolean => callee?.name === "when" || callee?.name === "during";

/** A signal or a tag that speaks of one side, and an entry of the other. */
function wrongSides(tree: Node): Slip[] {
  const found: Slip[] = [];
  const add = (node: Node, side: "long" | "short", why: string): void => {
    if (found.some(({ line }) => line === lineOf(node))) return;
    found.push({
      code: "wrong side",
      line: lineOf(node),
      text: `enter.${side} where ${why}`,
      advice: "Check the side: in a copied block it is easily left as it was.",
    });
  };
  const check = (condition: Node, body: Node): void => {
    const spoken = spokenSide(namesIn(condition));
    const side = onlySide(body);
    if (spoken && side && spoken !== side) add(entriesIn(body)[0]!.node, side, `the condition speaks of ${spoken}`);
  };
  simple(tree, {
    CallExpression(given) {
      const call = given as Part;
      const target = sideOf(call);
      if (target?.verb === "enter") {
        const tag = propertyOf(argumentsOf(call).at(-1), "tag")?.value;
        const spoken = typeof tag === "string" ? spokenSide(tag) : null;
        if (spoken && spoken !== target.side) add(call, target.side, `the tag says "${tag}"`);
      }
      const [condition, body] = argumentsOf(call);
      if (isWait(call) && condition && body) check(condition, body);
    },
    IfStatement({ test, consequent }) {
      check(test, consequent);
    },
  });
  return found;
}

/** Types of all nodes in order: two blocks of one shape were probably copied. */
function shapeOf(node: Node): string {
  const types: string[] = [];
  full(node, ({ type }) => void types.push(type));
  return types.join(" ");
}

const OPPOSITE: Readonly<Record<string, string>> = {
  crossesAbove: "crossesBelow",
  isAbove: "isBelow",
  isAtOrAbove: "isAtOrBelow",
  isRising: "isFalling",
};

/** Two blocks of one shape, for opposite conditions, that enter the same side. */
function copiedSides(tree: Node): Slip[] {
  const found: Slip[] = [];
  const add = (first: Node, second: Node, side: string): void => {
    found.push({
      code: "copied side",
      line: lineOf(entriesIn(second)[0]!.node),
      text: `enter.${side} here and, for the opposite case, in line ${lineOf(entriesIn(first)[0]!.node)}`,
      advice: "Two blocks of one shape enter the same side. If the second should mirror the first, turn its side.",
    });
  };
  const waits: { body: Node; name: string }[] = [];
  simple(tree, {
    IfStatement({ consequent, alternate }) {
      if (!alternate) return;
      const body = alternate.type === "IfStatement" ? alternate.consequent : alternate;
      const side = onlySide(consequent);
      if (side && side === onlySide(body) && shapeOf(consequent) === shapeOf(body)) add(consequent, body, side);
    },
    CallExpression(call) {
      const [condition, body] = argumentsOf(call as Part);
      if (isWait(call as Part) && condition?.type === "CallExpression" && body) waits.push({ body, name: condition.callee?.name ?? "" });
    },
  });
  for (const one of waits)
    for (const other of waits) {
      if (OPPOSITE[one.name] !== other.name) continue;
      const [first, second] = lineOf(one.body) < lineOf(other.body) ? [one.body, other.body] : [other.body, one.body];
      const side = onlySide(first);
      if (side && side === onlySide(second) && shapeOf(first) === shapeOf(second)) add(first, second, side);
    }
  return found;
}

/** An exit of a side that the plan never enters. */
function deadExits(tree: Node): Slip[] {
  const entered = new Set<string>();
  const exits: { node: Node; side: "long" | "short" }[] = [];
  let mayTurn = false;
  simple(tree, {
    CallExpression(given) {
      const call = given as Part;
      const target = sideOf(call);
      if (target?.verb === "enter") entered.add(target.side);
      else if (target) exits.push({ node: call, side: target.side });
      if (call.callee?.property?.name === "goTo") mayTurn = true;
    },
    // Handed around whole: it can't be told which side is entered.
    MemberExpression(given) {
      const { computed, object } = given as Part;
      if (computed && (object?.name === "enter" || object?.property?.name === "enter")) mayTurn = true;
    },
    VariableDeclarator(given) {
      const { init } = given as Part;
      if (init?.name === "enter" || init?.object?.name === "enter") mayTurn = true;
    },
    ConditionalExpression(node) {
      if (/\benter\b/.test(namesIn(node))) mayTurn = true;
    },
  });
  if (mayTurn || entered.size === 0) return [];
  return exits
    .filter(({ side }) => !entered.has(side))
    .map(({ node, side }) => ({
      code: "dead exit",
      line: lineOf(node),
      text: `exit.${side} can never close anything: the plan never enters ${side}`,
      advice: "exit.long closes a long position, exit.short a short one. Which did you mean?",
    }));
}

/** Words that give a condition. */
const CONDITIONS =
  /^(crosses(Above|Below)?|is(Above|Below|AtOrAbove|AtOrBelow|Between|Rising|Falling|OnWeekday)|opensBetween|becomes|readCondition)$/;
const JOINS = /^(and|or|not)$/;

/** A condition asked as if it were an answer: it is an object, and so counts as true on every bar. */
function conditionsAsAnswers(tree: Node): Slip[] {
  const names = new Set<string>();
  /** Names that stand for something else as well, somewhere: it can't be told which is meant. */
  const otherwise = new Set<string>();
  const isCondition = (part: Part | undefined): boolean => {
    if (part?.type === "Identifier") return names.has(part.name!) && !otherwise.has(part.name!);
    if (part?.type !== "CallExpression") return false;
    const { callee } = part;
    const word = callee?.property?.name ?? callee?.name ?? "";
    return CONDITIONS.test(word) || (JOINS.test(word) && isCondition(callee?.object));
  };
  simple(tree, {
    VariableDeclarator(node) {
      const { id, init } = node as Part;
      if (id?.type === "Identifier") (isCondition(init ?? undefined) ? names : otherwise).add(id.name!);
    },
    AssignmentExpression(node) {
      const { left } = node as Part;
      if (left?.type === "Identifier") otherwise.add(left.name!);
    },
    Function({ params }) {
      for (const param of params) for (const name of namesIn(param).split(" ")) otherwise.add(name);
    },
  });
  const found = new Map<number, Slip>();
  const ask = (part: Part | undefined): void => {
    if (part?.type === "LogicalExpression") for (const side of [part.left, part.right]) ask(side);
    if (!part || !isCondition(part)) return;
    const said = part.name ?? part.callee?.name ?? "a condition";
    found.set(part.start, {
      code: "always true",
      line: lineOf(part),
      text: `"${said}" is asked as if it were true or false: it is a condition, and counts as true on every bar`,
      advice: "Ask whether it holds at the last bar: .now. Join conditions by a.and(b), a.or(b), a.not().",
    });
  };
  full(tree, (node) => {
    const part = node as Part;
    if (part.type === "IfStatement" || part.type === "ConditionalExpression" || part.type === "WhileStatement") ask(part.test);
    // What stands on its right may be handed on rather than asked.
    else if (part.type === "LogicalExpression" && part.operator !== "??") ask(part.left);
    else if (part.type === "UnaryExpression" && part.operator === "!") ask(part.argument ?? undefined);
  });
  return [...found.values()];
}

// --- the run -----------------------------------------------------------------------------------------------------------

/** Sides on which an entry meant to open, by line: how often one came while that side was open already. */
const REPEATS = 5;

function missingGuards(tree: Node, { orders, trades }: Pick<RunResult, "orders" | "trades">): Slip[] {
  const guarded = guardedLines(tree);
  const entryLines = new Set(entriesIn(tree).map(({ node }) => lineOf(node)));
  const openAt = { 1: openCounter(trades, 1), [-1]: openCounter(trades, -1) };
  const byLine = new Map<number, { entries: number; repeats: number }>();
  for (const order of orders) {
    if (order.intent === "exit" || !entryLines.has(order.line) || order.state !== "filled") continue;
    const count = byLine.get(order.line) ?? { entries: 0, repeats: 0 };
    count.entries++;
    // Its own trade can't be among them: it opens later than the order was sent.
    if (openAt[order.side](order.submittedTime) > 0) count.repeats++;
    byLine.set(order.line, count);
  }
  return [...byLine]
    .filter(([line, { entries, repeats }]) => repeats >= REPEATS && repeats > entries / 2 && !guarded.has(line))
    .map(([line, { entries, repeats }]) => ({
      code: "no guard",
      line,
      text: `${repeats} of ${entries} entries came while a position of that side was open`,
      advice: "The order repeats on every bar on which its condition holds. Ask position.flat first, or wait with when(becomes(…), …).",
    }));
}

/** How many trades of a side are open at a time, their ends excluded. O(n log n) to make, O(log n) to ask. */
function openCounter(trades: readonly Trade[], side: 1 | -1): (timeMs: number) => number {
  const lasting = trades.filter((trade) => trade.side === side && trade.exitTime > trade.entryTime);
  const entries = Float64Array.from(lasting, ({ entryTime }) => entryTime).sort();
  const exits = Float64Array.from(lasting, ({ exitTime }) => exitTime).sort();
  // Times are whole milliseconds.
  return (timeMs) => firstAtOrAfter(entries, timeMs, entries.length) - firstAtOrAfter(exits, timeMs + 1, exits.length);
}

/** Lines of entries whose handler, or an if around them, asks for the position or the orders. */
function guardedLines(tree: Node): Set<number> {
  const lines = new Set<number>();
  ancestor(tree, {
    CallExpression(call, _state, ancestors) {
      if (sideOf(call as Part)?.verb !== "enter") return;
      const handler = ancestors.findLast(({ type }) => /Function/.test(type));
      if (handler && /\b(position|orders|lots|units|flat)\b/.test(namesIn(handler))) lines.add(lineOf(call));
    },
  });
  return lines;
}

function missingStops({ trades }: Pick<RunResult, "trades">): Slip[] {
  const byLine = new Map<number, { all: number; bare: number }>();
  for (const trade of trades) {
    const count = byLine.get(trade.entryLine) ?? { all: 0, bare: 0 };
    count.all++;
    if (trade.risk === null && trade.rails.every(({ stop }) => stop === null)) count.bare++;
    byLine.set(trade.entryLine, count);
  }
  return [...byLine]
    .filter(([line, { bare }]) => bare > 0 && line > 0)
    .map(([line, { all, bare }]) => ({
      code: "no stop",
      line,
      text: bare === all ? `all ${all} trades sent by this line had no stop` : `${bare} of ${all} trades sent by this line had no stop`,
      advice: "One bad session can take what a year has made. Give the entry a stopLoss, or set one in on.opened.",
    }));
}

const DEAF_TRADES = 20;
const DEAF_SHARE = 0.5;

/** A target that price has never come half way to, in many trades. */
function deafTargets({ trades }: Pick<RunResult, "trades">): Slip[] {
  const byLine = new Map<number, { count: number; best: number; hit: boolean }>();
  for (const trade of trades) {
    const target = trade.rails.find((rail) => rail.target !== null)?.target;
    if (target === undefined || target === null || trade.entryLine === 0) continue;
    const state = byLine.get(trade.entryLine) ?? { count: 0, best: 0, hit: false };
    const moneyPerPoint =
      trade.exitPrice === trade.entryPrice
        ? 0
        : (trade.net + trade.commission + trade.financing) / (trade.side * (trade.exitPrice - trade.entryPrice));
    const needed = Math.abs(target - trade.entryPrice) * Math.abs(moneyPerPoint);
    state.count++;
    if (needed > 0) state.best = Math.max(state.best, trade.mfe / needed);
    state.hit ||= trade.reason === "target";
    byLine.set(trade.entryLine, state);
  }
  return [...byLine]
    .filter(([, { count, best, hit }]) => count >= DEAF_TRADES && !hit && best < DEAF_SHARE)
    .map(([line, { count, best }]) => ({
      code: "dead exit",
      line,
      text: `The target was never reached in ${count} trades; the nearest came ${Math.round(best * 100)} % of the way`,
      advice: "An exit that never fires is no exit. Check its unit and number.",
    }));
}
