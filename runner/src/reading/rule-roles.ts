/**
 * What a named condition is to its plan, by where its name stands: what has to be put in its place to take it out. A filter,
 * joined by "and", counts as true without it; an alternative, or what only closes, never holds.
 */
import type { Node } from "acorn";
import { fullAncestor } from "acorn-walk";
import { planTree } from "../compile.ts";
import { splitModules } from "../modules.ts";
import { argumentsOf, lineOf, type Part } from "../syntax.ts";
import { shortText, waitsFor } from "../trace-marks.ts";

export interface NamedRule {
  readonly name: string;
  readonly line: number;
  /** What it is taken for where the plan is run without it. */
  readonly without: "always" | "never";
}

const ENTERS = /\b(enter|goTo)\b/;
const CLOSES = /\b(close|reduce|exit|cancel)\b/;
const JOINING: ReadonlySet<string> = new Set(["and", "or", "not", "becomes"]);
const MOST_ALIASES = 20;

/**
 * Names to which the plan's own text gives a value, and conditions written out where they are waited for under their text, in
 * order of their lines; which of the names are conditions only a run tells.
 * @throws PlanTesterError bad-plan with line and column when the text can't be read
 */
export function namedRules(source: string): readonly NamedRule[] {
  const { script, tree } = planTree(splitModules(source).plan);
  const uses = new Map<string, Part[][]>();
  const lines = new Map<string, number>();
  /** Conditions written out where they are waited for, by their text. */
  const waited = new Map<string, Pick<NamedRule, "line" | "without">>();
  const roles = new RoleFinder(script, uses);
  fullAncestor(tree, (node: Node, _state: unknown, ancestors: Node[]) => {
    const part = node as Part;
    const [first, handler] = argumentsOf(part);
    // What is joined of named conditions says nothing that they do not.
    const isOwn = !JOINING.has(first?.callee?.property?.name ?? first?.callee?.name ?? "");
    if (part.type === "CallExpression" && isOwn && waitsFor(part.callee, first)) {
      const without = roles.onlyCloses(handler) ? "never" : "always";
      waited.set(shortText(script.slice(first!.start, first!.end)), { line: lineOf(first!), without });
    }
    if (part.type === "VariableDeclarator" && part.id?.type === "Identifier" && part.init) lines.set(part.id.name!, lineOf(node));
    if (part.type !== "Identifier") return;
    const found = uses.get(part.name!);
    if (found) found.push([...(ancestors as Part[])]);
    else uses.set(part.name!, [[...(ancestors as Part[])]]);
  });
  const named = [...lines].map(([name, line]): NamedRule => ({ name, line, without: roles.neutralOf(name) ? "always" : "never" }));
  return [...named, ...[...waited].map(([name, rest]) => ({ name, ...rest }))].sort((a, b) => a.line - b.line);
}

class RoleFinder {
  readonly #script: string;
  readonly #uses: ReadonlyMap<string, readonly (readonly Part[])[]>;

  constructor(script: string, uses: ReadonlyMap<string, readonly (readonly Part[])[]>) {
    this.#script = script;
    this.#uses = uses;
  }

  /** The value at which a condition leaves what is made of it to the rest: by the first of its uses that says so. */
  neutralOf(name: string, depth = 0): boolean {
    if (depth > MOST_ALIASES) return true;
    for (const ancestors of this.#uses.get(name) ?? []) {
      const value = this.#neutralAt(ancestors, depth);
      if (value !== null) return value;
    }
    return true;
  }

  #neutralAt(ancestors: readonly Part[], depth: number): boolean | null {
    let isTurned = false;
    const answer = (value: boolean): boolean => value !== isTurned;
    for (let at = ancestors.length - 1; at > 0; at--) {
      const [node, parent, grand] = [ancestors[at]!, ancestors[at - 1]!, ancestors[at - 2]];
      if (parent.type === "MemberExpression" && parent.object === node) {
        const word = parent.property?.name;
        if (word === "and") return answer(true);
        if (word === "or") return answer(false);
        if (word === "not") isTurned = !isTurned;
        // Case: x.not() and x.ago(1) are calls of what is now the parent.
        if (grand?.type === "CallExpression" && grand.callee === parent) at--;
      } else if (parent.type === "CallExpression" && argumentsOf(parent).includes(node)) {
        const word = parent.callee?.property?.name ?? parent.callee?.name;
        if (word === "and") return answer(true);
        if (word === "or") return answer(false);
        if (word === "when" || word === "during") return answer(!this.onlyCloses(argumentsOf(parent)[1]));
        if (word !== "becomes") return answer(true);
      } else if (parent.type === "LogicalExpression") return answer(parent.operator !== "||");
      else if (parent.type === "UnaryExpression" && parent.operator === "!") isTurned = !isTurned;
      else if (parent.type === "VariableDeclarator")
        return parent.init === node && parent.id?.name ? answer(this.neutralOf(parent.id.name, depth + 1)) : null;
      else if ((parent.type === "IfStatement" || parent.type === "ConditionalExpression") && parent.test === node)
        return answer(!this.onlyCloses(parent.consequent) && !this.#leaves(parent.consequent));
      else return null;
    }
    return null;
  }

  #textOf(part: Part | undefined): string {
    return part ? this.#script.slice(part.start, part.end) : "";
  }

  onlyCloses(part: Part | undefined): boolean {
    const text = this.#textOf(part);
    return CLOSES.test(text) && !ENTERS.test(text);
  }

  /** Whether it does nothing but leave: `if (isLate.now) return;`. */
  #leaves(part: Part | undefined): boolean {
    return /^\{?\s*(return|continue)\b[^;]*;?\s*\}?$/.test(this.#textOf(part));
  }
}
