/**
 * Studies as plain text, for the command line: `ema(close, 20)`, `highest(high, 10)[1]`, `bollinger(close, 20, 2).upper`.
 *
 *   expression = term [ "[" whole number "]" ]
 *   term       = price | name "(" arguments ")" [ "." output ]
 *   argument   = expression | number
 */
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { studyNamed } from "./catalogue.ts";
import { type ColumnValues, checkNumbers, newColumn } from "./definition.ts";

const PRICES = ["open", "high", "low", "close", "volume"] as const;
const TOKEN = /\s*(?:([A-Za-z]\w*)|(-?\d+(?:\.\d+)?)|([()[\],.]))/y;

interface Token {
  readonly text: string;
  readonly kind: "name" | "number" | "mark";
  readonly at: number;
}

function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  const end = text.trimEnd().length;
  while (TOKEN.lastIndex < end) {
    const at = TOKEN.lastIndex;
    const match = TOKEN.exec(text);
    if (!match) throw unreadable(text, at, "an unexpected character");
    const [, name, number, mark] = match;
    tokens.push({ text: (name ?? number ?? mark)!, kind: name ? "name" : number ? "number" : "mark", at });
  }
  return tokens;
}

function unreadable(text: string, at: number, what: string): PlanTesterError {
  return new PlanTesterError(
    "bad-study",
    `Can't read the study "${text}" at character ${at + 1}: ${what}. Write it like ema(close, 20) or highest(high, 10)[1].`,
    {
      expression: text,
      at,
    },
  );
}

/**
 * Computes one study expression over bars.
 * @returns a column as long as the bars, NaN during warm-up.
 * @throws PlanTesterError bad-study saying what could not be read or which number is out of bounds.
 */
export function evaluateStudy(text: string, bars: BarSeries): ColumnValues {
  const tokens = tokensOf(text);
  let position = 0;
  const peek = (): Token | undefined => tokens[position];
  const fail = (what: string): PlanTesterError => unreadable(text, peek()?.at ?? text.length, what);
  const take = (mark: string): void => {
    if (peek()?.text !== mark) throw fail(`"${mark}" is expected here`);
    position++;
  };

  function expression(): ColumnValues {
    const column = term();
    if (peek()?.text !== "[") return column;
    take("[");
    const back = peek();
    if (back?.kind !== "number" || !/^\d+$/.test(back.text)) throw fail("a whole number of bars back is expected");
    position++;
    take("]");
    return displaced(column, Number(back.text));
  }

  function term(): ColumnValues {
    const token = peek();
    if (token?.kind !== "name") throw fail("a study or a price is expected");
    position++;
    const price = PRICES.find((field) => field === token.text);
    if (price && peek()?.text !== "(") return { values: bars[price], first: 0 };
    const definition = studyNamed(token.text);
    const columns: ColumnValues[] = [];
    const numbers: number[] = [];
    take("(");
    while (peek() && peek()?.text !== ")") {
      const argument = peek()!;
      if (argument.kind === "number") {
        numbers.push(Number(argument.text));
        position++;
      } else columns.push(expression());
      if (peek()?.text === ",") position++;
      else if (peek()?.text !== ")") throw fail('"," or ")" is expected');
    }
    take(")");
    const wanted = definition.inputs.filter((input) => input.kind === "column").length;
    if (columns.length !== wanted)
      throw fail(`${definition.name} takes ${wanted} column${wanted === 1 ? "" : "s"}, it got ${columns.length}`);
    const declared = definition.inputs.filter((input) => input.kind === "number");
    if (numbers.length > declared.length) throw fail(`${definition.name} takes ${declared.length} numbers, it got ${numbers.length}`);
    const filled = declared.map((input, i) => numbers[i] ?? input.default);
    checkNumbers(definition, filled);
    const outputs = definition.compute({ bars, columns, numbers: filled });
    return outputs[outputOf(definition.outputs)]!;
  }

  function outputOf(outputs: readonly string[]): number {
    if (peek()?.text !== ".") return 0;
    take(".");
    const index = outputs.indexOf(peek()?.text ?? "");
    if (index < 0) throw fail(`one of ${outputs.join(", ")} is expected`);
    position++;
    return index;
  }

  const result = expression();
  if (position < tokens.length) throw fail("the expression should end here");
  return result;
}

/** The column as it was `back` bars ago. */
export function displaced(column: ColumnValues, back: number): ColumnValues {
  const values = newColumn(column.values.length, back);
  values.set(column.values.subarray(0, Math.max(0, values.length - back)), Math.min(back, values.length));
  return { values, first: column.first + back };
}
