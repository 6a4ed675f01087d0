/**
 * `mirrored((side) => ...)` written out as what it does: its body for longs, and once more turned for shorts, with names of
 * their own. What reads programs then needs to know nothing of it.
 */
import type { Node } from "acorn";
import { full } from "acorn-walk";
import { argumentsOf, type Part } from "../syntax.ts";

const TURNED: Readonly<Record<string, string>> = {
  crossesAbove: "crossesBelow",
  crossesBelow: "crossesAbove",
  isAbove: "isBelow",
  isBelow: "isAbove",
  isAtOrAbove: "isAtOrBelow",
  isAtOrBelow: "isAtOrAbove",
  isRising: "isFalling",
  isFalling: "isRising",
  high: "low",
  low: "high",
  highest: "lowest",
  lowest: "highest",
  upper: "lower",
  lower: "upper",
};

type Made = { -readonly [Key in keyof Part]: Part[Key] };

/** Puts the unfolded bodies in the place of every call of `mirrored` that stands as a statement. In place. */
export function unfoldMirrored(tree: Node): void {
  full(tree, (node) => {
    const { body } = node as Made;
    if (!Array.isArray(body)) return;
    (node as Made).body = (body as readonly Part[]).map((statement) => unfolded(statement) ?? statement);
  });
}

function unfolded(statement: Part): Part | null {
  const call = statement.type === "ExpressionStatement" ? (statement.expression as Part) : null;
  if (call?.type !== "CallExpression" || call.callee?.name !== "mirrored") return null;
  const write = argumentsOf(call)[0];
  const side = write?.params?.[0]?.name;
  if (!write?.body || !side) return null;
  const own = new Set<string>();
  full(write.body as Node, (node) => {
    const { type, id } = node as Part;
    if ((type === "VariableDeclarator" || type === "FunctionDeclaration") && id?.name) own.add(id.name);
  });
  const written = [1, -1].map((sign) => new SideWriter(side, sign > 0, own).copy(write.body as Part));
  return { ...statement, type: "BlockStatement", body: written } as Part;
}

class SideWriter {
  readonly #side: string;
  readonly #isLong: boolean;
  readonly #own: ReadonlySet<string>;

  constructor(side: string, isLong: boolean, own: ReadonlySet<string>) {
    this.#side = side;
    this.#isLong = isLong;
    this.#own = own;
  }

  get #name(): "long" | "short" {
    return this.#isLong ? "long" : "short";
  }

  copy(node: Part): Part {
    return this.#ofSide(node) ?? this.#plain(node);
  }

  #plain(node: Part): Part {
    const made: Record<string, unknown> = {};
    for (const [key, value] of Object.entries(node)) {
      // Names of properties are nobody's variables.
      const isPropertyName = (key === "property" || key === "key") && node.computed !== true;
      made[key] = isPropertyName ? value : this.#value(value);
    }
    if (node.type === "Identifier" && this.#own.has(node.name!) && !this.#isLong) made.name = `${node.name}Short`;
    return made as unknown as Part;
  }

  #value(value: unknown): unknown {
    if (Array.isArray(value)) return value.map((one) => this.#value(one));
    return typeof value === "object" && value !== null && "type" in value ? this.copy(value as Part) : value;
  }

  #isSide = (node: Part | undefined): boolean => node?.type === "Identifier" && node.name === this.#side;

  /** What a word of the side stands for; null for what is none. */
  #ofSide(node: Part): Part | null {
    if (node.type === "MemberExpression" && this.#isSide(node.object)) return this.#member(node);
    if (node.type === "CallExpression" && node.callee?.type === "MemberExpression" && this.#isSide(node.callee.object))
      return this.#call(node);
    return null;
  }

  #member(node: Part): Part {
    const word = node.property?.name ?? "";
    const named = (name: string): Part => ({ ...node.object!, type: "Identifier", name }) as Part;
    if (word === "enter" || word === "exit") return { ...node, object: named(word), property: named(this.#name) } as Part;
    if (word === "isOpen") return { ...node, object: named("position"), property: named(this.#name) } as Part;
    if (word === "name") return { ...node, type: "Literal", value: this.#name } as Part;
    if (word === "sign") return { ...node, type: "Literal", value: this.#isLong ? 1 : -1 } as Part;
    return node;
  }

  #call(node: Part): Part | null {
    const callee = node.callee!;
    const word = callee.property?.name ?? "";
    if (word === "enter" || word === "exit")
      return { ...node, callee: this.#member(callee), arguments: this.#value(node.arguments) } as Part;
    const [first, second] = argumentsOf(node).map((given) => this.copy(given));
    const turned = this.#isLong ? word : (TURNED[word] ?? word);
    const named = (name: string): Part => ({ ...callee.property!, type: "Identifier", name }) as Part;
    const partOf = (object: Part, name: string): Part =>
      ({ ...node, type: "MemberExpression", computed: false, object, property: named(name) }) as Part;
    if (!first) return null;
    switch (word) {
      case "high":
      case "low":
      case "upper":
      case "lower":
        return partOf(first, turned);
      case "highest":
      case "lowest":
        return {
          ...node,
          callee: named(turned),
          arguments: [partOf(first, turned === "highest" ? "high" : "low"), ...(second ? [second] : [])],
        } as Part;
      case "threshold": {
        if (this.#isLong) return first;
        const [value, middle] = [first.value, second?.value];
        if (typeof value !== "number" || typeof middle !== "number") return null;
        const turnedValue = 2 * middle - value;
        return { ...first, value: turnedValue, raw: String(turnedValue) } as Part;
      }
      case "beyond":
        return second ? ({ ...node, callee: partOf(first, this.#isLong ? "plus" : "minus"), arguments: [second] } as Part) : null;
    }
    return word in TURNED ? ({ ...node, callee: named(turned), arguments: this.#value(node.arguments) } as Part) : null;
  }
}
