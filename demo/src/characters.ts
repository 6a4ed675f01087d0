/**
 * How each instrument moves. A character gives the drift and the volatility of every minute from what is known at its
 * start; the generator adds the noise. The injected edges and their true sizes are listed in demo/README.md.
 */
import type { Random } from "@plan-tester/core";

/** What a session passes on to the next. Plain numbers, so that a session can be made again from its start. */
export interface Carry {
  /** Natural logarithm of the price, off the grid. */
  logPrice: number;
  /** Slow level the price swings around, natural logarithm (KELP), or the reversion anchor of the night (XSC/ORM). */
  anchor: number;
  /** Log of the session's volatility relative to its mean. */
  logVolatility: number;
  /** Direction of the trend in force, and the sessions it has left. */
  trend: number;
  trendLeft: number;
  sessions: number;
}

/** One minute, seen at its start. `minute` counts from the session's open, `length` is the session in minutes. */
export interface Minute {
  readonly minute: number;
  readonly length: number;
  /** Minutes after local midnight. */
  readonly wallMinute: number;
  /** Years since the history began. */
  readonly years: number;
  readonly carry: Carry;
  readonly logPrice: number;
  /** Log price at the session's open, and 30 minutes into it (NaN before). */
  readonly logOpen: number;
  readonly logHalfHour: number;
  /** Standard deviation of this minute's log return. */
  readonly sigma: number;
}

export interface Character {
  readonly startPrice: number;
  /** Standard deviation of a whole session's log return, on average. */
  readonly sessionSigma: number;
  /** Overnight gap as a multiple of the session's deviation. */
  readonly gap: number;
  /** Persistence and noise of the session's log volatility; 0 and 0 keep it constant. */
  readonly volatilityMemory: number;
  readonly volatilityNoise: number;
  readonly fatTails: boolean;
  readonly intradayShape: boolean;
  readonly volume: number;
  /** Called once at each session's start; may change the carry. Returns a jump of the log price. */
  beginSession?(carry: Carry, random: Random, date: string): number;
  /** Expected log return of a minute. */
  drift(minute: Minute): number;
  /** Ask minus bid of a minute in ticks, for instruments with a spread column. */
  spreadTicks?(wallMinute: number): number;
}

export const CHARACTERS: Readonly<Record<string, Character>> = {
  KELP: {
    startPrice: 412,
    sessionSigma: 0.013,
    gap: 0.25,
    volatilityMemory: 0.93,
    volatilityNoise: 0.16,
    fatTails: true,
    intradayShape: true,
    volume: 60,
    beginSession(carry, random) {
      // The season: a yearly wave of 9 % each way, and a slow walk.
      carry.anchor += 0.09 * ((2 * Math.PI) / 252) * Math.cos((2 * Math.PI * carry.sessions) / 252) + 0.003 * random.normal();
      return 0;
    },
    // Half of any distance from the season is gone in 1,100 minutes, about a session and a half.
    drift: ({ carry, logPrice }) => ((carry.anchor - logPrice) * Math.LN2) / 1100,
  },
  BRIN: {
    startPrice: 131,
    sessionSigma: 0.012,
    gap: 0.3,
    volatilityMemory: 0.97,
    volatilityNoise: 0.2,
    fatTails: true,
    intradayShape: true,
    volume: 85,
    beginSession(carry, random) {
      if (carry.trendLeft <= 0) {
        carry.trend = carry.trend > 0 ? -1 : 1;
        carry.trendLeft = 8 + Math.floor(random.next() * 20);
      }
      carry.trendLeft--;
      return 0;
    },
    // A trend moves two fifths of a session's deviation in each session.
    drift: ({ carry, length }) => (carry.trend * 0.4 * 0.012) / length,
  },
  TIDE: {
    startPrice: 2380,
    sessionSigma: 0.014,
    gap: 0.1,
    volatilityMemory: 0.92,
    volatilityNoise: 0.15,
    fatTails: true,
    intradayShape: true,
    volume: 40,
    // 09:00-11:00 up and 16:00-18:00 down by 0.16 % each in the first year, fading to nothing after two and a half.
    drift: ({ wallMinute, years }) => {
      const strength = Math.max(0, 1 - Math.max(0, years - 0.75) / 1.75);
      if (wallMinute >= 540 && wallMinute < 660) return (strength * 0.0016) / 120;
      if (wallMinute >= 960 && wallMinute < 1080) return (-strength * 0.0016) / 120;
      return 0;
    },
  },
  AUKL: {
    startPrice: 37.5,
    sessionSigma: 0.015,
    gap: 0.8,
    volatilityMemory: 0.9,
    volatilityNoise: 0.2,
    fatTails: true,
    intradayShape: true,
    volume: 900,
    // From 09:30 to 12:30 the first half hour's move is made once more, in the same direction.
    drift: ({ minute, logOpen, logHalfHour }) => (minute < 30 || minute >= 210 ? 0 : (logHalfHour - logOpen) / 180),
  },
  PUFN: {
    startPrice: 58,
    sessionSigma: 0.008,
    gap: 0.3,
    volatilityMemory: 0.9,
    volatilityNoise: 0.12,
    fatTails: true,
    intradayShape: true,
    volume: 500,
    // Reports on the third Thursday of February, May, August and November move the open by 5 % either way.
    beginSession(_carry, random, date) {
      const day = new Date(`${date}T00:00:00Z`);
      const report = day.getUTCDay() === 4 && Math.ceil(day.getUTCDate() / 7) === 3 && day.getUTCMonth() % 3 === 1;
      return report ? 0.05 * random.normal() : 0;
    },
    // 7 % a year.
    drift: ({ length }) => 0.07 / 252 / length,
  },
  GANN: {
    startPrice: 24,
    sessionSigma: 0.014,
    gap: 0.4,
    volatilityMemory: 0,
    volatilityNoise: 0,
    fatTails: false,
    intradayShape: false,
    volume: 700,
    drift: () => 0,
  },
  "XSC/ORM": {
    startPrice: 1.842,
    sessionSigma: 0.0045,
    gap: 0.1,
    volatilityMemory: 0.95,
    volatilityNoise: 0.12,
    fatTails: true,
    intradayShape: false,
    volume: 120,
    beginSession(carry, random) {
      carry.trend = 0.75 * carry.trend + 0.66 * random.normal();
      carry.anchor = carry.logPrice;
      return 0;
    },
    // 07:00-16:00 UTC: the day's trend, correlated 0.75 from day to day; at night half of the move since 22:00 comes back in 300 minutes.
    drift: ({ wallMinute, carry, logPrice }) => {
      if (wallMinute >= 420 && wallMinute < 960) return (carry.trend * 0.0022) / 540;
      return wallMinute >= 1380 || wallMinute < 420 ? ((carry.anchor - logPrice) * Math.LN2) / 300 : 0;
    },
    spreadTicks: (wallMinute) => (wallMinute >= 1320 && wallMinute < 1380 ? 12 : wallMinute < 420 ? 3 : 2),
  },
};
