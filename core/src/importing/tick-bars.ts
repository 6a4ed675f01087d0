/**
 * Builds bars of a minute from ticks as they come. A bar opens with the first price of its minute; its volume is the sum of
 * sizes, or how many ticks there were where they have none; its spread is the mean over its quotes, or that of the bar before
 * where it has none. A file that runs backwards in time is read backwards.
 */
import type { BarColumns } from "../market/bars.ts";
import { MINUTE_MS } from "../market/timeframe.ts";

const COLUMNS = 7;
const [OPEN, CLOSE, SPREAD] = [1, 4, 6] as const;

const minuteOf = (timeMs: number): number => Math.floor(timeMs / MINUTE_MS) * MINUTE_MS;

export class TickBars {
  #columns = Array.from({ length: COLUMNS }, () => new Float64Array(1 << 12));
  #capacity = 1 << 12;
  #count = 0;
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
    if (this.#count === 0 || this.#columns[0]![this.#count - 1] !== minute) this.#open(minute, price);
    const at = this.#count - 1;
    const [, , high, low, , volume] = this.#columns;
    if (price > high![at]!) high![at] = price;
    if (price < low![at]!) low![at] = price;
    this.#columns[this.#direction < 0 ? OPEN : CLOSE]![at] = price;
    volume![at]! += Number.isNaN(size) ? 1 : size;
    if (!Number.isNaN(spread)) this.#widen(at, spread);
    return null;
  }

  /** A quote between trades: it counts to the spread of its minute where that has a bar. @returns as `add` */
  addQuote(timeMs: number, spread: number): string | null {
    const minute = minuteOf(timeMs);
    const problem = this.#goOn(minute);
    if (problem === null && this.#count > 0 && this.#columns[0]![this.#count - 1] === minute) this.#widen(this.#count - 1, spread);
    return problem;
  }

  /** Only minutes have to go on: files of trades are often out of order by parts of a second. */
  #goOn(minute: number): string | null {
    const step = Math.sign(minute - this.#minute);
    if (step !== 0 && this.#direction === 0 && this.#count > 0) this.#turn(step);
    else if (step !== 0 && step === -this.#direction)
      return step < 0 ? "its minute is over" : "its minute is over, in a file that runs backwards";
    this.#minute = minute;
    return null;
  }

  /** The direction of the file is known: in one that runs backwards what came first is the close. */
  #turn(direction: number): void {
    this.#direction = direction;
    const [open, close] = [this.#columns[OPEN]!, this.#columns[CLOSE]!];
    if (direction < 0) [open[0], close[0]] = [close[0]!, open[0]!];
  }

  #widen(at: number, spread: number): void {
    const width = this.#columns[SPREAD]!;
    this.#hasSpread = true;
    this.#quotes++;
    width[at] = this.#quotes === 1 ? spread : width[at]! + (spread - width[at]!) / this.#quotes;
  }

  finish(): BarColumns {
    const columns = this.#columns.map((column) => column.slice(0, this.#count));
    if (this.#direction < 0) for (const column of columns) column.reverse();
    const [time, open, high, low, close, volume, spread] = columns;
    const bars = { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume! };
    if (!this.#hasSpread) return bars;
    fillForward(spread!);
    return { ...bars, spread: spread! };
  }

  #open(minute: number, price: number): void {
    if (this.#count === this.#capacity) {
      this.#capacity *= 2;
      this.#columns = this.#columns.map((column) => {
        const grown = new Float64Array(this.#capacity);
        grown.set(column);
        return grown;
      });
    }
    const at = this.#count++;
    const [time, open, high, low, close, volume, spread] = this.#columns;
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
