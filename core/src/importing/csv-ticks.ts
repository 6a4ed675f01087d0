/** Reads ticks from the bytes of a CSV file, part by part, into bars of a minute. What is no tick is left out by its line. */
import type { ParsedBars } from "./csv-bars.ts";
import { CsvLines } from "./csv-lines.ts";
import type { TickLayout } from "./file-layout.ts";
import { notANumber, readNumberAt, readVolumeAt } from "./number-text.ts";
import { TickBars } from "./tick-bars.ts";
import { TimeReader } from "./time-text.ts";

export class CsvTickReader {
  readonly #layout: TickLayout;
  readonly #lines: CsvLines;
  readonly #reader: TimeReader;
  readonly #bars = new TickBars();

  constructor(layout: TickLayout) {
    this.#layout = layout;
    this.#reader = new TimeReader(layout.dateFormat, layout.zone);
    const { time, clock, zoneColumn, price, bid, ask, volume } = layout;
    const last = Math.max(time, clock ?? 0, zoneColumn ?? 0, price ?? 0, bid ?? 0, ask ?? 0, volume ?? 0);
    this.#lines = new CsvLines(layout, last + 1, (bytes) => this.#readLine(bytes));
  }

  /** Takes the next part of the file; lines may be cut anywhere. */
  feed(part: Uint8Array): void {
    this.#lines.feed(part);
  }

  finish(): ParsedBars {
    this.#lines.finish();
    const { rows, rejected, problems } = this.#lines;
    return { columns: this.#bars.finish(), rows, rejected, problems, spacing: null };
  }

  #readLine(bytes: Uint8Array): string | null {
    const { time, clock, zoneColumn, price, bid, ask, volume, decimal } = this.#layout;
    const lines = this.#lines;
    const { starts: s, ends: e } = lines;
    const at = this.#reader.read(bytes, s[time]!, e[time]!, lines.span(clock), lines.span(zoneColumn));
    if (Number.isNaN(at)) return this.#reader.problem;
    const read = (column: number | null): number => (column === null ? 0 : readNumberAt(bytes, s[column]!, e[column]!, decimal));
    const isEmpty = (column: number | null): boolean => column !== null && s[column] === e[column];
    const hasQuote = bid !== null && ask !== null && !isEmpty(bid) && !isEmpty(ask);
    // Between trades such files tell of quotes alone, and with trades of no quote.
    const isQuote = isEmpty(price) && hasQuote;
    const traded = isQuote ? 0 : read(price);
    const b = hasQuote || price === null ? read(bid) : 0;
    const a = hasQuote || price === null ? read(ask) : 0;
    const size = volume === null || isQuote ? 0 : readVolumeAt(bytes, s[volume]!, e[volume]!, decimal);
    if (Number.isNaN(traded + b + a + size))
      return notANumber(bytes, lines, { price, bid, ask, size: volume }, decimal) ?? "a price or the size is not a number";
    if (hasQuote && a < b) return `the ask ${a} is below the bid ${b}`;
    // A quote alone stands for a price in its middle, about which R1.4 lays the spread.
    const x = price !== null ? traded : hasQuote ? (a + b) / 2 : bid !== null ? b : a;
    if (isQuote) return this.#bars.addQuote(at, a - b);
    if (!(x > 0)) return `the price ${x} is not above 0`;
    if (size < 0) return `the size ${size} is negative`;
    return this.#bars.add(at, x, volume === null ? Number.NaN : size, hasQuote ? a - b : Number.NaN);
  }
}
