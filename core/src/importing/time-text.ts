/**
 * Times as they stand in files, read from bytes, strictly: whatever is not part of a date, a time of day, AM or PM, or a zone
 * makes the text no time, and `problem` says why.
 */
import { wallToUtc } from "../market/calendar.ts";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import { zoneOf } from "./zone-text.ts";

/**
 * `iso` and `ymd` begin with the year, `named` has the month as a word, `week` is 2025-W14-1, `compact` is 20250331 with
 * or without 071500 right behind, `serial` counts days since 1899-12-30 as spreadsheets do, `unix-*` since 1970.
 */
export const DATE_FORMATS = [
  "iso",
  "ymd",
  "dmy",
  "mdy",
  "named",
  "compact",
  "week",
  "unix-s",
  "unix-ms",
  "unix-us",
  "unix-ns",
  "serial",
] as const;
export type DateFormat = (typeof DATE_FORMATS)[number];

const ZERO = 48;
const SPACE = 32;
const COLON = 58;
const POINT = 46;
const COMMA = 44;
const isDigit = (byte: number | undefined): boolean => byte !== undefined && byte >= ZERO && byte <= 57;
const isLetter = (byte: number): boolean => (byte | 32) >= 97 && (byte | 32) <= 122;

const UNIX_UNITS: Partial<Record<DateFormat, number>> = { "unix-s": 1000, "unix-ms": 1, "unix-us": 1e-3, "unix-ns": 1e-6 };
/** 1899-12-30: the day that serial numbers count from. */
const SERIAL_ZERO_MS = Date.UTC(1899, 11, 30);
const FIRST_MS = Date.UTC(1900, 0, 1);
const LAST_MS = Date.UTC(2200, 0, 1);
export const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
const LETTER = /[a-z]/i;

/** Where a field lies in some bytes; empty where it is not given. */
export interface FieldSpan {
  readonly start: number;
  readonly end: number;
}
export const NO_FIELD: FieldSpan = { start: 0, end: 0 };

/** Reads times of one format. Times that name no zone are taken in `zone`. */
export class TimeReader {
  readonly #format: DateFormat;
  readonly #zone: string;
  readonly #zones = new Map<string, number | string | null>();
  #problem = "";
  #dateMs = Number.NaN;
  /** Minutes after midnight and milliseconds beyond them, of the time of day read last; -1 where there was none. */
  #minutes = -1;
  #restMs = 0;
  /** Zone that the time names itself: minutes, a name, or null where it names none. */
  #own: number | string | null = null;
  #dateKey = -1;
  #dateOfKey = Number.NaN;
  #hourKey = Number.NaN;
  #hourZone = "";
  #hourOffset = 0;

  constructor(format: DateFormat, zone: string) {
    this.#format = format;
    this.#zone = zone;
  }

  /** Why the last text was no time. */
  get problem(): string {
    return this.#problem;
  }

