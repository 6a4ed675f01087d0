/** Expressions of the plan language in words. What can't be put into words is quoted as it is written. */
import { RELATION_CALLS, SHEET_PRICES, STUDIES, spokenStudy, studyNamed } from "@plan-tester/core";
import { argumentsOf, type Part } from "../syntax.ts";
import type { Names } from "./names.ts";

const STUDY_NAMES: ReadonlySet<string> = new Set(STUDIES.map(({ name }) => name));
const PRICES: ReadonlySet<string> = new Set(SHEET_PRICES);

/** What relations are called in words, by their word of the language. */
const RELATIONS: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(RELATION_CALLS).map(([words, call]) => [call, words]),
);
const COMPARISONS: Readonly<Record<string, string>> = {
  ">": "is above",
  "<": "is below",
  ">=": "is at or above",
  "<=": "is at or below",
  "===": "is",
  "==": "is",
  "!==": "is not",
  "!=": "is not",
};
const OPPOSITES: Readonly<Record<string, string>> = {
  ">": "<=",
  "<": ">=",
  ">=": "<",
  "<=": ">",
  "===": "!==",
  "!==": "===",
  "==": "!=",
  "!=": "==",
};
const ARITHMETIC: Readonly<Record<string, string>> = { "+": "plus", "-": "minus", "*": "times", "/": "over" };
const OF_POSITION: Readonly<Record<string, readonly [string, string]>> = {
  flat: ["no position is open", "a position is open"],
  long: ["a long is open", "no long is open"],
  short: ["a short is open", "no short is open"],
};
const POSITION_VALUES: Readonly<Record<string, string>> = {
  units: "the open units",
  entryPrice: "the entry price",
  barsHeld: "the bars held",
  profit: "the open profit",
  stop: "the stop",
  target: "the target",
  highest: "the highest price since the entry",
  lowest: "the lowest price since the entry",
};
const MOST_QUOTED = 90;
const DEEPEST = 12;
/** Longer words than these are no help: what they are of is quoted. */
const MOST_SAID = 500;
/** Expressions of one program that are put into words; beyond them all is quoted. */
const MOST_WORK = 50_000;

export class Speaker {
  readonly #script: string;
  readonly #names: Names;
  #depth = 0;
  #work = 0;

  constructor(script: string, names: Names) {
    this.#script = script;
    this.#names = names;
  }

  /** As it is written. */
  quote({ start, end }: Part): string {
    const text = this.#script.slice(start, end).replace(/\s+/g, " ");
    return `\`${text.length > MOST_QUOTED ? `${text.slice(0, MOST_QUOTED - 2)} …` : text}\``;
  }

  say(node: Part): string {
    if (this.#depth >= DEEPEST || ++this.#work > MOST_WORK) return this.quote(node);
    this.#depth++;
    try {
      const words = this.#say(node);
      return words === null || words.length > MOST_SAID ? this.quote(node) : words;
    } finally {
      this.#depth--;
    }
  }

  /** In brackets where it is made of parts. */
  #part(node: Part): string {
    const words = this.say(node);
    return / (?:plus|minus|times|over|and|or) /.test(words) && !words.startsWith("`") ? `(${words})` : words;
  }

  /** What a name stands for: a constant's value, or the node itself. */
  resolve(node: Part): Part {
    const known = node.type === "Identifier" ? this.#names.constants.get(node.name!) : undefined;
    return known ?? node;
  }

