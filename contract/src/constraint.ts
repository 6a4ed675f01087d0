/**
 * Conditions between inputs of a sweep, such as `fast < slow` or `target >= 2 * stop`, and links, such as
 * `slow = 3 * fast`: read once, asked of every variant.
 */
import { type InputSpec, type InputValue, inputProblem, PlanTesterError } from "@plan-tester/core";

type Values = Readonly<Record<string, InputValue>>;
type Term = (values: Values) => number;
export type Constraint = (values: Values) => boolean;

/** An input that follows others. */
export interface Link {
  readonly input: string;
  /** Its value beside the others, rounded to what the input takes; null where it would leave its bounds. */
  readonly follow: (values: Values) => InputValue | null;
}

const COMPARE: Readonly<Record<string, (a: number, b: number) => boolean>> = {
  "<": (a, b) => a < b,
  "<=": (a, b) => a <= b,
  ">": (a, b) => a > b,
  ">=": (a, b) => a >= b,
  "=": (a, b) => a === b,
  "!=": (a, b) => a !== b,
};

const TOKENS = /\d+(?:\.\d+)?|[A-Za-z_][\w.]*|<=|>=|!=|[<>=+\-*/()]|\S/g;

/** Reads sums of numbers and names, token by token. */
class Reader {
  readonly #text: string;
  readonly #names: readonly string[];
  readonly #tokens: readonly string[];
  #at = 0;

  constructor(text: string, names: readonly string[]) {
    this.#text = text;
    this.#names = names;
    this.#tokens = text.match(TOKENS) ?? [];
  }

  next(): string | undefined {
    return this.#tokens[this.#at++];
  }

  end(): void {
    if (this.#at < this.#tokens.length) throw this.wrong(`"${this.#tokens[this.#at]}" is left over`);
  }

  wrong(what: string): PlanTesterError {
    const message = `The condition "${this.#text}" can't be read: ${what}. Write e.g. fast < slow, or slow = 3 * fast.`;
    return new PlanTesterError("bad-input", message, { constraint: this.#text });
  }

  sum(): Term {
    return this.#chain(() => this.#product(), { "+": (a, b) => a + b, "-": (a, b) => a - b });
  }

  #product(): Term {
    return this.#chain(() => this.#factor(), { "*": (a, b) => a * b, "/": (a, b) => a / b });
  }

  #chain(next: () => Term, signs: Readonly<Record<string, (a: number, b: number) => number>>): Term {
    let left = next();
    for (let token = this.#tokens[this.#at]; token !== undefined && token in signs; token = this.#tokens[this.#at]) {
      this.#at++;
      const [before, act, after] = [left, signs[token]!, next()];
      left = (values) => act(before(values), after(values));
    }
    return left;
  }

  #factor(): Term {
    const token = this.next();
    if (token === undefined) throw this.wrong("it ends too early");
    if (token === "-") {
      const inner = this.#factor();
      return (values) => -inner(values);
    }
    if (token === "(") {
      const inner = this.sum();
      if (this.next() !== ")") throw this.wrong("a bracket is not closed");
      return inner;
    }
    if (/^\d/.test(token)) return () => Number(token);
    if (!/^[A-Za-z_]/.test(token)) throw this.wrong(`"${token}" stands where a number or a name should`);
    if (!this.#names.includes(token)) throw this.wrong(`the plan has no input "${token}"; it has ${this.#names.join(", ")}`);
    return (values) => Number(values[token]);
  }
}

/**
 * Numbers, names of inputs, + - * / and brackets on both sides of one comparison. Yes and no count as 1 and 0.
 * @throws PlanTesterError bad-input saying where it can't be read, or which name no input has.
 */
export function readConstraint(text: string, names: readonly string[]): Constraint {
  const reader = new Reader(text, names);
  const left = reader.sum();
  const compare = COMPARE[reader.next() ?? ""];
  if (!compare) throw reader.wrong("a comparison such as < is missing");
  const right = reader.sum();
  reader.end();
  return (values) => compare(left(values), right(values));
}

/**
 * A name that is not varied, an equals sign and a sum: the input follows the others. null where the text is no link.
 * @throws PlanTesterError bad-input when what follows can't be read, or the input is no number.
 */
export function readLink(text: string, specs: readonly InputSpec[], varied: readonly string[]): Link | null {
  const match = /^\s*([A-Za-z_][\w.]*)\s*=(.+)$/.exec(text);
  const spec = specs.find(({ name }) => name === match?.[1]);
  if (!match || !spec || varied.includes(spec.name)) return null;
  const reader = new Reader(
    match[2]!,
    specs.map(({ name }) => name),
  );
  if (spec.kind !== "whole" && spec.kind !== "decimal") throw reader.wrong(`${spec.label} is no number and can't follow others`);
  const term = reader.sum();
  reader.end();
  const round = (value: number): number => (spec.kind === "whole" ? Math.round(value) : Number(value.toPrecision(12)));
  return {
    input: spec.name,
    follow: (values) => {
      const value = round(term(values));
      return inputProblem(spec, value) ? null : value;
    },
  };
}
