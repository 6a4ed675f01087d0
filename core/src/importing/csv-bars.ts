/**
 * Reads bars from the bytes of a CSV file, part by part, straight into columns. Fields in double quotes are read without
 * them. Every line that is not a valid bar (R1.2) is left out and reported by its number.
 */

import { PlanTesterError } from "../errors.ts";
import { type BarColumns, barProblem } from "../market/bars.ts";
import { DAY_MS, nominalMs } from "../market/timeframe.ts";
import { type DecimalSign, readNumberAt, readVolumeAt } from "./number-text.ts";
import { type LineProblem, spacingProblem } from "./spacing.ts";
import { type DateFormat, type FieldSpan, NO_FIELD, shortened, TimeReader, textOf } from "./time-text.ts";
import { isZoneName } from "./zone-text.ts";

export interface CsvLayout {
  readonly delimiter: string;
  readonly headerLines: number;
  readonly time: number;
  /** Column of the time of day, where it stands apart from the date. */
  readonly clock: number | null;
  /** Column of the zone, where each line names it. */
  readonly zoneColumn: number | null;
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly volume: number | null;
  /** Ask minus bid, in price units. */
  readonly spread?: number | null;
  readonly dateFormat: DateFormat;
  readonly decimal: DecimalSign;
  /** Of times that name none. */
  readonly zone: string;
  /** Whether a time marks the bar's open or its close. */
  readonly stamp: "open" | "close";
}

export interface ParsedBars {
  readonly columns: BarColumns;
  /** Data lines seen, blank ones not counted. */
  readonly rows: number;
  readonly rejected: number;
  readonly problems: readonly LineProblem[];
  /** Where bars do not lie apart as their timeframe says. */
  readonly spacing: LineProblem | null;
}

/** Time, four prices, volume, the line's number, spread. */
const COLUMNS = 8;
const MOST_PROBLEMS = 1000;
const MOST_FIELDS = 64;
const NEWLINE = 10;
const RETURN = 13;
const QUOTE = 34;
const BYTE_ORDER_MARK = [0xef, 0xbb, 0xbf];

export class CsvBarReader {
  readonly #layout: CsvLayout;
  readonly #delimiter: number;
  readonly #reader: TimeReader;
  readonly #shift: number;
  readonly #timeframe: string;
  readonly #needed: number;
  readonly #starts = new Int32Array(MOST_FIELDS);
  readonly #ends = new Int32Array(MOST_FIELDS);
  readonly #problems: LineProblem[] = [];
  #rest: Uint8Array = new Uint8Array(0);
  #newline = NEWLINE;
  #begun = false;
  #line = 0;
  #rows = 0;
  #rejected = 0;
  #count = 0;
  #capacity = 1 << 16;
  #columns = Array.from({ length: COLUMNS }, () => new Float64Array(1 << 16));

  constructor(layout: CsvLayout, timeframe: string) {
    this.#layout = layout;
    if (!isZoneName(layout.zone))
      throw new PlanTesterError("bad-input", `"${layout.zone}" is not a known time zone. Use an IANA name such as Atlantic/Faroe.`, {
        zone: layout.zone,
      });
    this.#delimiter = layout.delimiter.charCodeAt(0);
    this.#reader = new TimeReader(layout.dateFormat, layout.zone);
    this.#timeframe = timeframe;
    const { time, clock, zoneColumn, open, high, low, close, volume, spread } = layout;
    this.#needed = Math.max(time, clock ?? 0, zoneColumn ?? 0, open, high, low, close, volume ?? 0, spread ?? 0);
    const length = nominalMs(timeframe);
    this.#shift = layout.stamp === "close" ? (length >= DAY_MS ? 0 : length) : 0;
  }

  get rows(): number {
    return this.#rows;
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

  /** The file's first bytes: a byte order mark is passed over, what is no text is refused, lines may end in CR alone. */
  #begin(part: Uint8Array): Uint8Array {
    this.#begun = true;
    refuseOtherFiles(part);
    const marked = BYTE_ORDER_MARK.every((byte, i) => part[i] === byte);
    if (!part.includes(NEWLINE) && part.includes(RETURN) && part.indexOf(RETURN) < part.length - 1) this.#newline = RETURN;
    return marked ? part.subarray(BYTE_ORDER_MARK.length) : part;
  }

