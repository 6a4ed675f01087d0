/** What makes columns and conditions of others: the same words in a plan and in an expression as text. */
import { becomes, larger, smaller } from "./columns.ts";
import { barsSince, choose, countOf, highestSince, isFalling, isRising, lowestSince, valueWhen } from "./memory.ts";

export const COLUMN_WORDS = {
  larger,
  smaller,
  choose,
  valueWhen,
  highestSince,
  lowestSince,
  barsSince,
  countOf,
  isRising,
  isFalling,
  becomes,
};