  /**
   * The time in bytes [start, end).
   * @param clock the time of day, where it stands in a column of its own
   * @param zone the zone, where it does
   * @returns UTC milliseconds, NaN for what is no time of the format
   */
  read(bytes: Uint8Array, start: number, end: number, clock: FieldSpan = NO_FIELD, zone: FieldSpan = NO_FIELD): number {
    this.#problem = "";
    const format = this.#format;
    const unit = UNIX_UNITS[format];
    if (unit !== undefined || format === "serial") return this.#counted(textOf(bytes, start, end), unit);
    this.#minutes = -1;
    this.#restMs = 0;
    this.#own = null;
    const at = this.#date(bytes, start, end);
    if (at < 0 || Number.isNaN(this.#dateMs)) return this.#fail(bytes, start, end, `is not a date ${IN_WORDS[format]}`);
    if (!this.#clock(bytes, at, end, start)) return Number.NaN;
    if (clock.end > clock.start) {
      if (this.#minutes > 0 || this.#restMs > 0) return this.#fail(bytes, start, end, "has a time of day, and another column has one too");
      this.#minutes = -1;
      if (!this.#clock(bytes, clock.start, clock.end, clock.start)) return Number.NaN;
      if (this.#minutes < 0) return this.#fail(bytes, clock.start, clock.end, "is not a time of day");
    }
    if (this.#own === null && zone.end > zone.start && !this.#takeZone(bytes, zone.start, zone.end)) return Number.NaN;
    const minutes = Math.max(0, this.#minutes);
    const wall = this.#dateMs + minutes * MINUTE_MS + this.#restMs;
    if (typeof this.#own === "number") return wall - this.#own * MINUTE_MS;
    return wall - this.#zoneOffset(this.#own ?? this.#zone, this.#dateMs, Math.floor(minutes / 60));
  }

  #fail(bytes: Uint8Array, start: number, end: number, why: string): number {
    this.#problem = `"${shortened(textOf(bytes, start, end))}" ${why}`;
    return Number.NaN;
  }

  /** Numbers that count from a day: seconds and their parts since 1970, or days since 1899-12-30. */
  #counted(text: string, unit: number | undefined): number {
    const value = /^\d+(\.\d*)?([eE]\+?\d+)?$/.test(text) ? Number(text) : Number.NaN;
    const words = IN_WORDS[this.#format];
    if (Number.isNaN(value)) {
      this.#problem = `"${shortened(text)}" is not a number of ${words}`;
      return Number.NaN;
    }
    let ms = Math.floor(value * (unit ?? 1));
    // Case: spreadsheets count wall-clock days; whole seconds are what their fractions stand for.
    if (unit === undefined) {
      const wall = SERIAL_ZERO_MS + Math.round(value * 86_400) * 1000;
      const day = Math.floor(wall / DAY_MS) * DAY_MS;
      ms = wall >= FIRST_MS && wall < LAST_MS ? wall - this.#zoneOffset(this.#zone, day, Math.floor((wall - day) / 3_600_000)) : Number.NaN;
    }
    if (ms >= FIRST_MS && ms < LAST_MS) return ms;
    this.#problem = `"${shortened(text)}" as ${words} lies outside the years 1900 to 2199; choose another unit`;
    return Number.NaN;
  }

  /** Reads the date at the start of the text into `#dateMs`; returns where it ends, -1 where there is none. */
  #date(bytes: Uint8Array, start: number, end: number): number {
    switch (this.#format) {
      case "compact":
        return this.#compactDate(bytes, start, end);
      case "week":
        return this.#weekDate(bytes, start, end);
      case "named":
        return this.#namedDate(bytes, start, end);
      default:
        return this.#numericDate(bytes, start, end);
    }
  }

  #numericDate(bytes: Uint8Array, start: number, end: number): number {
    let i = start;
    let first = 0;
    let second = 0;
    let third = 0;
    let yearDigits = 0;
    const yearAt = this.#format === "dmy" || this.#format === "mdy" ? 2 : 0;
    let separator = 0;
    for (let k = 0; k < 3; k++) {
      if (k > 0) {
        const byte = bytes[i]!;
        if (i >= end || (byte !== 45 && byte !== 47 && byte !== POINT && byte !== SPACE) || (k === 2 && byte !== separator)) return -1;
        separator = byte;
        i++;
        // Case: "31. 3. 2025".
        while (i < end && bytes[i] === SPACE) i++;
      }
      let value = 0;
      const from = i;
      while (i < end && isDigit(bytes[i])) value = value * 10 + bytes[i++]! - ZERO;
      const digits = i - from;
      if (digits === 0 || digits > 4 || (k !== yearAt && digits > 2)) return -1;
      if (k === yearAt) yearDigits = digits;
      if (k === 0) first = value;
      else if (k === 1) second = value;
      else third = value;
    }
    if (yearDigits === 3) return -1;
    const year = yearAt === 0 ? first : third;
    const month = this.#format === "mdy" ? first : second;
    const day = yearAt === 0 ? third : this.#format === "mdy" ? second : first;
    this.#setDate(yearDigits <= 2 ? fullYear(year) : year, month, day);
    return i;
  }

  #compactDate(bytes: Uint8Array, start: number, end: number): number {
    if (end - start < 8) return -1;
    for (let i = start; i < start + 8; i++) if (!isDigit(bytes[i])) return -1;
    const two = (i: number): number => (bytes[i]! - ZERO) * 10 + bytes[i + 1]! - ZERO;
    this.#setDate(two(start) * 100 + two(start + 2), two(start + 4), two(start + 6));
    return start + 8;
  }

  #weekDate(bytes: Uint8Array, start: number, end: number): number {
    const match = /^(\d{4})-?W(\d{2})(?:-?([1-7]))?(?!\d)/i.exec(textOf(bytes, start, end));
    if (!match) return -1;
    const [year, week] = [Number(match[1]), Number(match[2])];
    // The week that holds January 4th is the year's first (ISO 8601).
    const fourth = Date.UTC(year, 0, 4);
    const monday = fourth - ((new Date(fourth).getUTCDay() + 6) % 7) * DAY_MS + (week - 1) * 7 * DAY_MS;
    const valid = week >= 1 && new Date(monday + 3 * DAY_MS).getUTCFullYear() === year;
    this.#dateMs = valid ? monday + (Number(match[3] ?? 1) - 1) * DAY_MS : Number.NaN;
    return start + match[0].length;
  }

  #namedDate(bytes: Uint8Array, start: number, end: number): number {
    const text = textOf(bytes, start, end);
    const words =
      /^(?:[a-z]{3,9}\.?,?\s+(?=[a-z\d]))??(?:(\d{1,2})(?:st|nd|rd|th)?[\s./-]*([a-z]{3,9})\.?|([a-z]{3,9})\.?[\s./-]*(\d{1,2})(?:st|nd|rd|th)?)[\s.,/-]+(\d{4}|\d{2})(?!\d)/i;
    const yearFirst = /^(\d{4})[\s./-]*([a-z]{3,9})[\s./-]*(\d{1,2})(?!\d)/i;
    const found = words.exec(text);
    const turned = found ? null : yearFirst.exec(text);
    const match = found ?? turned;
    if (!match) return -1;
    const [day, name, year] = found ? [found[1] ?? found[4], found[2] ?? found[3], found[5]] : [turned![3], turned![2], turned![1]];
    const month = MONTHS.indexOf(name!.slice(0, 3).toLowerCase()) + 1;
    this.#setDate(year!.length === 2 ? fullYear(Number(year)) : Number(year), month, Number(day));
    return start + match[0].length;
  }

  #setDate(year: number, month: number, day: number): void {
    const key = year * 10_000 + month * 100 + day;
    if (key !== this.#dateKey) {
      this.#dateKey = key;
      const ms = Date.UTC(year, month - 1, day);
      const valid = year >= 1900 && year < 2200 && month >= 1 && month <= 12 && new Date(ms).getUTCDate() === day;
      this.#dateOfKey = valid ? ms : Number.NaN;
    }
    this.#dateMs = this.#dateOfKey;
  }

  /** Reads a time of day with what may follow it; true also where nothing follows. */
  #clock(bytes: Uint8Array, from: number, end: number, fieldStart: number): boolean {
    let i = from;
    const bad = (why: string): boolean => {
      this.#fail(bytes, fieldStart, end, why);
      return false;
    };
    while (i < end && (bytes[i] === SPACE || bytes[i] === COMMA || bytes[i] === 95)) i++;
    if ((bytes[i] === 84 || bytes[i] === 116) && isDigit(bytes[i + 1])) i++;
    // Case: "2025-03-31:07:15".
    if (i === from && i > fieldStart && bytes[i] === COLON) i++;
    if (i >= end || !isDigit(bytes[i])) return i >= end || this.#tail(bytes, i, end, fieldStart);
    const digitsFrom = i;
    let value = 0;
    while (i < end && isDigit(bytes[i])) value = value * 10 + bytes[i++]! - ZERO;
    const digits = i - digitsFrom;
    let [hour, minute, second, restMs] = [value, 0, 0, 0];
    if (digits > 2) {
      // Case: 0715, 71500, 071500, 071500250 without separators.
      if (digits === 8 || digits === 7 || digits > 9) return bad("has no time of day that can be read");
      if (digits === 9) [value, restMs] = [Math.floor(value / 1000), value % 1000];
      if (digits > 4) [value, second] = [Math.floor(value / 100), value % 100];
      [hour, minute] = [Math.floor(value / 100), value % 100];
    } else if (bytes[i] === COLON || bytes[i] === POINT) {
      const separator = bytes[i]!;
      i++;
      const minuteFrom = i;
      while (i < end && isDigit(bytes[i])) minute = minute * 10 + bytes[i++]! - ZERO;
      if (i - minuteFrom !== 2) return bad("has minutes that are not two digits");
      if (i < end && bytes[i] === separator && isDigit(bytes[i + 1])) {
        const secondFrom = ++i;
        while (i < end && isDigit(bytes[i])) second = second * 10 + bytes[i++]! - ZERO;
        if (i - secondFrom !== 2) return bad("has seconds that are not two digits");
      }
    }
    if (i < end && (bytes[i] === POINT || bytes[i] === COMMA || bytes[i] === COLON) && isDigit(bytes[i + 1])) {
      let scale = 100;
      for (i++; i < end && isDigit(bytes[i]); i++) {
        restMs += (bytes[i]! - ZERO) * scale;
        scale = scale === 1 ? 0 : scale / 10;
      }
    }
    const half = this.#half(bytes, i, end);
    if (half !== 0) {
      if (hour < 1 || hour > 12) return bad("has AM or PM behind an hour that is not 1 to 12");
      hour = (hour % 12) + (half > 0 ? 12 : 0);
      i = this.#afterHalf;
    }
    if (hour > 24 || minute > 59 || second > 59 || (hour === 24 && minute + second + restMs > 0)) return bad("is past the end of the day");
    this.#minutes = hour * 60 + minute;
    this.#restMs = second * 1000 + restMs;
    return this.#tail(bytes, i, end, fieldStart);
  }

  #afterHalf = 0;
  /** -1 for AM, 1 for PM, 0 for neither; where it ends is in `#afterHalf`. */
  #half(bytes: Uint8Array, from: number, end: number): number {
    let i = from;
    while (i < end && bytes[i] === SPACE) i++;
    const first = (bytes[i] ?? 0) | 32;
    if (i >= end || (first !== 97 && first !== 112)) return 0;
    i++;
    if (bytes[i] === POINT) i++;
    if (i >= end || (bytes[i]! | 32) !== 109) return 0;
    i++;
    if (bytes[i] === POINT) i++;
    if (i < end && isLetter(bytes[i]!)) return 0;
    this.#afterHalf = i;
    return first === 97 ? -1 : 1;
  }