  /** The last line, and everything put in order: a file that runs backwards in time is turned round. */
  finish(): ParsedBars {
    if (this.#rest.length > 0) this.#readLine(this.#rest, 0, this.#rest.length);
    this.#rest = new Uint8Array(0);
    const columns = this.#columns.map((column) => column.subarray(0, this.#count));
    if (runsBackwards(columns[0]!)) for (const column of columns) column.reverse();
    const kept = this.#dropDisorder(columns);
    const [time, open, high, low, close, volume, lines, spread] = columns.map((column) => column.slice(0, kept));
    const hasSpread = typeof this.#layout.spread === "number";
    return {
      columns: { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume!, ...(hasSpread && { spread: spread! }) },
      rows: this.#rows,
      rejected: this.#rejected,
      problems: [...this.#problems].sort((a, b) => a.line - b.line),
      spacing: spacingProblem(time!, this.#timeframe, lines!),
    };
  }

  #reject(line: number, text: string): void {
    this.#rejected++;
    if (this.#problems.length < MOST_PROBLEMS) this.#problems.push({ line, text });
  }

  #readLine(bytes: Uint8Array, start: number, lineEnd: number): void {
    this.#line++;
    let end = lineEnd;
    while (end > start && (bytes[end - 1] === RETURN || bytes[end - 1] === 32)) end--;
    if (this.#line <= this.#layout.headerLines || end === start) return;
    this.#rows++;
    const { time, clock, zoneColumn, open, high, low, close, volume, spread = null, decimal } = this.#layout;
    const fields = this.#split(bytes, start, end);
    if (fields <= this.#needed) return this.#reject(this.#line, `it has ${fields} fields; ${this.#needed + 1} are needed`);
    const [s, e] = [this.#starts, this.#ends];
    const at = this.#reader.read(bytes, s[time]!, e[time]!, this.#span(clock), this.#span(zoneColumn));
    if (Number.isNaN(at)) return this.#reject(this.#line, this.#reader.problem);
    const o = readNumberAt(bytes, s[open]!, e[open]!, decimal);
    const h = readNumberAt(bytes, s[high]!, e[high]!, decimal);
    const l = readNumberAt(bytes, s[low]!, e[low]!, decimal);
    const c = readNumberAt(bytes, s[close]!, e[close]!, decimal);
    const v = volume === null ? 0 : readVolumeAt(bytes, s[volume]!, e[volume]!, decimal);
    const width = spread === null ? 0 : readNumberAt(bytes, s[spread]!, e[spread]!, decimal);
    if (Number.isNaN(o + h + l + c + v + width)) return this.#reject(this.#line, this.#notANumber(bytes));
    const problem = barProblem(o, h, l, c, v);
    if (problem) return this.#reject(this.#line, problem);
    if (this.#count === this.#capacity) this.#grow();
    const i = this.#count++;
    const columns = this.#columns;
    columns[0]![i] = at - this.#shift;
    columns[1]![i] = o;
    columns[2]![i] = h;
    columns[3]![i] = l;
    columns[4]![i] = c;
    columns[5]![i] = v;
    columns[6]![i] = this.#line;
    columns[7]![i] = width;
  }

  #span(column: number | null): FieldSpan {
    return column === null ? NO_FIELD : { start: this.#starts[column]!, end: this.#ends[column]! };
  }

  /** Names the first price of the line, the volume or the spread, that is not a number. */
  #notANumber(bytes: Uint8Array): string {
    const { decimal, volume } = this.#layout;
    for (const role of ["open", "high", "low", "close", "volume", "spread"] as const) {
      const column = this.#layout[role] ?? null;
      if (column === null) continue;
      const [start, end] = [this.#starts[column]!, this.#ends[column]!];
      if (!Number.isNaN((column === volume ? readVolumeAt : readNumberAt)(bytes, start, end, decimal))) continue;
      return start === end
        ? `its ${role} is empty`
        : `its ${role} "${shortened(textOf(bytes, start, end))}" is not a number with a decimal ${decimal === "." ? "point" : "comma"}`;
    }
    return "a price or the volume is not a number";
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
        this.#starts[count] = a;
        this.#ends[count] = b;
      }
      count++;
      from = i + 1;
    }
    return Math.min(count, MOST_FIELDS);
  }

  #grow(): void {
    this.#capacity *= 2;
    this.#columns = this.#columns.map((column) => {
      const grown = new Float64Array(this.#capacity);
      grown.set(column);
      return grown;
    });
  }

  /** Drops bars whose time does not go on, in place; returns how many are left. */
  #dropDisorder(columns: Float64Array[]): number {
    const time = columns[0]!;
    const lines = columns[6]!;
    let kept = 0;
    for (let i = 0; i < time.length; i++) {
      if (kept > 0 && !(time[i]! > time[kept - 1]!)) {
        this.#reject(
          lines[i]!,
          time[i] === time[kept - 1] ? "its time is the same as the previous bar's" : "its time is earlier than the previous bar's",
        );
        continue;
      }
      if (kept !== i) for (const column of columns) column[kept] = column[i]!;
      kept++;
    }
    return kept;
  }
}

function runsBackwards(time: Float64Array): boolean {
  let falling = 0;
  for (let i = 1; i < time.length; i++) if (time[i]! < time[i - 1]!) falling++;
  return time.length > 2 && falling > 0.9 * (time.length - 1);
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
