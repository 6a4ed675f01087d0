/**
 * Sentences read into rules: the words that `words.ts` writes, with some left out ("the", "when", a study's numbers and
 * source). Where it can't go on it says at which character, and what would fit there.
 */
import { PlanTesterError } from "../errors.ts";
import { parseTimeframe } from "../market/timeframe.ts";
import type { StudyDefinition } from "../studies/definition.ts";
import { type Fitting, Phrases, Unreadable } from "./phrases.ts";
import {
  OWN_BARS,
  SHEET_CROSSINGS,
  SHEET_OF_TWO,
  SHEET_PRICES,
  SHEET_STANDINGS,
  SHEET_WEEKDAYS,
  type SheetRow,
  type SheetTest,
  type SheetValue,
  type Weekday,
  type Where,
} from "./sheet.ts";
import { BY_SPOKEN, columnInputs, numberInputs, spokenStudy, takesBars } from "./study-words.ts";

/** What a sentence says: rows to be joined by "all" or "any". */
export interface ReadRules {
  readonly of: "all" | "any";
  readonly rows: readonly Pick<SheetRow, "test" | "heldFor" | "within">[];
}

/** Longer phrases first: none hides another. */
const RELATIONS = [...SHEET_CROSSINGS, ...SHEET_STANDINGS].sort((a, b) => b.length - a.length);
const defaultsOf = (study: string): number[] => numberInputs(study).map((input) => input.default);
const price = (name: (typeof SHEET_PRICES)[number], on: Where = OWN_BARS): SheetValue => ({ kind: "price", price: name, on, ago: null });

