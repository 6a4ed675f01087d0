/**
 * Makes 1-minute bars of the Sundrey Isles. Every session draws from a random source of its own, seeded by world seed,
 * symbol and date, and starts from the carry of the session before: the same seed gives the same bytes, and the
 * practice venue can go on where the history ends.
 */
import {
  type BarColumns,
  type Instrument,
  layOutSessions,
  MINUTE_MS,
  priceOfTicks,
  Random,
  type SessionTable,
  seedFrom,
  toGrid,
} from "@plan-tester/core";
import { type Carry, CHARACTERS, type Character } from "./characters.ts";
import { HISTORY_FROM, INSTRUMENTS } from "./instruments.ts";

export const WORLD_SEED = 20260301;
const YEAR_MS = 365.25 * 86_400_000;

export interface SessionPlan {
  readonly date: string;
  readonly openMs: number;
  readonly closeMs: number;
  readonly openMinute: number;
}

/** Bars under construction, grown by doubling. */
export class BarBuilder {
  length = 0;
  #capacity: number;
  #columns: Float64Array[];
  readonly #withSpread: boolean;

  constructor(capacity: number, withSpread: boolean) {
    this.#capacity = capacity;
    this.#withSpread = withSpread;
    this.#columns = Array.from({ length: withSpread ? 7 : 6 }, () => new Float64Array(capacity));
  }

  push(time: number, open: number, high: number, low: number, close: number, volume: number, spread: number): void {
    if (this.length === this.#capacity) {
      this.#capacity *= 2;
      this.#columns = this.#columns.map((column) => {
        const grown = new Float64Array(this.#capacity);
        grown.set(column);
        return grown;
      });
    }
    const c = this.#columns;
    const i = this.length++;
    c[0]![i] = time;
    c[1]![i] = open;
    c[2]![i] = high;
    c[3]![i] = low;
    c[4]![i] = close;
    c[5]![i] = volume;
    if (this.#withSpread) c[6]![i] = spread;
  }

  finish(): BarColumns {
    const [time, open, high, low, close, volume, spread] = this.#columns.map((column) => column.slice(0, this.length));
    return { time: time!, open: open!, high: high!, low: low!, close: close!, volume: volume!, spread };
  }
}

export function characterOf(symbol: string): Character {
  const character = CHARACTERS[symbol];
  if (!character) throw new Error(`The demo world has no instrument ${symbol}; it has ${Object.keys(CHARACTERS).join(", ")}.`);
  return character;
}

export function startCarry(symbol: string): Carry {
  const logPrice = Math.log(characterOf(symbol).startPrice);
  return { logPrice, anchor: logPrice, logVolatility: 0, trend: 1, trendLeft: 0, sessions: 0 };
}

/** Busy at the open and the close, quiet at noon; its mean square over a session is about one. */
function intradayShape(minute: number, length: number): number {
  const x = minute / length;
  return 0.72 + 0.9 * Math.exp(-x * 14) + 0.42 * x ** 6 + 0.3 * (2 * x - 1) ** 2;
}

/**
 * One session of 1-minute bars, appended to `out`; `carry` is changed to what the next session starts from.
 * High and low of a minute are drawn from the extremes of a Brownian bridge between its open and close.
 */
export function generateSession(instrument: Instrument, session: SessionPlan, carry: Carry, out: BarBuilder, seed = WORLD_SEED): void {
  const character = characterOf(instrument.symbol);
  const random = new Random(seedFrom(`${seed}:${instrument.symbol}:${session.date}`));
  const { tickSize } = instrument;
  const length = Math.round((session.closeMs - session.openMs) / MINUTE_MS);
  carry.logVolatility = character.volatilityMemory * carry.logVolatility + character.volatilityNoise * random.normal();
  const level = Math.exp(carry.logVolatility - 0.5 * character.volatilityNoise ** 2);
  const jump = character.beginSession?.(carry, random, session.date) ?? 0;
  let logPrice = carry.logPrice + jump + character.gap * character.sessionSigma * level * random.normal();
  const minuteSigma = (character.sessionSigma * level) / Math.sqrt(length);
  const logOpen = logPrice;
  let logHalfHour = Number.NaN;
  let flurry = 0;
  const years = (session.openMs - HISTORY_FROM) / YEAR_MS;
  for (let minute = 0; minute < length; minute++) {
    const wallMinute = (session.openMinute + minute) % 1440;
    const shape = character.intradayShape ? intradayShape(minute, length) : 1;
    if (character.fatTails) flurry = 0.97 * flurry + 0.12 * random.normal();
    const tail = character.fatTails && random.next() < 0.012 ? 3 : 1;
    const sigma = minuteSigma * shape * Math.exp(flurry - 0.12) * tail;
    if (minute === 30) logHalfHour = logPrice;
    const move =
      character.drift({ minute, length, wallMinute, years, carry, logPrice, logOpen, logHalfHour, sigma }) -
      0.5 * sigma * sigma +
      sigma * random.normal();
    const variance = 2 * sigma * sigma;
    const top = (move + Math.sqrt(move * move - variance * Math.log(1 - random.next()))) / 2;
    const bottom = (move - Math.sqrt(move * move - variance * Math.log(1 - random.next()))) / 2;
    const price = Math.exp(logPrice);
    const spread = character.spreadTicks ? priceOfTicks(character.spreadTicks(wallMinute), tickSize) : 0;
    const volume = Math.round(character.volume * shape * shape * Math.exp(0.6 * random.normal()) * (0.5 + Math.abs(move) / sigma));
    out.push(
      session.openMs + minute * MINUTE_MS,
      toGrid(price, tickSize, "nearest"),
      toGrid(price * Math.exp(top), tickSize, "nearest"),
      toGrid(price * Math.exp(bottom), tickSize, "nearest"),
      toGrid(price * Math.exp(move), tickSize, "nearest"),
      volume,
      spread,
    );
    logPrice += move;
  }
  carry.logPrice = logPrice;
  carry.sessions++;
}

export function sessionPlans(table: SessionTable): SessionPlan[] {
  return table.dates.map((date, i) => ({ date, openMs: table.openMs[i]!, closeMs: table.closeMs[i]!, openMinute: table.openMinute[i]! }));
}

/** All whole sessions that open in [fromMs, toMs), from the start of the world; `carry` is where the next session starts. */
export function generateHistory(symbol: string, toMs: number, seed = WORLD_SEED): { columns: BarColumns; carry: Carry } {
  const instrument = INSTRUMENTS.find((candidate) => candidate.symbol === symbol);
  if (!instrument) throw new Error(`The demo world has no instrument ${symbol}.`);
  const sessions = sessionPlans(layOutSessions(instrument.calendar, HISTORY_FROM, toMs)).filter(
    (s) => s.openMs >= HISTORY_FROM && s.openMs < toMs,
  );
  const carry = startCarry(symbol);
  const out = new BarBuilder(1 << 20, characterOf(symbol).spreadTicks !== undefined);
  for (const session of sessions) generateSession(instrument, session, carry, out, seed);
  return { columns: out.finish(), carry };
}
