/**
 * Rules as sentences, in pieces: each word that can be changed names the place in the rule that it stands for. The sentence
 * of a row is read again by `readRow`.
 */
import { studyNamed } from "../studies/catalogue.ts";
import type { SheetGroup, SheetRow, SheetRule, SheetTest, SheetValue, Where } from "./sheet.ts";
import { spokenStudy } from "./study-words.ts";

/** Where a word stands in its row: names of fields and places in lists. */
export type SheetPath = readonly (string | number)[];

/** What kind of word stands there, which says what may stand there instead. */
export type SlotKind = "value" | "number" | "whole" | "output" | "relation" | "ends" | "way" | "where" | "time" | "weekdays" | "math";

export interface Piece {
  readonly text: string;
  /** null for a word that only joins others. */
  readonly slot: { readonly kind: SlotKind; readonly path: SheetPath } | null;
}

const RANK = { plus: 1, minus: 1, times: 2, over: 2 } as const;

class Sentence {
  readonly pieces: Piece[] = [];

  say(text: string): this {
    this.pieces.push({ text, slot: null });
    return this;
  }

  slot(kind: SlotKind, path: SheetPath, text: string): this {
    this.pieces.push({ text, slot: { kind, path } });
    return this;
  }

  where(on: Where, path: SheetPath): this {
    const words = [on.timeframe && `on ${on.timeframe}`, on.instrument && `in ${on.instrument}`].filter(Boolean).join(" ");
    return words ? this.slot("where", path, words) : this;
  }

  /** A value; in brackets where it would be read otherwise without. `isTight`: where no "bars ago" may follow. */
  value(value: SheetValue, path: SheetPath, { isTight = false, rank = 0 } = {}): this {
    if (value.kind === "number") return this.slot("number", [...path, "value"], numberText(value.value));
    const isDisplaced = value.ago !== null;
    const needsBrackets = (isDisplaced && isTight) || (value.kind === "math" && !isDisplaced && (isTight || RANK[value.by] < rank));
    if (needsBrackets) this.say("(");
    if (value.kind === "math" && isDisplaced) this.say("(");
    this.#bare(value, path);
    if (value.kind === "math" && isDisplaced) this.say(")");
    if (value.ago !== null) this.slot("whole", [...path, "ago"], String(value.ago)).say(value.ago === 1 ? "bar ago" : "bars ago");
    return needsBrackets ? this.say(")") : this;
  }

  #bare(value: Exclude<SheetValue, { kind: "number" }>, path: SheetPath): void {
    switch (value.kind) {
      case "price":
        this.slot("value", path, value.price).where(value.on, [...path, "on"]);
        return;
      case "study":
        this.#study(value, path);
        return;
      case "math":
        this.value(value.left, [...path, "left"], { rank: RANK[value.by] })
          .slot("math", [...path, "by"], value.by)
          // What follows minus or over is taken whole.
          .value(value.right, [...path, "right"], { rank: RANK[value.by] + 1 });
        return;
      case "size of":
        this.slot("value", path, "the size of").value(value.value, [...path, "value"], { isTight: true });
        return;
      case "since":
        this.slot("value", path, value.what === "value" ? "the value of" : `the ${value.what} of`)
          .value(value.value, [...path, "value"], { isTight: true })
          .say(value.what === "value" ? "when (" : "since (")
          .test(value.event, [...path, "event"])
          .say(")");
        return;
      case "bars since":
        this.slot("value", path, "bars since")
          .say("(")
          .test(value.event, [...path, "event"])
          .say(")");
        return;
      case "count":
        this.slot("value", path, "the number of the last")
          .slot("whole", [...path, "bars"], String(value.bars))
          .say("bars with")
          .say("(")
          .test(value.event, [...path, "event"])
          .say(")");
        return;
      case "of two":
        this.slot("value", path, `the ${value.which} of`)
          .say("(")
          .value(value.left, [...path, "left"])
          .say(",")
          .value(value.right, [...path, "right"])
          .say(")");
        return;
      case "own":
        this.slot("value", path, `${value.study} from ${value.module}`).say("(");
        value.given.forEach((given, i) => {
          if (i > 0) this.say(",");
          this.value(given, [...path, "given", i]);
        });
        this.say(")");
    }
  }

  #study(value: Extract<SheetValue, { kind: "study" }>, path: SheetPath): void {
    this.slot("value", path, `the ${spokenStudy(value.study)}`);
    if (studyNamed(value.study).outputs.length > 1) this.slot("output", [...path, "output"], value.output);
    value.numbers.forEach((number, i) => {
      this.say(i === 0 ? "(" : ",").slot("number", [...path, "numbers", i], numberText(number));
    });
    if (value.numbers.length > 0) this.say(")");
    this.where(value.on, [...path, "on"]);
    value.sources.forEach((source, i) => {
      this.say(i === 0 ? "of" : "and").value(source, [...path, "sources", i], { isTight: true });
    });
  }

  test(test: SheetTest, path: SheetPath): this {
    switch (test.kind) {
      case "compare":
        return this.value(test.left, [...path, "left"])
          .slot("relation", [...path, "relation"], test.relation)
          .value(test.right, [...path, "right"]);
      case "between": {
        const { ends } = test;
        return this.value(test.value, [...path, "value"])
          .slot("ends", [...path, "ends"], ends === "neither" ? "is strictly between" : "is between")
          .say(ends === "upper" ? "above" : "")
          .value(test.low, [...path, "low"])
          .say(ends === "lower" ? "and below" : "and")
          .value(test.high, [...path, "high"]);
      }
      case "trend":
        return this.value(test.value, [...path, "value"])
          .slot("way", [...path, "way"], `is ${test.way}`)
          .say("for")
          .slot("whole", [...path, "bars"], String(test.bars))
          .say(test.bars === 1 ? "bar" : "bars");
      case "bar":
        return this.say("the bar")
          .where(test.on, [...path, "on"])
          .slot("way", [...path, "way"], test.against === "open" ? `is ${test.way}` : `closes ${test.way}`);
      case "time":
        return this.say("the time is from")
          .slot("time", [...path, "from"], test.from)
          .say("to")
          .slot("time", [...path, "to"], test.to);
      case "weekday":
        return this.say("the weekday is").slot("weekdays", [...path, "days"], listed(test.days, "or"));
    }
  }
}