class SentenceReader extends Phrases {
  #bars(): number {
    const count = this.whole();
    if (!this.accept("bars") && !this.accept("bar", true)) this.fail();
    return count;
  }

  #timeframe(): string {
    const next = this.peek(1).toLowerCase();
    if (next && /^[mhdw]$/.test(next) && /^\d+$/.test(this.peek())) {
      this.goTo(this.place + 2);
      return `${this.peek(-2)}${next}`;
    }
    return this.word("timeframe", isTimeframe).toLowerCase();
  }

  #where(): Where {
    let timeframe = this.accept("on") ? this.#timeframe() : "";
    const instrument = this.accept("in") ? this.word("symbol", (text) => /^[A-Za-z]/.test(text)).toUpperCase() : "";
    if (timeframe === "" && instrument !== "" && this.accept("on", true)) timeframe = this.#timeframe();
    return timeframe === "" && instrument === "" ? OWN_BARS : { timeframe, instrument };
  }

  value(): SheetValue {
    let left = this.#product();
    for (let by = this.oneOf(["plus", "minus"]); by; by = this.oneOf(["plus", "minus"]))
      left = { kind: "math", by, left, right: this.#product(), ago: null };
    return left;
  }

  #product(): SheetValue {
    let left = this.#item();
    for (let by = this.oneOf(["times", "over"]); by; by = this.oneOf(["times", "over"]))
      left = { kind: "math", by, left, right: this.#item(), ago: null };
    return left;
  }

  /** A value that may be displaced. */
  #item(): SheetValue {
    const value = this.#tight();
    const [count, bars, ago] = [0, 1, 2].map((i) => this.peek(i).toLowerCase());
    if (value.kind === "number" || !/^\d+$/.test(count ?? "") || !/^bars?$/.test(bars ?? "") || ago !== "ago") return value;
    this.goTo(this.place + 3);
    return { ...value, ago: (value.ago ?? 0) + Number(count) };
  }

  #tight(): SheetValue {
    if (this.accept("(")) {
      const value = this.value();
      this.expect(")");
      return value;
    }
    if (/^-?\d+(\.\d+)?$/.test(this.peek())) return { kind: "number", value: this.number() };
    const name = this.oneOf(SHEET_PRICES);
    if (name) return price(name, this.#where());
    if (this.accept("bars since (")) return { kind: "bars since", event: this.#event(), ago: null };
    const own = this.#own();
    if (own) return own;
    const begin = this.place;
    this.accept("the", true);
    this.accept("its", true);
    if (this.accept("size of")) return { kind: "size of", value: this.#tight(), ago: null };
    const counted = this.#count() ?? this.#ofTwo();
    if (counted) return counted;
    const since = this.#since();
    if (since) return since;
    const found = BY_SPOKEN.find(([spoken]) => this.accept(spoken, true));
    if (found) return this.#study(found[1]);
    const article = this.place === begin ? "the " : "";
    if (article !== "") this.note("a number");
    for (const [, { name: study }] of BY_SPOKEN) this.note(article + spokenStudy(study));
    this.goTo(begin);
    this.fail();
  }

  #event(): SheetTest {
    const event = this.test();
    this.expect(")");
    return event;
  }

  #since(): SheetValue | null {
    const begin = this.place;
    const what = this.oneOf(["highest of", "lowest of", "value of"]);
    if (!what) return null;
    const value = this.#tight();
    const word = what === "value of" ? "when (" : "since (";
    if (this.accept(word)) return { kind: "since", what: what.split(" ")[0] as "highest", value, event: this.#event(), ago: null };
    // Case: "the highest of high": the study, with its usual span.
    if (what === "value of") this.fail();
    this.goTo(begin);
    return null;
  }

  #count(): SheetValue | null {
    if (!this.accept("number of the last")) return null;
    const bars = this.whole();
    this.expect("bars with (");
    return { kind: "count", bars, event: this.#event(), ago: null };
  }

  #ofTwo(): SheetValue | null {
    const which = SHEET_OF_TWO.find((one) => this.accept(`${one} of (`));
    if (!which) return null;
    const left = this.value();
    this.expect(",");
    const right = this.value();
    this.expect(")");
    return { kind: "of two", which, left, right, ago: null };
  }

  #own(): SheetValue | null {
    const [study, from, module, bracket] = [0, 1, 2, 3].map((i) => this.peek(i));
    if (from?.toLowerCase() !== "from" || bracket !== "(" || !/^[A-Za-z]/.test(study!)) return null;
    this.goTo(this.place + 4);
    const given: SheetValue[] = [];
    while (!this.accept(")")) {
      if (given.length > 0) this.expect(",");
      given.push(this.value());
    }
    return { kind: "own", module: module!, study: study!, given, ago: null };
  }

  #study({ name, outputs }: StudyDefinition): SheetValue {
    const output = (outputs.length > 1 ? this.oneOf([...outputs].sort((a, b) => b.length - a.length)) : null) ?? outputs[0]!;
    const numbers = defaultsOf(name);
    if (numbers.length > 0 && this.accept("(")) {
      for (let i = 0; i < numbers.length; i++) {
        if (i > 0 && !this.accept(",")) break;
        numbers[i] = this.number();
      }
      this.expect(")");
    }
    const wanted = columnInputs(name);
    const hasBars = takesBars(name);
    let on = hasBars ? this.#where() : OWN_BARS;
    const sources: SheetValue[] = [];
    if (wanted.length > 0 && this.accept("of")) {
      sources.push(this.#tight());
      while (sources.length < wanted.length && this.accept("and")) sources.push(this.#tight());
    } else if (!hasBars) on = this.#where();
    for (const input of wanted.slice(sources.length)) sources.push(price(input.name === "volume" ? "volume" : "close", on));
    return { kind: "study", study: name, output, numbers, sources, on: hasBars ? on : OWN_BARS, ago: null };
  }

  /** "the bar range" and its like are studies, not the bar. */
  #saysBarStudy(): boolean {
    const [one, two, three] = [0, 1, 2].map((i) => this.peek(i).toLowerCase());
    const words = one === "the" ? `${two} ${three}` : `${one} ${two}`;
    return BY_SPOKEN.some(([spoken]) => spoken === words) || words === "bars since";
  }

  test(): SheetTest {
    if (!this.#saysBarStudy() && (this.accept("the bar") || this.accept("bar", true))) {
      const on = this.#where();
      const said = this.oneOf(["is", "closes"]);
      if (!said) this.fail();
      const against = said === "is" ? "open" : "close before";
      const way = this.oneOf(["up", "down"]);
      return way ? { kind: "bar", way, against, on } : this.fail();
    }
    if (this.accept("the time is from") || this.accept("time is from", true)) {
      const from = this.time();
      this.expect("to");
      return { kind: "time", from, to: this.time() };
    }
    if (this.accept("the weekday is") || this.accept("weekday is", true)) return { kind: "weekday", days: this.#weekdays() };
    return this.#about(this.value());
  }

  #weekdays(): Weekday[] {
    const days: Weekday[] = [];
    do {
      const day = this.oneOf(SHEET_WEEKDAYS);
      if (!day) this.fail();
      days.push(day);
    } while (this.#nextIsDay() && (this.accept(",") || this.accept("or")));
    return SHEET_WEEKDAYS.filter((day) => days.includes(day));
  }

  #nextIsDay(): boolean {
    const following = this.peek(1).toLowerCase();
    return SHEET_WEEKDAYS.some((day) => day.toLowerCase() === following);
  }

  /** What is said of a value. */
  #about(value: SheetValue): SheetTest {
    const relation = this.oneOf(RELATIONS);
    if (relation) return { kind: "compare", left: value, relation, right: this.value() };
    const isStrict = this.accept("is strictly between");
    if (isStrict || this.accept("is between")) {
      const isOpenBelow = !isStrict && this.accept("above", true);
      const low = this.value();
      this.expect("and");
      const isOpenAbove = !isStrict && this.accept("below", true);
      const high = this.value();
      const ends = isStrict || (isOpenBelow && isOpenAbove) ? "neither" : isOpenBelow ? "upper" : isOpenAbove ? "lower" : "both";
      return { kind: "between", value, low, high, ends };
    }
    const way = this.oneOf(["is rising", "is falling"]);
    if (!way) this.fail();
    const bars = this.accept("for") ? this.#bars() : 1;
    return { kind: "trend", value, way: way === "is rising" ? "rising" : "falling", bars };
  }

  row(): Pick<SheetRow, "test" | "heldFor" | "within"> {
    const test = this.test();
    const heldFor = this.accept(", held for") ? this.#bars() : null;
    let within: number | null = null;
    if (this.accept(", at most")) {
      within = this.#bars();
      this.expect("ago");
    }
    return { test, heldFor, within };
  }

  rules(): ReadRules {
    this.accept("when", true) || this.accept("if", true);
    this.accept("either", true);
    const rows = [this.row()];
    let of: ReadRules["of"] | null = null;
    while (!this.isAtEnd) {
      const word: ", and" | ", or" | null = of === "any" ? null : this.accept(", and") ? ", and" : null;
      const next: ReadRules["of"] | null = word ? "all" : of !== "all" && this.accept(", or") ? "any" : null;
      if (!next) this.fail();
      of = next;
      rows.push(this.row());
    }
    if (of === null) {
      this.note(", and");
      this.note(", or");
    }
    return { of: of ?? "all", rows };
  }
}

