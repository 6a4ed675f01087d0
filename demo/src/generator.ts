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

export function startCarry({ startPrice }: Character): Carry {
  const logPrice = Math.log(startPrice);
  return { logPrice, anchor: logPrice, slowVolatility: 0, quickVolatility: 0, trend: 0, sessions: 0 };
}

/** Busy at the open and the close, quiet at noon; its mean square over a session is about one. */
function intradayShape(minute: number, length: number): number {
  const x = minute / length;
  return 0.72 + 0.9 * Math.exp(-x * 14) + 0.42 * x ** 6 + 0.3 * (2 * x - 1) ** 2;
}

/** Memory of the slow and the quick part of the log volatility from session to session. */
const SLOW_MEMORY = 0.985;
const QUICK_MEMORY = 0.8;
/** How often something happens that nobody foresaw, and by how much it raises the log volatility. */
const ALARMS = 0.014;
const ALARM = 0.6;
/** A fall on news, in deviations of the session; what it takes on average is given back over all sessions. */
const NEWS_FALL = 3;
/** How often trading is halted for the rest of a session. */
const HALTS = 0.003;
/** How often a price sticks to round numbers, how near it has to be, and what is left of its volatility there. */
const STICKY_SESSIONS = 0.3;
const STICKY_NEAR = 0.0008;
const STICKY_SIGMA = 0.6;

/** Log volatility of the next session relative to a middling one; `carry` remembers its parts. */
function nextVolatility(character: Character, carry: Carry, random: Random): number {
  const { slowVolatility, quickVolatility } = character;
  carry.slowVolatility = SLOW_MEMORY * carry.slowVolatility + slowVolatility * Math.sqrt(1 - SLOW_MEMORY ** 2) * random.normal();
  carry.quickVolatility = QUICK_MEMORY * carry.quickVolatility + quickVolatility * Math.sqrt(1 - QUICK_MEMORY ** 2) * random.normal();
  if (random.next() < ALARMS) carry.quickVolatility += ALARM;
  return carry.slowVolatility + carry.quickVolatility;
}

/**
 * One session of 1-minute bars, appended to `out`; `carry` is changed to what the next session starts from.
 * High and low of a minute are drawn from the extremes of a Brownian bridge between its open and close.
 */
export function generateSession(
  instrument: Instrument,
  session: SessionPlan,
  carry: Carry,
  out: BarBuilder,
  seed = WORLD_SEED,
  character = characterOf(instrument.symbol),
): void {
  const random = new Random(seedFrom(`${seed + character.history}:${instrument.symbol}:${session.date}`));
  const { tickSize } = instrument;
  const length = Math.round((session.closeMs - session.openMs) / MINUTE_MS);
  const level = Math.exp(nextVolatility(character, carry, random));
  const sessionSigma = character.sessionSigma * level;
  const jump = character.beginSession?.(carry, random, session.date) ?? 0;
  const isNews = random.next() < character.fallsOnNews;
  const news = (character.fallsOnNews - (isNews ? 1 : 0)) * NEWS_FALL * sessionSigma;
  const gap = jump + news + character.gap * sessionSigma * random.normal();
  const isSticky = random.next() < STICKY_SESSIONS;
  const haltAt = random.next() < HALTS ? 60 + Math.floor(random.next() * length * 0.5) : length;
  const permanent = character.permanent ?? 0;
  let logPrice = carry.logPrice + gap;
  carry.anchor += permanent * gap;
  const minuteSigma = sessionSigma / Math.sqrt(length);
  const logOpen = logPrice;
  const path = new Float64Array(Math.min(haltAt, length) + 1);
  let logHalfHour = Number.NaN;
  let flurry = 0;
  const years = (session.openMs - HISTORY_FROM) / YEAR_MS;
  for (let minute = 0; minute < length && minute < haltAt; minute++) {
    const wallMinute = (session.openMinute + minute) % 1440;
    const shape = character.intradayShape ? intradayShape(minute, length) : 1;
    flurry = 0.97 * flurry + 0.12 * random.normal();
    const tail = random.next() < 0.012 ? 3 : 1;
    const price = Math.exp(logPrice);
    const away = Math.abs(price / character.roundStep - Math.round(price / character.roundStep)) * character.roundStep;
    const sticks = isSticky && away < STICKY_NEAR * price ? STICKY_SIGMA : 1;
    const sigma = minuteSigma * shape * Math.exp(flurry - 0.12) * tail * sticks;
    path[minute] = logPrice;
    if (minute === 30) logHalfHour = logPrice;
    const noise = sigma * random.normal();
    const move =
      character.drift({ minute, length, wallMinute, years, carry, logPrice, logOpen, logHalfHour, sessionSigma }) -
      0.5 * sigma * sigma +
      noise;
    carry.anchor += permanent * noise;
    const variance = 2 * sigma * sigma;
    const top = (move + Math.sqrt(move * move - variance * Math.log(1 - random.next()))) / 2;
    const bottom = (move - Math.sqrt(move * move - variance * Math.log(1 - random.next()))) / 2;
    const spread = character.spreadTicks ? priceOfTicks(character.spreadTicks(wallMinute), tickSize) : 0;
    const activity = shape * shape * level * Math.exp(0.6 * random.normal()) * (0.5 + Math.abs(move) / sigma);
    out.push(
      session.openMs + minute * MINUTE_MS,
      toGrid(price, tickSize, "nearest"),
      toGrid(price * Math.exp(top), tickSize, "nearest"),
      toGrid(price * Math.exp(bottom), tickSize, "nearest"),
      toGrid(price * Math.exp(move), tickSize, "nearest"),
      Math.round(character.volume * activity),
      spread,
    );
    logPrice += move;
  }
  path[path.length - 1] = logPrice;
  carry.quickVolatility -= character.fear * ((logPrice - carry.logPrice) / sessionSigma);
  character.endSession?.(carry, path, sessionSigma, session.openMinute);
  carry.logPrice = logPrice;
  carry.sessions++;
}

export function sessionPlans(table: SessionTable): SessionPlan[] {
  return table.dates.map((date, i) => ({ date, openMs: table.openMs[i]!, closeMs: table.closeMs[i]!, openMinute: table.openMinute[i]! }));
}

/**
 * All whole sessions that open before `toMs`, from the start of the world; `carry` is where the next session starts.
 * @param character how it moves, where that is not as the demo world has it
 */
export function generateHistory(
  symbol: string,
  toMs: number,
  seed = WORLD_SEED,
  character = characterOf(symbol),
): { columns: BarColumns; carry: Carry } {
  const instrument = INSTRUMENTS.find((candidate) => candidate.symbol === symbol);
  if (!instrument) throw new Error(`The demo world has no instrument ${symbol}.`);
  const sessions = sessionPlans(layOutSessions(instrument.calendar, HISTORY_FROM, toMs)).filter(
    (s) => s.openMs >= HISTORY_FROM && s.openMs < toMs,
  );
  const carry = startCarry(character);
  const out = new BarBuilder(1 << 20, character.spreadTicks !== undefined);
  for (const session of sessions) generateSession(instrument, session, carry, out, seed, character);
  return { columns: out.finish(), carry };
}