  #say(node: Part): string | null {
    switch (node.type) {
      case "Literal":
        return String(node.value);
      case "Identifier": {
        const known = this.#names.constants.get(node.name!);
        return known ? this.say(known) : null;
      }
      case "MemberExpression":
        return this.#member(node);
      case "CallExpression":
        return this.#call(node);
      case "LogicalExpression":
        return `${this.#part(node.left!)} ${node.operator === "&&" ? "and" : "or"} ${this.#part(node.right!)}`;
      case "UnaryExpression":
        if (node.operator === "!") return this.not(node.argument!);
        return node.operator === "-" ? `−${this.#part(node.argument!)}` : null;
      case "BinaryExpression": {
        const working = this.#workingOrders(node);
        if (working !== null) return working;
        const isSame = /^[!=]==?$/.test(node.operator!);
        const [left, right] = [this.#side(node.left!, isSame), this.#side(node.right!, isSame)];
        const word = COMPARISONS[node.operator!] ?? ARITHMETIC[node.operator!];
        return word ? `${left} ${word} ${right}` : null;
      }
      default:
        return null;
    }
  }

  /** Whether orders work, where their number is held against 0. */
  #workingOrders({ left, right, operator }: Part): string | null {
    if (left?.property?.name !== "length" || left.object?.property?.name !== "working" || right?.value !== 0) return null;
    if (operator === ">" || operator === "!==") return "an order works";
    return operator === "===" || operator === "<=" ? "no order works" : null;
  }

  /** Of an input that is a word, its name: which word it is set to is what is asked. */
  #side(node: Part, isSame: boolean): string {
    return isSame && node.type === "MemberExpression" && node.object?.name === "inputs" ? this.quote(node) : this.#part(node);
  }

  /** That it does not hold. */
  not(node: Part): string {
    const { type, operator } = node;
    if (type === "UnaryExpression" && operator === "!") return this.say(node.argument!);
    if (type === "LogicalExpression") return `${this.not(node.left!)} ${operator === "&&" ? "or" : "and"} ${this.not(node.right!)}`;
    if (type === "BinaryExpression" && OPPOSITES[operator!]) return this.say({ ...node, operator: OPPOSITES[operator!]! });
    if (type === "MemberExpression" && (node.object?.name === "position" || node.object?.property?.name === "position")) {
      const words = OF_POSITION[node.property?.name ?? ""];
      if (words) return words[1];
    }
    return `it is not so that ${this.say(node)}`;
  }

  /** " on 1h in BRIN" of an expression that gives bars; null for what gives none. */
  #where(node: Part): string | null {
    const part = this.resolve(node);
    if (part.type === "Identifier") return part.name === "bars" ? "" : null;
    if (part.type === "MemberExpression" && part.property?.name === "bars") {
      const market = this.resolve(part.object!);
      const symbol = market.type === "CallExpression" && market.callee?.name === "market" ? argumentsOf(market)[0] : undefined;
      return symbol ? ` in ${this.say(symbol)}` : null;
    }
    if (part.type === "CallExpression" && part.callee?.property?.name === "at") {
      const base = this.#where(part.callee.object!);
      const [timeframe] = argumentsOf(part);
      return base === null || !timeframe ? null : ` on ${this.say(timeframe)}${base}`;
    }
    return null;
  }

  #member(node: Part): string | null {
    const name = node.computed ? "" : (node.property?.name ?? "");
    const object = node.object!;
    if (object.name === "inputs") return this.#names.inputs.get(name) ?? null;
    if (object.name === "position" || object.property?.name === "position") return OF_POSITION[name]?.[0] ?? POSITION_VALUES[name] ?? null;
    if (object.name === "account") return name === "equity" || name === "cash" ? name : null;
    if (name === "now" || name === "forming") return this.say(object);
    if (PRICES.has(name)) {
      const where = this.#where(object);
      if (where !== null) return `${name}${where}`;
    }
    if (name === "tickSize") return "a tick";
    const study = this.resolve(object);
    return study.type === "CallExpression" ? this.#study(study, name) : null;
  }

  #study(call: Part, output = ""): string | null {
    const name = call.callee?.name ?? "";
    if (!STUDY_NAMES.has(name)) return null;
    const { inputs, outputs } = studyNamed(name);
    const given = argumentsOf(call);
    const [numbers, sources]: [string[], string[]] = [[], []];
    let where = "";
    for (const [i, input] of inputs.entries()) {
      const value = given[i];
      if (input.kind === "number") numbers.push(value ? this.say(value) : String(input.default));
      else if (!value) return null;
      else if (input.kind === "column") sources.push(this.#part(value));
      else {
        const on = this.#where(value);
        if (on === null) return null;
        where = on;
      }
    }
    const column = outputs.length > 1 ? ` ${output || outputs.join(" and ")}` : "";
    const span = numbers.length > 0 ? ` (${numbers.join(", ")})` : "";
    return `the ${spokenStudy(name)}${column}${span}${sources.length > 0 ? ` of ${sources.join(" and ")}` : ""}${where}`;
  }

  #call(node: Part): string | null {
    const callee = node.callee!;
    const given = argumentsOf(node);
    return callee.type === "Identifier" ? this.#named(node, callee.name!, given) : this.#method(callee, given);
  }

  #named(node: Part, name: string, given: readonly Part[]): string | null {
    const [a, b, c] = given;
    if (RELATIONS[name] && a && b) return `${this.#part(a)} ${RELATIONS[name]} ${this.#part(b)}`;
    if (STUDY_NAMES.has(name)) return this.#study(node);
    const own = this.#names.functions.get(name);
    // A function without arguments that only gives an expression is that expression.
    if (own && given.length === 0 && own.body && !Array.isArray(own.body) && (own.body as Part).type !== "BlockStatement")
      return this.say(own.body as Part);
    switch (name) {
      case "becomes":
        return a ? `${this.#part(a)} begins to hold` : null;
      case "isBetween":
        return a && b && c ? `${this.#part(a)} is between ${this.say(b)} and ${this.say(c)}` : null;
      case "isRising":
      case "isFalling":
        return a ? `${this.#part(a)} is ${name === "isRising" ? "rising" : "falling"} for ${b ? this.say(b) : 1} bars` : null;
      case "barsSince":
        return a ? `the bars since ${this.say(a)}` : null;
      case "countOf":
        return a && b ? `the number of the last ${this.say(b)} bars on which ${this.say(a)}` : null;
      case "valueWhen":
        return a && b ? `the value of ${this.say(b)} when ${this.say(a)}` : null;
      case "highestSince":
      case "lowestSince":
        return a && b ? `the ${name.slice(0, name.indexOf("S"))} of ${this.say(b)} since ${this.say(a)}` : null;
      case "larger":
      case "smaller":
        return a && b ? `the ${name} of ${this.say(a)} and ${this.say(b)}` : null;
      case "opensBetween":
        return b && c ? `the bar opens between ${this.say(b)} and ${this.say(c)}` : null;
      case "readColumn":
      case "readCondition":
        return a ? this.say(a) : null;
      default:
        return null;
    }
  }

  #method(callee: Part, given: readonly Part[]): string | null {
    const name = callee.property?.name ?? "";
    const object = callee.object!;
    const [a, b] = given;
    if (object.name === "Math") return name === "abs" && a ? `the size of ${this.#part(a)}` : null;
    if (object.name === "clock") {
      if (name === "between" && a && b) return `the time is from ${this.say(a)} to ${this.say(b)}`;
      if (name === "before" && a) return `the time is before ${this.say(a)}`;
      if (name === "atOrAfter" && a) return `the time is ${this.say(a)} or later`;
      return null;
    }
    switch (name) {
      case "and":
      case "or":
        return a ? `${this.#part(object)} ${name} ${this.#part(a)}` : null;
      case "not":
        return this.not(object);
      case "earlier":
      case "ago":
        return a ? `${this.#part(object)} ${this.say(a)} ${this.say(a) === "1" ? "bar" : "bars"} ago` : null;
      case "plus":
      case "minus":
      case "times":
      case "over":
        return a ? `${this.#part(object)} ${name} ${this.#part(a)}` : null;
      case "abs":
        return `the size of ${this.#part(object)}`;
      default:
        return null;
    }
  }
}