function isTimeframe(text: string): boolean {
  try {
    parseTimeframe(text.toLowerCase());
    return true;
  } catch {
    return false;
  }
}

const SOME = 8;

function complain(text: string, { at, words }: Fitting): PlanTesterError {
  const there = text.slice(at).trim().split(/\s+/)[0] ?? "";
  const begun = (word: string): number => (there !== "" && word.startsWith(there.toLowerCase()) ? 0 : 1);
  const likely = [...words].sort((a, b) => begun(a) - begun(b));
  const fits = likely.slice(0, SOME).join(", ") + (words.length > SOME ? " and others" : "");
  const what = there ? `"${there}" (character ${at + 1}) does not fit` : "the sentence is not complete";
  const problem = `${what}. There fits: ${fits}.`;
  return new PlanTesterError("bad-plan", `Can't read "${text.trim()}": ${problem}`, { sentence: text, at, problem, fits: words });
}

function read<Result>(text: string, what: (reader: SentenceReader) => Result): Result {
  const reader = new SentenceReader(text);
  try {
    const result = what(reader);
    reader.finish();
    return result;
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    throw complain(text, reader.fitting);
  }
}

/**
 * One or several rules, joined by ", and" or by ", or".
 * @throws PlanTesterError bad-plan with the character (`at`), what would fit there (`fits`), and both in words (`problem`).
 */
export const readRules = (text: string): ReadRules => read(text, (reader) => reader.rules());

/** A value alone, such as the level of an order. Errors as `readRules`. */
export const readValue = (text: string): SheetValue => read(text, (reader) => reader.value());

/** What could stand where a sentence ends, for completion. `at` is where the word that is being written begins. */
export function fittingAt(text: string): Fitting {
  const reader = new SentenceReader(text);
  try {
    reader.rules();
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
  }
  return reader.fitting;
}
