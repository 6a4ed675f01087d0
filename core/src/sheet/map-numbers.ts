/** The numbers and times of a rule, each with what it is there for. */

import type { SheetRow, SheetTest, SheetValue } from "./sheet.ts";
import { numberInputs } from "./study-words.ts";

/** What a number does in its rule, and what it may be. */
export interface NumberRole {
  /** "span", "level", "low", "bars" ...; a name for it within its rule. */
  readonly name: string;
  /** The study whose number it is; "" for others. */
  readonly of: string;
  readonly whole: boolean;
  readonly min: number | null;
  readonly max: number | null;
  readonly unit: string;
}

export interface NumberMap<N, M> {
  readonly number: (value: N, role: NumberRole) => M;
  /** A time of day, of which there are a first and a last. */
  readonly time: (value: string, end: "from" | "to") => string;
}

const MOST_BARS = 100_000;
const bars = (name: string, min: number): NumberRole => ({ name, of: "", whole: true, min, max: MOST_BARS, unit: "bars" });
const free = (name: string): NumberRole => ({ name, of: "", whole: false, min: null, max: null, unit: "" });

const mapped = <N, M>(value: N | null, role: NumberRole, map: NumberMap<N, M>): M | null =>
  value === null ? null : map.number(value, role);

/** @param name what a bare number is called here: "level", "low", "factor" */
export function mapValue<N, M>(value: SheetValue<N>, map: NumberMap<N, M>, name = "level"): SheetValue<M> {
  if (value.kind === "number") return { kind: "number", value: map.number(value.value, free(name)) };
  const ago = mapped(value.ago, bars("ago", 0), map);
  switch (value.kind) {
    case "price":
      return { ...value, ago };
    case "study": {
      const declared = numberInputs(value.study);
      const numbers = value.numbers.map((number, i) => {
        const { name, whole, min, max } = declared[i]!;
        return map.number(number, { name, of: value.study, whole, min, max, unit: whole ? "bars" : "" });
      });
      return { ...value, numbers, sources: value.sources.map((source) => mapValue(source, map)), ago };
    }
    case "math":
      return {
        ...value,
        left: mapValue(value.left, map, name),
        right: mapValue(value.right, map, value.by === "plus" || value.by === "minus" ? "distance" : "factor"),
        ago,
      };
    case "size of":
      return { ...value, value: mapValue(value.value, map, name), ago };
    case "since":
      return { ...value, value: mapValue(value.value, map, name), event: mapTest(value.event, map), ago };
    case "bars since":
      return { ...value, event: mapTest(value.event, map), ago };
    case "count":
      return { ...value, bars: map.number(value.bars, bars("count of", 1)), event: mapTest(value.event, map), ago };
    case "of two":
      return { ...value, left: mapValue(value.left, map, name), right: mapValue(value.right, map, name), ago };
    case "own":
      return { ...value, given: value.given.map((given) => mapValue(given, map, value.study)), ago };
  }
}

export function mapTest<N, M>(test: SheetTest<N>, map: NumberMap<N, M>): SheetTest<M> {
  switch (test.kind) {
    case "compare":
      return { ...test, left: mapValue(test.left, map), right: mapValue(test.right, map) };
    case "between":
      return {
        ...test,
        value: mapValue(test.value, map),
        low: mapValue(test.low, map, "low"),
        high: mapValue(test.high, map, "high"),
      };
    case "trend":
      return { ...test, value: mapValue(test.value, map), bars: map.number(test.bars, bars("bars", 1)) };
    case "time":
      return { ...test, from: map.time(test.from, "from"), to: map.time(test.to, "to") };
    case "bar":
    case "weekday":
      return test;
  }
}

export function mapRow<N, M>(row: SheetRow<N>, map: NumberMap<N, M>): SheetRow<M> {
  return {
    ...row,
    test: mapTest(row.test, map),
    heldFor: mapped(row.heldFor, bars("held for", 1), map),
    within: mapped(row.within, bars("at most ago", 1), map),
  };
}
