/** What closed trades came to on the present day of the exchange. */
import { type Instrument, isoDate, type Trade, utcToWall } from "@plan-tester/core";

const dateOf = (timeMs: number, { calendar }: Instrument): string => isoDate(utcToWall(calendar.zone, timeMs));

export class TodaysNet {
  #date = "";
  #net = 0;

  /** Trades come oldest first. */
  count({ net, exitTime }: Trade, instrument: Instrument): void {
    const date = dateOf(exitTime, instrument);
    if (date !== this.#date) {
      this.#date = date;
      this.#net = 0;
    }
    this.#net += net;
  }

  /** 0 on a day without trades. */
  at(timeMs: number, instrument: Instrument): number {
    return this.#date === dateOf(timeMs, instrument) ? this.#net : 0;
  }
}
