/** Numbers as the user writes them, held against what they may be. */
import { LEAST_POSITIVE, MOST } from "@plan-tester/contract";

export interface NumberBounds {
  readonly min?: number;
  readonly max?: number;
  /** Exclusive. */
  readonly above?: number;
  readonly whole?: boolean;
  readonly canBeEmpty?: boolean;
}

/** The part of a schema that says what a number may be. */
export interface NumberSchema {
  readonly type?: unknown;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly anyOf?: readonly unknown[];
}

/** What a schema of the contract lets a number be. */
export function boundsOf(schema: NumberSchema): Omit<NumberBounds, "canBeEmpty"> {
  const parts = (schema.anyOf ?? [schema]) as readonly NumberSchema[];
  const { type, minimum, maximum } = parts.find((part) => part.type !== "null") ?? {};
  return {
    ...(minimum === undefined ? {} : minimum === LEAST_POSITIVE ? { above: 0 } : { min: minimum }),
    ...(maximum === undefined || maximum === MOST ? {} : { max: maximum }),
    whole: type === "integer",
  };
}

/** null for nothing, NaN for what is no number. A comma is not guessed at: it may stand for a point or for thousands. */
export function readNumber(text: string): number | null {
  const given = text.trim().replace("−", "-");
  if (given === "") return null;
  return /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(given) ? Number(given) : Number.NaN;
}

function rangeWords({ min, max, above }: NumberBounds): string {
  const most = max === undefined ? "" : ` up to ${max}`;
  if (above !== undefined) return ` above ${above}${most && ` and${most}`}`;
  if (min !== undefined) return max === undefined ? ` of ${min} or more` : ` from ${min} to ${max}`;
  return most;
}

/** What is wrong with a text, and how to mend it; "" where it fits. */
export function numberProblem(text: string, bounds: NumberBounds): string {
  const { min = -MOST, max = MOST, above = Number.NEGATIVE_INFINITY, whole = false, canBeEmpty = false } = bounds;
  const number = readNumber(text);
  if (number === null ? canBeEmpty : number >= min && number <= max && number > above && (!whole || Number.isInteger(number))) return "";
  const isComma = Number.isNaN(number) && text.includes(",");
  return `Write a ${whole ? "whole " : ""}number${rangeWords(bounds)}${isComma ? ", with a point for decimals and no commas" : ""}${canBeEmpty ? ", or nothing" : ""}.`;
}
