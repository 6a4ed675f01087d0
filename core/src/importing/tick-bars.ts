/**
 * Builds bars of a minute from ticks as they come. A bar opens with the first price of its minute; its volume is the sum of
 * sizes, or how many ticks there were where they have none; its spread is the mean over its quotes, or that of the bar before
 * where it has none. A file that runs backwards in time is read backwards.
 */
import type { BarColumns } from "../market/bars.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import { RowBlocks } from "./row-blocks.ts";

const COLUMNS = 7;
const [TIME, OPEN, HIGH, LOW, CLOSE, VOLUME, SPREAD] = [0, 1, 2, 3, 4, 5, 6] as const;

const minuteOf = (timeMs: number): number => Math.floor(timeMs / MINUTE_MS) * MINUTE_MS;

export class TickBars {
  readonly #bars = new RowBlocks(COLUMNS);
  /** Place of the bar under way in the columns of its block; -1 before the first. */
  #at = -1;
  #minute = Number.NaN;
  /** 1 or -1 once ticks of two minutes have been seen. */
  #direction = 0;
  #quotes = 0;
  #hasSpread = false;

  /**
   * @param size of the trade; NaN where the file has none
   * @param spread ask minus bid; NaN where one of them is not known
   * @returns what is wrong with the tick's time, or null
   */
  add(timeMs: number, price: number, size: number, spread: number): string | null {
    const minute = minuteOf(timeMs);
    const problem = this.#goOn(minute);
    if (problem !== null) return problem;
    if (!this.#isUnderWay(minute)) this.#open(minute, price);
    const at = this.#at;
    const { columns } = this.#bars;
    if (price > columns[HIGH]![at]!) columns[HIGH]![at] = price;
    if (price < columns[LOW]![at]!) columns[LOW]![at] = price;
    columns[this.#direction < 0 ? OPEN : CLOSE]![at] = price;
    columns[VOLUME]![at]! += Number.isNaN(size) ? 1 : size;
    if (!Number.isNaN(spread)) this.#widen(spread);
    return null;
  }

  /** A quote between trades: it counts to the spread of its minute where that has a bar. @returns as `add` */
  addQuote(timeMs: number, spread: number): string | null {
    const minute = minuteOf(timeMs);
    const problem = this.#goOn(minute);
    if (problem === null && this.#isUnderWay(minute)) this.#widen(spread);
    return problem;
  }

  #isUnderWay(minute: number): boolean {
    return this.#at >= 0 && this.#bars.columns[TIME]![this.#at] === minute;
  }

  /** Only minutes have to go on: files of trades are often out of order by parts of a second. */
  #goOn(minute: number): string | null {
    const step = Math.sign(minute - this.#minute);
    if (step !== 0 && this.#direction === 0 && this.#at >= 0) this.#turn(step);
    else if (step !== 0 && step === -this.#direction)
      return step < 0 ? "its minute is over" : "its minute is over, in a file that runs backwards";
    this.#minute = minute;
    return null;
  }

  /** The direction of the file is known: in one that runs backwards what came first is the close. */
  #turn(direction: number): void {
    this.#direction = direction;
    const [open, close] = [this.#bars.columns[OPEN]!, this.#bars.columns[CLOSE]!];
    if (direction < 0) [open[0], close[0]] = [close[0]!, open[0]!];
  }

  #widen(spread: number): void {
    const at = this.#at;
    const width = this.#bars.columns[SPREAD]!;
    this.#hasSpread = true;
    this.#quotes++;
    width[at] = this.#quotes === 1 ? spread : width[at]! + (spread - width[at]!) / this.#quotes;
  }

  finish(): BarColumns {
    const columns = this.#bars.take();
    if (this.#direction < 0) for (const column of columns) column.reverse();
    const [time, open, high, low, close, volume, spread] = columns;
    const bars = { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume! };
    if (!this.#hasSpread) return bars;
    fillForward(spread!);
    return { ...bars, spread: spread! };
  }

  #open(minute: number, price: number): void {
    const at = this.#bars.next();
    this.#at = at;
    const [time, open, high, low, close, volume, spread] = this.#bars.columns;
    time![at] = minute;
    open![at] = high![at] = low![at] = close![at] = price;
    volume![at] = 0;
    spread![at] = Number.NaN;
    this.#quotes = 0;
  }
}

/** In place: each NaN becomes what stands before it, those at the front what comes first. */
function fillForward(values: Float64Array): void {
  let known = values.find((value) => !Number.isNaN(value)) ?? 0;
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i]!)) values[i] = known;
    else known = values[i]!;
  }
}
