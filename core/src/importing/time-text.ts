/** Times as they stand in files, read from bytes without making strings. */
import { wallToUtc } from "../market/calendar.ts";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";

export type DateFormat = "iso" | "ymd" | "dmy" | "mdy" | "compact" | "unix-s" | "unix-ms";

const ZERO = 48;
const isDigit = (byte: number): boolean => byte >= ZERO && byte <= 57;

/**
 * Reads times of one format. Naive times are taken in `zone`; an ISO time that ends in Z or an offset keeps its own.
 * NaN for what can't be read.
 */
export class TimeReader {
  readonly #format: DateFormat;
  readonly #zone: string;
  readonly #parts = new Float64Array(7);
  #hourKey = Number.NaN;
  #hourOffset = 0;
  #dateKey = -1;
  #dateMs = Number.NaN;

  constructor(format: DateFormat, zone: string) {
    this.#format = format;
    this.#zone = zone;
  }

  /** The time in bytes [start, end), with the time of day in [clockStart, clockEnd) where it stands apart. */
  read(bytes: Uint8Array, start: number, end: number, clockStart: number, clockEnd: number): number {
    const format = this.#format;
    if (format === "unix-s" || format === "unix-ms") {
      let value = 0;
      if (start === end) return Number.NaN;
      for (let i = start; i < end; i++) {
        if (!isDigit(bytes[i]!)) return Number.NaN;
        value = value * 10 + bytes[i]! - ZERO;
      }
      return format === "unix-s" ? value * 1000 : value;
    }
    const compact = format === "compact";
    const parts = this.#parts;
    let count = compact ? this.#compact(bytes, start, end) : this.#numbers(bytes, start, end, 0);
    if (count < 3) return Number.NaN;
    if (clockStart < clockEnd)
      count = compact ? this.#compactClock(bytes, clockStart, clockEnd) : this.#numbers(bytes, clockStart, clockEnd, 3);
    for (let i = count; i < 7; i++) parts[i] = 0;
    const yearAt = format === "dmy" || format === "mdy" ? 2 : 0;
    const monthAt = format === "mdy" ? 0 : 1;
    const dayAt = format === "dmy" ? 0 : format === "mdy" ? 1 : 2;
    const dateMs = this.#date(parts[yearAt]!, parts[monthAt]!, parts[dayAt]!);
    const [hour, minute, second] = [parts[3]!, parts[4]!, parts[5]!];
    if (hour > 24 || minute > 59 || second > 59) return Number.NaN;
    const tail = second * 1000;
    const offset = this.#ownOffset(bytes, start, end);
    if (!Number.isNaN(offset)) return dateMs + (hour * 60 + minute - offset) * MINUTE_MS + tail;
    return dateMs + (hour * 60 + minute) * MINUTE_MS + tail - this.#zoneOffset(dateMs, hour);
  }

  #numbers(bytes: Uint8Array, start: number, end: number, from: number): number {
    const parts = this.#parts;
    let count = from;
    let i = start;
    while (i < end && count < 6) {
      while (i < end && !isDigit(bytes[i]!)) {
        // Case: a sign after the clock begins a zone offset.
        if (count >= 5 && (bytes[i] === 43 || bytes[i] === 45)) return count;
        i++;
      }
      if (i >= end) break;
      let value = 0;
      while (i < end && isDigit(bytes[i]!)) value = value * 10 + bytes[i++]! - ZERO;
      parts[count++] = value;
    }
    return count;
  }

  #compact(bytes: Uint8Array, start: number, end: number): number {
    const parts = this.#parts;
    const digits: number[] = [];
    for (let i = start; i < end; i++) if (isDigit(bytes[i]!)) digits.push(bytes[i]! - ZERO);
    if (digits.length < 8) return 0;
    parts[0] = digits[0]! * 1000 + digits[1]! * 100 + digits[2]! * 10 + digits[3]!;
    let count = 1;
    for (let i = 4; i + 1 < digits.length && count < 6; i += 2) parts[count++] = digits[i]! * 10 + digits[i + 1]!;
    return count;
  }

  #compactClock(bytes: Uint8Array, start: number, end: number): number {
    const digits: number[] = [];
    for (let i = start; i < end; i++) if (isDigit(bytes[i]!)) digits.push(bytes[i]! - ZERO);
    if (digits.length % 2 === 1) digits.unshift(0);
    let count = 3;
    for (let i = 0; i + 1 < digits.length && count < 6; i += 2) this.#parts[count++] = digits[i]! * 10 + digits[i + 1]!;
    return count;
  }

  #date(year: number, month: number, day: number): number {
    const key = year * 10_000 + month * 100 + day;
    if (key === this.#dateKey) return this.#dateMs;
    this.#dateKey = key;
    const ms = Date.UTC(year, month - 1, day);
    const valid = year >= 1900 && year <= 2200 && month >= 1 && month <= 12 && new Date(ms).getUTCDate() === day;
    this.#dateMs = valid ? ms : Number.NaN;
    return this.#dateMs;
  }

  /** Minutes east of UTC of a time that names its own zone, else NaN. */
  #ownOffset(bytes: Uint8Array, start: number, end: number): number {
    const last = bytes[end - 1];
    if (last === 90 || last === 122) return 0;
    for (let i = Math.max(start + 11, end - 6); i < end; i++) {
      const byte = bytes[i];
      if (byte !== 43 && byte !== 45) continue;
      const digits: number[] = [];
      for (let k = i + 1; k < end; k++) if (isDigit(bytes[k]!)) digits.push(bytes[k]! - ZERO);
      if (digits.length < 2) return Number.NaN;
      const minutes = (digits[0]! * 10 + digits[1]!) * 60 + (digits[2] ?? 0) * 10 + (digits[3] ?? 0);
      return byte === 43 ? minutes : -minutes;
    }
    return Number.NaN;
  }

  #zoneOffset(dateMs: number, hour: number): number {
    const key = dateMs + hour * 60 * MINUTE_MS;
    if (key !== this.#hourKey) {
      this.#hourKey = key;
      const day = Math.floor(dateMs / DAY_MS) * DAY_MS;
      this.#hourOffset = Number.isNaN(dateMs) ? 0 : dateMs + hour * 60 * MINUTE_MS - wallToUtc(this.#zone, day, hour * 60);
    }
    return this.#hourOffset;
  }
}