  /** What is left of a field has to name a zone. */
  #tail(bytes: Uint8Array, from: number, end: number, fieldStart: number): boolean {
    let i = from;
    while (i < end && bytes[i] === SPACE) i++;
    if (i >= end) return true;
    if (i === end - 1 && (bytes[i]! | 32) === 122) {
      this.#own = 0;
      return true;
    }
    return this.#takeZone(bytes, i, end, fieldStart);
  }

  #takeZone(bytes: Uint8Array, start: number, end: number, fieldStart = start): boolean {
    const text = textOf(bytes, start, end);
    let zone = this.#zones.get(text);
    if (zone === undefined) {
      zone = zoneOf(text);
      this.#zones.set(text, zone);
    }
    if (zone === null) {
      const what = LETTER.test(text) ? "names no time zone that is clear" : "can't be read as part of a time";
      this.#fail(bytes, fieldStart, end, fieldStart === start ? what : `ends in "${shortened(text)}", which ${what}`);
      return false;
    }
    this.#own = zone;
    return true;
  }

  #zoneOffset(zone: string, dateMs: number, hour: number): number {
    const key = dateMs + hour * 60 * MINUTE_MS;
    if (key !== this.#hourKey || zone !== this.#hourZone) {
      this.#hourKey = key;
      this.#hourZone = zone;
      const day = Math.floor(dateMs / DAY_MS) * DAY_MS;
      this.#hourOffset = dateMs + hour * 60 * MINUTE_MS - wallToUtc(zone, day, hour * 60);
    }
    return this.#hourOffset;
  }
}

const IN_WORDS: Readonly<Record<DateFormat, string>> = {
  iso: "of the form year-month-day",
  ymd: "of the form year/month/day",
  dmy: "of the form day.month.year",
  mdy: "of the form month/day/year",
  named: "with the month as a word",
  compact: "of the form 20250331",
  week: "of the form 2025-W14-1",
  "unix-s": "seconds since 1970",
  "unix-ms": "milliseconds since 1970",
  "unix-us": "microseconds since 1970",
  "unix-ns": "nanoseconds since 1970",
  serial: "days of a spreadsheet",
};

/** Two digits of a year: 70 to 99 belong to the last century. */
const fullYear = (year: number): number => year + (year < 70 ? 2000 : 1900);

const MOST_SHOWN = 40;
export const shortened = (text: string): string => (text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN)}…` : text);

/** The text of bytes [start, end), all of it, as Latin-1; times and numbers need no more. */
export function textOf(bytes: Uint8Array, start: number, end: number): string {
  let result = "";
  for (let i = start; i < end; i++) result += String.fromCharCode(bytes[i]!);
  return result;
}
