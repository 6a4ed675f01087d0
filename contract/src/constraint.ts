/** Conditions between inputs of a sweep, such as `fast < slow` or `target >= 2 * stop`: read once, asked of every variant. */
import { type InputValue, PlanTesterError } from "@plan-tester/core";

type Values = Readonly<Record<string, InputValue>>;
type Term = (values: Values) => number;
export type Constraint = (values: Values) => boolean;

const COMPARE: Readonly<Record<string, (a: number, b: number) => boolean>> = {
  "<": (a, b) => a < b,
  "<=": (a, b) => a <= b,
  ">": (a, b) => a > b,
  ">=": (a, b) => a >= b,
  "=": (a, b) => a === b,
  "!=": (a, b) => a !== b,
};

/**
 * Numbers, names of inputs, + - * / and brackets on both sides of one comparison. Yes and no count as 1 and 0.
 * @throws PlanTesterError bad-input saying where it can't be read, or which name no input has.
 */
export function readConstraint(text: string, names: readonly string[]): Constraint {
  const tokens = text.match(/\d+(?:\.\d+)?|[A-Za-z_]\w*|<=|>=|!=|[<>=+\-*/()]|\S/g) ?? [];
  let at = 0;
  const wrong = (what: string): PlanTesterError =>
    new PlanTesterError("bad-input", `The condition "${text}" can't be read: ${what}. Write e.g. fast < slow.`, { constraint: text });
  const factor = (): Term => {
    const token = tokens[at++];
    if (token === undefined) throw wrong("it ends too early");
    if (token === "-") {
      const inner = factor();
      return (values) => -inner(values);
    }
    if (token === "(") {
      const inner = sum();
      if (tokens[at++] !== ")") throw wrong("a bracket is not closed");
      return inner;
    }
    if (/^\d/.test(token)) return () => Number(token);
    if (!/^[A-Za-z_]/.test(token)) throw wrong(`"${token}" stands where a number or a name should`);
    if (!names.includes(token)) throw wrong(`the plan has no input "${token}"; it has ${names.join(", ")}`);
    return (values) => Number(values[token]);
  };
  const chain = (next: () => Term, signs: Readonly<Record<string, (a: number, b: number) => number>>): Term => {
    let left = next();
    while (tokens[at] !== undefined && tokens[at]! in signs) {
      const [before, act, after] = [left, signs[tokens[at++]!]!, next()];
      left = (values) => act(before(values), after(values));
    }
    return left;
  };
  const product = (): Term => chain(factor, { "*": (a, b) => a * b, "/": (a, b) => a / b });
  const sum = (): Term => chain(product, { "+": (a, b) => a + b, "-": (a, b) => a - b });
  const left = sum();
  const compare = COMPARE[tokens[at++] ?? ""];
  if (!compare) throw wrong("a comparison such as < is missing");
  const right = sum();
  if (at < tokens.length) throw wrong(`"${tokens[at]}" is left over`);
  return (values) => compare(left(values), right(values));
}
