/**
 * Studies and conditions as plain text, for the command line, exit kits, rule sheets and text inputs:
 * `ema(close, 20)`, `highest(high, 10)[1]`, `bollinger(close, 20, 2).upper`, `close > ema(close, 50) and atr(14) < 3`.
 *
 *   condition  = either { "or" either };  either = both { "and" both };  both = "not" both | comparison
 *   comparison = sum [ (">" | "<" | ">=" | "<=" | "crosses above" | "crosses below") sum ]
 *   sum        = product { ("+" | "-") product };  product = part { ("*" | "/") part }
 *   part       = "-" part | number | name [ "(" arguments ")" ] [ "." output ] [ "[" bars back "]" ] | "(" condition ")"
 */
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { studyNamed } from "../studies/catalogue.ts";
import type { ColumnValues } from "../studies/definition.ts";
import { COLUMN_WORDS } from "./column-words.ts";
import {
  Column,
  Column as ColumnClass,
  Condition,
  Crossing,
  crossesAbove,
  crossesBelow,
  entryOf,
  flagsOf,
  isAbove,
  isAtOrAbove,
  isAtOrBelow,
  isBelow,
  operand,
} from "./columns.ts";
import { declareStudy } from "./declare-study.ts";
import { type PlanBars, priceEntry, scopeOfBars } from "./market.ts";
import { newRunScope, newScope, type Scope } from "./scope.ts";
import { hitsOf, StudyStore } from "./study-store.ts";

const PRICES = ["open", "high", "low", "close", "volume", "spread"] as const;
const TOKEN = /\s*(?:([A-Za-z]\w*)|(\d+(?:\.\d+)?)|(>=|<=|[()[\],.+\-*/<>]))/y;
type Term = Column | Condition | number;

// biome-ignore lint/suspicious/noExplicitAny: functions of many shapes; each checks its own arguments
const FUNCTIONS: Readonly<Record<string, (...args: any[]) => Term>> = {
  abs: (column: Column) => column.abs(),
  ...COLUMN_WORDS,
};

const SIGNS = new Map([
  [">", isAbove],
  ["<", isBelow],
  [">=", isAtOrAbove],
  ["<=", isAtOrBelow],
]);

interface Token {
  readonly text: string;
  readonly kind: "name" | "number" | "mark";
  readonly at: number;
}

