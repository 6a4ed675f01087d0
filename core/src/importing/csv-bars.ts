/**
 * Reads bars from the bytes of a CSV file, part by part, straight into columns. Fields in double quotes are read without
 * them. Every line that is not a valid bar (R1.2) is left out and reported by its number.
 */
import { type BarColumns, barProblem } from "../market/bars.ts";
import { DAY_MS, MINUTE_MS, nominalMs } from "../market/timeframe.ts";
import { type DateFormat, TimeReader } from "./time-text.ts";

export interface CsvLayout {
  readonly delimiter: string;
  readonly headerLines: number;
  readonly time: number;
  readonly clock: number | null;
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly volume: number | null;
  readonly dateFormat: DateFormat;
  readonly zone: string;
  /** Whether a time marks the bar's open or its close. */
  readonly stamp: "open" | "close";
}

export interface LineProblem {
  readonly line: number;
  readonly text: string;
}

export interface ParsedBars {
  readonly columns: BarColumns;
  /** Data lines seen, blank ones not counted. */
  readonly rows: number;
  readonly rejected: number;
  readonly problems: readonly LineProblem[];
}

const MOST_PROBLEMS = 1000;
const MOST_FIELDS = 64;
const NEWLINE = 10;
const RETURN = 13;
const QUOTE = 34;
const POWERS = Array.from({ length: 23 }, (_, i) => 10 ** i);

export class CsvBarReader {
  readonly #layout: CsvLayout;
  readonly #delimiter: number;
  readonly #reader: TimeReader;
  readonly #shift: number;
  readonly #starts = new Int32Array(MOST_FIELDS);
  readonly #ends = new Int32Array(MOST_FIELDS);
  readonly #problems: LineProblem[] = [];
  #rest: Uint8Array = new Uint8Array(0);
  #line = 0;
  #rows = 0;
  #rejected = 0;
  #count = 0;
  #capacity = 1 << 16;
  #columns = Array.from({ length: 7 }, () => new Float64Array(1 << 16));

  constructor(layout: CsvLayout, timeframe: string) {
    this.#layout = layout;
    this.#delimiter = layout.delimiter.charCodeAt(0);
    this.#reader = new TimeReader(layout.dateFormat, layout.zone);
    const length = nominalMs(timeframe);
    this.#shift = layout.stamp === "close" ? (length >= DAY_MS ? 0 : length) : 0;
  }

  get rows(): number {
    return this.#rows;
  }

