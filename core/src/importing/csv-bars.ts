/**
 * Reads bars from the bytes of a CSV file, part by part, straight into columns. Every line that is not a valid bar (R1.2) is
 * left out and reported by its number.
 */

import { type BarColumns, barProblem } from "../market/bars.ts";
import { DAY_MS, nominalMs } from "../market/timeframe.ts";
import { CsvLines } from "./csv-lines.ts";
import type { BarLayout } from "./file-layout.ts";
import { notANumber, readNumberAt, readVolumeAt } from "./number-text.ts";
import { type Room, RowBlocks } from "./row-blocks.ts";
import { type LineProblem, spacingProblem } from "./spacing.ts";
import { TimeReader } from "./time-text.ts";

export interface ParsedBars {
  readonly columns: BarColumns;
  /** Data lines seen, blank ones not counted. */
  readonly rows: number;
  readonly rejected: number;
  readonly problems: readonly LineProblem[];
  /** Where bars do not lie apart as their timeframe says. */
  readonly spacing: LineProblem | null;
}

/** Time, four prices, volume, the line's number, and the spread where there is one. */
const COLUMNS = 7;

export class CsvBarReader {
  readonly #layout: BarLayout;
  readonly #lines: CsvLines;
  readonly #reader: TimeReader;
  readonly #shift: number;
  readonly #timeframe: string;
  readonly #rows: RowBlocks;

  /** @param room for the rows, where it is known how many there may be */
  constructor(layout: BarLayout, timeframe: string, room: Partial<Room> = {}) {
    this.#layout = layout;
    this.#reader = new TimeReader(layout.dateFormat, layout.zone);
    this.#timeframe = timeframe;
    const { time, clock, zoneColumn, open, high, low, close, volume, spread } = layout;
    const last = Math.max(time, clock ?? 0, zoneColumn ?? 0, open, high, low, close, volume ?? 0, spread ?? 0);
    this.#lines = new CsvLines(layout, last + 1, (bytes) => this.#readLine(bytes));
    this.#rows = new RowBlocks(typeof spread === "number" ? COLUMNS + 1 : COLUMNS, room);
    const length = nominalMs(timeframe);
    this.#shift = layout.stamp === "close" ? (length >= DAY_MS ? 0 : length) : 0;
  }

  /** Takes the next part of the file; lines may be cut anywhere. */
  feed(part: Uint8Array): void {
    this.#lines.feed(part);
  }

  /** The last line, and everything put in order: a file that runs backwards in time is turned round. Asked for once. */
  finish(): ParsedBars {
    this.#lines.finish();
    const columns = this.#rows.take();
    if (runsBackwards(columns[0]!)) for (const column of columns) column.reverse();
    const kept = this.#dropDisorder(columns);
    const [time, open, high, low, close, volume, lines, spread] = columns.map((column) => column.subarray(0, kept));
    const { rows, rejected, problems } = this.#lines;
    return {
      columns: { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume!, ...(spread && { spread }) },
      ...{ rows, rejected },
      problems: [...problems].sort((a, b) => a.line - b.line),
      spacing: spacingProblem(time!, this.#timeframe, lines!),
    };
  }

  #readLine(bytes: Uint8Array): string | null {
    const { time, clock, zoneColumn, open, high, low, close, volume, spread = null, decimal } = this.#layout;
    const lines = this.#lines;
    const { starts: s, ends: e } = lines;
    const at = this.#reader.read(bytes, s[time]!, e[time]!, lines.span(clock), lines.span(zoneColumn));
    if (Number.isNaN(at)) return this.#reader.problem;
    const o = readNumberAt(bytes, s[open]!, e[open]!, decimal);
    const h = readNumberAt(bytes, s[high]!, e[high]!, decimal);
    const l = readNumberAt(bytes, s[low]!, e[low]!, decimal);
    const c = readNumberAt(bytes, s[close]!, e[close]!, decimal);
    const v = volume === null ? 0 : readVolumeAt(bytes, s[volume]!, e[volume]!, decimal);
    const width = spread === null ? 0 : readNumberAt(bytes, s[spread]!, e[spread]!, decimal);
    if (Number.isNaN(o + h + l + c + v + width))
      return notANumber(bytes, lines, { open, high, low, close, volume, spread }, decimal) ?? "a price or the volume is not a number";
    const problem = barProblem(o, h, l, c, v);
    if (problem) return problem;
    const i = this.#rows.next();
    const { columns } = this.#rows;
    columns[0]![i] = at - this.#shift;
    columns[1]![i] = o;
    columns[2]![i] = h;
    columns[3]![i] = l;
    columns[4]![i] = c;
    columns[5]![i] = v;
    columns[6]![i] = lines.line;
    if (spread !== null) columns[7]![i] = width;
    return null;
  }

  /** Drops bars whose time does not go on, in place; returns how many are left. */
  #dropDisorder(columns: Float64Array[]): number {
    const time = columns[0]!;
    const lines = columns[6]!;
    let kept = 0;
    for (let i = 0; i < time.length; i++) {
      if (kept > 0 && !(time[i]! > time[kept - 1]!)) {
        const isSame = time[i] === time[kept - 1];
        this.#lines.reject(
          isSame ? "its time is the same as the previous bar's" : "its time is earlier than the previous bar's",
          lines[i]!,
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
