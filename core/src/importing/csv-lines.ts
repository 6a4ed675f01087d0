/** Cuts the bytes of a CSV file into lines and fields, part by part. Fields in double quotes are read without them. */

import { PlanTesterError } from "../errors.ts";
import type { CsvLayout } from "./file-layout.ts";
import type { LineProblem } from "./spacing.ts";
import { type FieldSpan, NO_FIELD } from "./time-text.ts";
import { isZoneName } from "./zone-text.ts";

const MOST_PROBLEMS = 1000;
const MOST_FIELDS = 64;
const NEWLINE = 10;
const RETURN = 13;
const QUOTE = 34;
const BYTE_ORDER_MARK = [0xef, 0xbb, 0xbf];

export class CsvLines {
  /** Where the fields of the line under way begin and end. */
  readonly starts = new Int32Array(MOST_FIELDS);
  readonly ends = new Int32Array(MOST_FIELDS);
  readonly problems: LineProblem[] = [];
  /** Lines that were left out; the first thousand of them are in `problems`. */
  rejected = 0;
  /** Data lines seen, blank ones not counted. */
  rows = 0;
  /** The line under way, from 1. */
  line = 0;
  readonly #delimiter: number;
  readonly #headerLines: number;
  readonly #needed: number;
  readonly #read: (bytes: Uint8Array) => string | null;
  #rest: Uint8Array = new Uint8Array(0);
  #newline = NEWLINE;
  #begun = false;

  /**
   * @param needed how many fields a line must have
   * @param read takes a line, whose fields lie between `starts` and `ends`; says what is wrong with it, or null
   * @throws PlanTesterError bad-input for a zone that is none
   */
  constructor(
    { delimiter, headerLines, zone }: Pick<CsvLayout, "delimiter" | "headerLines" | "zone">,
    needed: number,
    read: (bytes: Uint8Array) => string | null,
  ) {
    if (!isZoneName(zone))
      throw new PlanTesterError("bad-input", `"${zone}" is not a known time zone. Use an IANA name such as Atlantic/Faroe.`, { zone });
    this.#delimiter = delimiter.charCodeAt(0);
    this.#headerLines = headerLines;
    this.#needed = needed;
    this.#read = read;
  }

  /** Takes the next part of the file; lines may be cut anywhere. */
  feed(part: Uint8Array): void {
    let bytes = part;
    if (!this.#begun && part.length > 0) bytes = this.#begin(part);
    if (this.#rest.length > 0) {
      const joined = new Uint8Array(this.#rest.length + bytes.length);
      joined.set(this.#rest);
      joined.set(bytes, this.#rest.length);
      bytes = joined;
    }
    let start = 0;
    for (let end = bytes.indexOf(this.#newline); end >= 0; end = bytes.indexOf(this.#newline, start)) {
      this.#readLine(bytes, start, end);
      start = end + 1;
    }
    this.#rest = bytes.slice(start);
  }

  /** The last line. */
  finish(): void {
    if (this.#rest.length > 0) this.#readLine(this.#rest, 0, this.#rest.length);
    this.#rest = new Uint8Array(0);
  }

  /** @param line where it is not the one under way */
  reject(text: string, line = this.line): void {
    this.rejected++;
    if (this.problems.length < MOST_PROBLEMS) this.problems.push({ line, text });
  }

  span(column: number | null): FieldSpan {
    return column === null ? NO_FIELD : { start: this.starts[column]!, end: this.ends[column]! };
  }

  /** The file's first bytes: a byte order mark is passed over, what is no text is refused, lines may end in CR alone. */
  #begin(part: Uint8Array): Uint8Array {
    this.#begun = true;
    refuseOtherFiles(part);
    const marked = BYTE_ORDER_MARK.every((byte, i) => part[i] === byte);
    if (!part.includes(NEWLINE) && part.includes(RETURN) && part.indexOf(RETURN) < part.length - 1) this.#newline = RETURN;
    return marked ? part.subarray(BYTE_ORDER_MARK.length) : part;
  }

  #readLine(bytes: Uint8Array, start: number, lineEnd: number): void {
    this.line++;
    let end = lineEnd;
    while (end > start && (bytes[end - 1] === RETURN || bytes[end - 1] === 32)) end--;
    if (this.line <= this.#headerLines || end === start) return;
    this.rows++;
    const fields = this.#split(bytes, start, end);
    const problem = fields < this.#needed ? `it has ${fields} fields; ${this.#needed} are needed` : this.#read(bytes);
    if (problem !== null) this.reject(problem);
  }

  #split(bytes: Uint8Array, start: number, end: number): number {
    const delimiter = this.#delimiter;
    let count = 0;
    let from = start;
    let quoted = false;
    for (let i = start; i <= end; i++) {
      const byte = i < end ? bytes[i]! : delimiter;
      if (byte === QUOTE && i < end) quoted = !quoted;
      if (byte !== delimiter || (quoted && i < end)) continue;
      if (count < MOST_FIELDS) {
        let [a, b] = [from, i];
        while (a < b && (bytes[a] === 32 || bytes[a] === QUOTE)) a++;
        while (b > a && (bytes[b - 1] === 32 || bytes[b - 1] === QUOTE)) b--;
        this.starts[count] = a;
        this.ends[count] = b;
      }
      count++;
      from = i + 1;
    }
    return Math.min(count, MOST_FIELDS);
  }
}

/** @throws PlanTesterError bad-input for files that are not plain text of one byte a letter, with what to do. */
export function refuseOtherFiles(part: Uint8Array): void {
  const starts = (...bytes: number[]): boolean => bytes.every((byte, i) => part[i] === byte);
  const refuse = (what: string, remedy: string): never => {
    throw new PlanTesterError("bad-input", `The file is ${what}, not text. ${remedy}`, {});
  };
  if (starts(0xff, 0xfe) || starts(0xfe, 0xff)) refuse("UTF-16", "Save it as UTF-8 and import it again.");
  if (starts(0x50, 0x4b, 0x03, 0x04)) refuse("a zip archive or a workbook", "Unpack it, or save the sheet as CSV, and import that.");
  if (starts(0x1f, 0x8b)) refuse("packed with gzip", "Unpack it and import that.");
  if (part.subarray(0, 4096).includes(0)) refuse("binary", "Bars come as text, one bar a line.");
}