  /** Takes the next part of the file; lines may be cut anywhere. */
  feed(part: Uint8Array): void {
    let bytes = part;
    if (this.#rest.length > 0) {
      bytes = new Uint8Array(this.#rest.length + part.length);
      bytes.set(this.#rest);
      bytes.set(part, this.#rest.length);
    }
    let start = 0;
    for (let end = bytes.indexOf(NEWLINE); end >= 0; end = bytes.indexOf(NEWLINE, start)) {
      this.#readLine(bytes, start, end);
      start = end + 1;
    }
    this.#rest = bytes.slice(start);
  }

  /** The last line, and everything put in order: a file that runs backwards in time is turned round. */
  finish(): ParsedBars {
    if (this.#rest.length > 0) this.#readLine(this.#rest, 0, this.#rest.length);
    this.#rest = new Uint8Array(0);
    const columns = this.#columns.map((column) => column.subarray(0, this.#count));
    if (runsBackwards(columns[0]!)) for (const column of columns) column.reverse();
    const kept = this.#dropDisorder(columns);
    const [time, open, high, low, close, volume] = columns.map((column) => column.slice(0, kept));
    return {
      columns: { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume! },
      rows: this.#rows,
      rejected: this.#rejected,
      problems: [...this.#problems].sort((a, b) => a.line - b.line),
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
    const { time, clock, open, high, low, close, volume } = this.#layout;
    const fields = this.#split(bytes, start, end);
    const needed = Math.max(time, clock ?? 0, open, high, low, close, volume ?? 0);
    if (fields <= needed) return this.#reject(this.#line, `it has ${fields} fields; ${needed + 1} are needed`);
    const [s, e] = [this.#starts, this.#ends];
    const at = this.#reader.read(bytes, s[time]!, e[time]!, clock === null ? 0 : s[clock]!, clock === null ? 0 : e[clock]!);
    if (Number.isNaN(at))
      return this.#reject(this.#line, `"${text(bytes, s[time]!, e[time]!)}" is not a time in the format ${this.#layout.dateFormat}`);
    const o = number(bytes, s[open]!, e[open]!);
    const h = number(bytes, s[high]!, e[high]!);
    const l = number(bytes, s[low]!, e[low]!);
    const c = number(bytes, s[close]!, e[close]!);
    const v = volume === null ? 0 : number(bytes, s[volume]!, e[volume]!);
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
          time[i] === time[kept - 1] ? "its time is the same as the bar's before it" : "its time lies before the bar's ahead of it",
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

function text(bytes: Uint8Array, start: number, end: number): string {
  let result = "";
  for (let i = start; i < Math.min(end, start + 40); i++) result += String.fromCharCode(bytes[i]!);
  return result;
}

/** A decimal number from bytes: up to 15 digits exactly rounded by one division, the rest by the language's own parser. */
function number(bytes: Uint8Array, start: number, end: number): number {
  let i = start;
  let negative = false;
  if (bytes[i] === 45) {
    negative = true;
    i++;
  }
  let mantissa = 0;
  let digits = 0;
  let decimals = -1;
  for (; i < end; i++) {
    const byte = bytes[i]!;
    if (byte >= 48 && byte <= 57) {
      mantissa = mantissa * 10 + byte - 48;
      digits++;
      if (decimals >= 0) decimals++;
    } else if (byte === 46 && decimals < 0) decimals = 0;
    else return slowNumber(bytes, start, end);
  }
  if (digits === 0) return Number.NaN;
  if (digits > 15) return slowNumber(bytes, start, end);
  const value = decimals > 0 ? mantissa / POWERS[decimals]! : mantissa;
  return negative ? -value : value;
}

function slowNumber(bytes: Uint8Array, start: number, end: number): number {
  const field = text(bytes, start, end);
  return field.trim() === "" ? Number.NaN : Number(field);
}

/** The most common step between bars, as a timeframe: what a file's bars most likely are. */
export function guessTimeframe(time: Float64Array): string {
  const counts = new Map<number, number>();
  for (let i = 1; i < Math.min(time.length, 20_000); i++) {
    const step = time[i]! - time[i - 1]!;
    counts.set(step, (counts.get(step) ?? 0) + 1);
  }
  let best = MINUTE_MS;
  let most = 0;
  for (const [step, count] of counts) if (count > most) [best, most] = [step, count];
  const minutes = Math.round(best / MINUTE_MS);
  if (minutes >= 40_000) return "1mo";
  if (minutes >= 10_080) return "1w";
  if (minutes >= 1440) return "1d";
  return minutes % 60 === 0 && minutes > 0 ? `${minutes / 60}h` : `${Math.max(1, minutes)}m`;
}

const MOST_DECIMALS = 8;
const PRICES_LOOKED_AT = 20_000;

/**
 * The coarsest grid that holds every price of some bars: the greatest common divisor of the prices, counted in the last
 * decimal that any of them has. A few bars can lie on a coarser grid than the instrument's by chance, never on a finer one.
 * @returns price units; 0.01 where there are no prices.
 */
export function guessTickSize({ open, high, low, close }: Pick<BarColumns, "open" | "high" | "low" | "close">): number {
  const n = Math.min(open.length, PRICES_LOOKED_AT);
  let decimals = 0;
  const columns = [open, high, low, close];
  for (const column of columns)
    for (let i = 0; i < n; i++) while (decimals < MOST_DECIMALS && !isWhole(column[i]! * 10 ** decimals)) decimals++;
  let common = 0;
  for (const column of columns) for (let i = 0; i < n; i++) common = greatestDivisor(common, Math.round(column[i]! * 10 ** decimals));
  if (common === 0) return 0.01;
  // Case: few different prices, or one. A grid that coarse is chance.
  const lowest = Math.round(Math.min(...low.subarray(0, n)) * 10 ** decimals);
  return (common > lowest / 100 ? 1 : common) / 10 ** decimals;
}

/** To the noise of a decimal number that is written in binary. */
const isWhole = (value: number): boolean => Math.abs(value - Math.round(value)) <= Math.abs(value) * 1e-12;

function greatestDivisor(a: number, b: number): number {
  let [large, small] = [a, b];
  while (small > 0) [large, small] = [small, large % small];
  return large;
}
