/** Bars of a market with a lunch break as a file would hold them, with known faults. */
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";

const HOUR_MS = 60 * MINUTE_MS;
/** Monday, 3 March 2025, UTC. */
const FIRST = Date.UTC(2025, 2, 3);
const OPEN_HOURS = [9, 10, 11, 13, 14, 15];
const HOLE_MS = 30 * MINUTE_MS;

/** From here half an hour is missing. */
export const LUNCH_HOLE = Date.UTC(2025, 2, 12, 10);
/** The high of this minute is threefold. */
export const LUNCH_SPIKE = Date.UTC(2025, 2, 13, 14);

/** Five weeks of minutes as CSV, Monday to Friday 09:00–12:00 and 13:00–16:00 UTC. */
export function lunchCsv(): string {
  const lines = ["time,open,high,low,close,volume"];
  for (let at = FIRST; at < FIRST + 35 * DAY_MS; at += MINUTE_MS) {
    const isOpen = ((at - FIRST) / DAY_MS) % 7 < 5 && OPEN_HOURS.includes(Math.floor((at % DAY_MS) / HOUR_MS));
    if (!isOpen || (at >= LUNCH_HOLE && at < LUNCH_HOLE + HOLE_MS)) continue;
    const k = at / MINUTE_MS;
    const price = 400 + ((k * 7) % 13) / 4;
    const high = (price + 0.25) * (at === LUNCH_SPIKE ? 3 : 1);
    lines.push([new Date(at).toISOString(), price, high, price - 0.25, price, 10 + (k % 97)].join(","));
  }
  return lines.join("\n");
}

/** The same as ticks: four trades a minute at open, high, low and close, between a bid and an ask. */
export function lunchTicks(): string {
  const [, ...bars] = lunchCsv().split("\n");
  const lines = bars.flatMap((bar) => {
    const [time, open, high, low, close, volume] = bar.split(",");
    const trades = [
      [open, 1],
      [high, 1],
      [low, 1],
      [close, Number(volume) - 3],
    ] as const;
    return trades.map(([price, size], k) =>
      [new Date(Date.parse(time!) + k * 14_000).toISOString(), price, size, Number(price) - 0.25, Number(price) + 0.25].join(","),
    );
  });
  return ["time,price,size,bid,ask", ...lines].join("\n");
}