export const numberText = (value: number): string => String(value);

/** "a, b or c". */
export function listed(words: readonly string[], last: "and" | "or"): string {
  return words.length < 2 ? words.join("") : `${words.slice(0, -1).join(", ")} ${last} ${words[words.length - 1]}`;
}

const TIGHT_AFTER = /^[),]/;

/** Pieces put together as text: no space inside brackets and ahead of commas. */
export function textOf(pieces: readonly { readonly text: string }[]): string {
  let text = "";
  for (const piece of pieces) {
    if (piece.text === "") continue;
    text += text === "" || text.endsWith("(") || TIGHT_AFTER.test(piece.text) ? piece.text : ` ${piece.text}`;
  }
  return text;
}

/** The sentence of a row. */
export function rowPieces(row: SheetRow): Piece[] {
  const sentence = new Sentence().test(row.test, ["test"]);
  if (row.heldFor !== null)
    sentence
      .say(", held for")
      .slot("whole", ["heldFor"], String(row.heldFor))
      .say(row.heldFor === 1 ? "bar" : "bars");
  if (row.within !== null)
    sentence
      .say(", at most")
      .slot("whole", ["within"], String(row.within))
      .say(row.within === 1 ? "bar ago" : "bars ago");
  return sentence.pieces.filter(({ text }) => text !== "");
}

export const rowText = (row: SheetRow): string => textOf(rowPieces(row));
export const valueText = (value: SheetValue): string => textOf(new Sentence().value(value, []).pieces);
export const testText = (test: SheetTest): string => textOf(new Sentence().test(test, []).pieces);

/** Rules of a group that are on; a group counts when it holds one. */
export function activeRules<N>(group: SheetGroup<N>): SheetRule<N>[] {
  return group.isOff ? [] : group.rules.filter((rule) => !rule.isOff && (rule.kind === "row" || activeRules(rule).length > 0));
}

/** A whole group as one clause: "a, and b", "either a or b", "neither a nor b". "" when it holds none that counts. */
export function groupText(group: SheetGroup): string {
  const rules = activeRules(group);
  const parts = rules.map((rule) => (rule.kind === "row" ? rowText(rule) : `(${groupText(rule)})`));
  if (parts.length < 2) return group.of === "none" && parts[0] ? `it is not so that ${parts[0]}` : (parts[0] ?? "");
  if (group.of === "all") return parts.join(", and ");
  return group.of === "any" ? `either ${parts.join(", or ")}` : `neither ${parts.join(", nor ")}`;
}