function unreadable(text: string, at: number, what: string): PlanTesterError {
  return new PlanTesterError(
    "bad-study",
    `Can't read "${text}" at character ${at + 1}: ${what}. Write it like ema(close, 20), highest(high, 10)[1] or close > ema(close, 50).`,
    { expression: text, at },
  );
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

class Reader {
  readonly #text: string;
  readonly #scope: Scope;
  readonly #tokens: readonly Token[];
  #at = 0;

  constructor(text: string, scope: Scope) {
    this.#text = text;
    this.#scope = scope;
    this.#tokens = tokensOf(text);
  }

  all(): Term {
    if (this.#tokens.length === 0) throw this.#fail("nothing is written here");
    const term = this.#either();
    if (this.#at < this.#tokens.length) throw this.#fail("the expression should end here");
    return term;
  }

  get #next(): Token | undefined {
    return this.#tokens[this.#at];
  }

  #fail(what: string): PlanTesterError {
    return unreadable(this.#text, this.#next?.at ?? this.#text.length, what);
  }

  #accept(text: string): boolean {
    if (this.#next?.text !== text) return false;
    this.#at++;
    return true;
  }

  #expect(text: string): void {
    if (!this.#accept(text)) throw this.#fail(`"${text}" is expected here`);
  }

  #either(): Term {
    let left = this.#both();
    while (this.#accept("or")) left = this.#asCondition(left).or(this.#asCondition(this.#both()));
    return left;
  }

  #both(): Term {
    let left = this.#not();
    while (this.#accept("and")) left = this.#asCondition(left).and(this.#asCondition(this.#not()));
    return left;
  }

  #not(): Term {
    return this.#accept("not") ? this.#asCondition(this.#not()).not() : this.#comparison();
  }

  #comparison(): Term {
    const left = this.#sum();
    const mark = this.#next?.text;
    const simple = SIGNS.get(mark ?? "");
    if (simple) {
      this.#at++;
      return simple(this.#asColumn(left), this.#asValue(this.#sum()));
    }
    if (!this.#accept("crosses")) return left;
    const test = this.#accept("above") ? crossesAbove : this.#accept("below") ? crossesBelow : null;
    if (!test) throw this.#fail('"above" or "below" is expected here');
    return test(this.#asColumn(left), this.#asValue(this.#sum()));
  }

  #sum(): Term {
    let left = this.#product();
    for (;;) {
      if (this.#accept("+")) left = this.#combine(left, "plus", this.#product());
      else if (this.#accept("-")) left = this.#combine(left, "minus", this.#product());
      else return left;
    }
  }

  #product(): Term {
    let left = this.#part();
    for (;;) {
      if (this.#accept("*")) left = this.#combine(left, "times", this.#part());
      else if (this.#accept("/")) left = this.#combine(left, "over", this.#part());
      else return left;
    }
  }

  #combine(left: Term, how: "plus" | "minus" | "times" | "over", right: Term): Term {
    const value = this.#asValue(right);
    if (typeof left !== "number") return this.#asColumn(left)[how](value);
    if (typeof value !== "number") return this.#asColumn(left)[how](value);
    return how === "plus" ? left + value : how === "minus" ? left - value : how === "times" ? left * value : left / value;
  }

  #part(): Term {
    if (this.#accept("-")) {
      const part = this.#part();
      return typeof part === "number" ? -part : this.#asColumn(part).times(-1);
    }
    if (this.#accept("(")) {
      const inner = this.#either();
      this.#expect(")");
      return this.#displaced(inner);
    }
    const token = this.#next;
    if (token?.kind === "number") {
      this.#at++;
      return Number(token.text);
    }
    if (token?.kind !== "name") throw this.#fail("a study or a price is expected");
    this.#at++;
    const price = PRICES.find((field) => field === token.text);
    if (price && this.#next?.text !== "(") return this.#displaced(new ColumnClass(this.#scope, priceEntry(this.#scope, price)));
    const args: Term[] = [];
    this.#expect("(");
    while (this.#next && this.#next.text !== ")") {
      args.push(this.#either());
      if (!this.#accept(",") && this.#next?.text !== ")") throw this.#fail('"," or ")" is expected');
    }
    this.#expect(")");
    const own = Object.hasOwn(FUNCTIONS, token.text) ? FUNCTIONS[token.text] : undefined;
    return this.#displaced(own ? own(...args) : this.#study(token.text, args));
  }

  #study(name: string, args: readonly Term[]): Column {
    const definition = studyNamed(name);
    const columns = args.filter((arg) => arg instanceof Column);
    const numbers = args.filter((arg) => typeof arg === "number");
    const wanted = definition.inputs.filter((input) => input.kind === "column").length;
    if (columns.length !== wanted) throw this.#fail(`${name} takes ${wanted} column${wanted === 1 ? "" : "s"}, it got ${columns.length}`);
    const declared = definition.inputs.filter((input) => input.kind === "number");
    if (numbers.length > declared.length) throw this.#fail(`${name} takes ${declared.length} numbers, it got ${numbers.length}`);
    const outputs = declareStudy(
      definition,
      this.#scope,
      columns,
      declared.map((input, i) => numbers[i] ?? input.default),
    );
    if (!this.#accept(".")) return outputs[0]!;
    const index = definition.outputs.indexOf(this.#next?.text ?? "");
    if (index < 0) throw this.#fail(`one of ${definition.outputs.join(", ")} is expected`);
    this.#at++;
    return outputs[index]!;
  }

  #displaced(term: Term): Term {
    if (!this.#accept("[")) return term;
    const back = this.#next;
    if (back?.kind !== "number" || !/^\d+$/.test(back.text)) throw this.#fail("a whole number of bars back is expected");
    this.#at++;
    this.#expect("]");
    return this.#asColumn(term).earlier(Number(back.text));
  }

  #asColumn(term: Term): Column {
    if (term instanceof Column) return term;
    if (typeof term === "number") return new ColumnClass(this.#scope, operand(this.#scope, term, "expression"));
    throw this.#fail("a number or a study is expected, this is a condition");
  }

  #asValue(term: Term): Column | number {
    return typeof term === "number" ? term : this.#asColumn(term);
  }

  #asCondition(term: Term): Condition {
    if (term instanceof Condition) return term;
    throw this.#fail("a condition such as close > ema(close, 50) is expected");
  }

  column(): Column {
    return this.#asColumn(this.all());
  }

  condition(): Condition {
    return this.#asCondition(this.all());
  }
}

function scopeFor(bars: PlanBars): Scope {
  const scope = scopeOfBars(bars);
  if (!scope) throw new PlanTesterError("plan-error", "An expression is read on bars: pass bars, or bars.at(…).");
  return scope;
}

/**
 * The column that a text describes, on these bars.
 * @throws PlanTesterError bad-study saying what could not be read or which number is out of bounds.
 */
export const readColumn = (text: string, bars: PlanBars): Column => new Reader(String(text), scopeFor(bars)).column();

/** The condition that a text describes, on these bars. Errors as `readColumn`. */
export const readCondition = (text: string, bars: PlanBars): Condition => new Reader(String(text), scopeFor(bars)).condition();

/** Computes one study expression over a series: a column as long as the bars, NaN during warm-up. Errors as `readColumn`. */
export function evaluateStudy(text: string, bars: BarSeries): ColumnValues {
  const scope = newScope(newRunScope(), "", new StudyStore(bars), null);
  const { values, first } = entryOf(new Reader(text, scope).column());
  return { values, first };
}

/** What a text says of bars: a number each, or whether a condition holds, as 1 and 0; NaN where it is not known yet. */
export interface Expressed extends ColumnValues {
  /** A crossing happens on one bar, what else is a condition holds over bars. */
  readonly kind: "number" | "condition" | "crossing";
}

/** As `evaluateStudy`, for conditions too. Errors as `readColumn`. */
export function evaluateText(text: string, bars: BarSeries): Expressed {
  const scope = newScope(newRunScope(), "", new StudyStore(bars), null);
  const term = new Reader(text, scope).all();
  if (!(term instanceof Condition)) {
    const { values, first } = entryOf(typeof term === "number" ? new ColumnClass(scope, operand(scope, term, "expression")) : term);
    return { kind: "number", values, first };
  }
  const flags = flagsOf(term);
  const values = new Float64Array(bars.length);
  values.fill(Number.NaN, 0, Math.min(flags.first, bars.length));
  for (const bar of hitsOf(flags)) values[bar] = 1;
  return { kind: term instanceof Crossing ? "crossing" : "condition", values, first: flags.first };
}
