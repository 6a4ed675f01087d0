/**
 * How each instrument moves. A character gives the drift of every minute from what is known at its start; the generator adds
 * volatility and noise. The injected edges and what they are worth are listed in demo/README.md; they scale with the session's own
 * volatility and stay buried in it.
 */
import type { Random } from "@plan-tester/core";

/** What a session passes on to the next. Plain numbers, so that a session can be made again from its start. */
export interface Carry {
  /** Natural logarithm of the price, off the grid. */
  logPrice: number;
  /** Level that the price comes back to, natural logarithm. */
  anchor: number;
  /** Parts of the log volatility: one that lasts for months, one that is gone in days. */
  slowVolatility: number;
  quickVolatility: number;
  /** Averages of past moves in deviations of their sessions: what a trend lives on. */
  trend: number;
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
  /** Standard deviation of this session's log return, without its gap. */
  readonly sessionSigma: number;
}

export interface Character {
  /**
   * Which of its possible histories ships; added to the world's seed. Chosen among some thirty for stylised facts near those of
   * the model and an edge near its mean, so that a demo of three years shows what is there.
   */
  readonly history: number;
  readonly startPrice: number;
  /** Standard deviation of a session's log return in a session of middling volatility. */
  readonly sessionSigma: number;
  /** Overnight gap as a multiple of the session's deviation. */
  readonly gap: number;
  /** Standard deviations of the slow and the quick part of the log volatility. */
  readonly slowVolatility: number;
  readonly quickVolatility: number;
  /** How much more a fall raises the volatility of the days after than a rise lowers it, and how often the open jumps down. */
  readonly fear: number;
  readonly fallsOnNews: number;
  readonly intradayShape: boolean;
  readonly volume: number;
  /** Prices that deals stick to on some days, such as whole numbers. */
  readonly roundStep: number;
  /** Called once at each session's start; may change the carry. Returns a jump of the log price. */
  beginSession?(carry: Carry, random: Random, date: string): number;
  /** Expected log return of a minute. */
  drift(minute: Minute): number;
  /** Share of each minute's noise that moves the level too; 0 where there is none. */
  readonly permanent?: number;
  /** Called with the log prices at the start of each minute and at the close. */
  endSession?(carry: Carry, path: Float64Array, sessionSigma: number, openMinute: number): void;
  /** Ask minus bid of a minute in ticks, for instruments with a spread column. */
  spreadTicks?(wallMinute: number): number;
}

/** Keeps an average of what came before, scaled so that pure noise gives it a deviation of one. */
const averaged = (before: number, value: number, weight: number): number => {
  const noise = Math.sqrt(weight / (2 - weight));
  return (1 - weight) * before + (weight * value) / noise;
};

const future = { gap: 0.3, slowVolatility: 0.32, quickVolatility: 0.24, fear: 0, fallsOnNews: 0, intradayShape: true };
const share = { gap: 0.45, slowVolatility: 0.28, quickVolatility: 0.18, fear: 0.1, fallsOnNews: 0.02, intradayShape: true, roundStep: 1 };

/** What moved for weeks goes on moving, by up to `strength` of a session's deviation in each session. */
export const goingOn = (strength: number): Pick<Character, "drift" | "endSession"> => ({
  drift: ({ carry, length, sessionSigma }) => (strength * Math.tanh(2 * carry.trend) * sessionSigma) / length,
  endSession(carry, path, sessionSigma) {
    carry.trend = averaged(carry.trend, (path[path.length - 1]! - path[0]!) / sessionSigma, 0.05);
  },
});

export const CHARACTERS: Readonly<Record<string, Character>> = {
  KELP: {
    ...future,
    history: 2,
    startPrice: 412,
    sessionSigma: 0.013,
    volume: 60,
    roundStep: 10,
    // Half of every move stays; of the other half, half is gone after two sessions. The season moves the level by 4 % a year each way.
    permanent: 0.5,
    beginSession(carry) {
      carry.anchor += 0.04 * ((2 * Math.PI) / 252) * Math.cos((2 * Math.PI * carry.sessions) / 252);
      return 0;
    },
    drift: ({ carry, logPrice, length }) => ((carry.anchor - logPrice) * Math.LN2) / (2 * length),
  },
  BRIN: {
    ...future,
    history: 6,
    startPrice: 131,
    sessionSigma: 0.012,
    gap: 0.35,
    slowVolatility: 0.36,
    volume: 85,
    roundStep: 5,
    ...goingOn(0.135),
  },
  TIDE: {
    ...future,
    history: 114,
    startPrice: 2380,
    sessionSigma: 0.014,
    gap: 0.15,
    volume: 40,
    roundStep: 50,
    // 09:00-11:00 up and 16:00-18:00 down by 0.06 of a session's deviation in the first year, fading to nothing after two and a half.
    drift: ({ wallMinute, years, sessionSigma }) => {
      const strength = 0.06 * Math.max(0, 1 - Math.max(0, years - 0.75) / 1.75);
      if (wallMinute >= 540 && wallMinute < 660) return (strength * sessionSigma) / 120;
      if (wallMinute >= 960 && wallMinute < 1080) return (-strength * sessionSigma) / 120;
      return 0;
    },
  },
  AUKL: {
    ...share,
    history: 100,
    startPrice: 37.5,
    sessionSigma: 0.015,
    gap: 0.7,
    volume: 900,
    // From 09:30 to 12:30 three tenths of the first half hour's move are made once more, in the same direction.
    drift: ({ minute, logOpen, logHalfHour }) => (minute < 30 || minute >= 210 ? 0 : (0.3 * (logHalfHour - logOpen)) / 180),
  },
  PUFN: {
    ...share,
    history: 3,
    startPrice: 58,
    sessionSigma: 0.008,
    volume: 500,
    // Reports on the third Thursday of February, May, August and November move the open by 2.2 % either way.
    beginSession(_carry, random, date) {
      const day = new Date(`${date}T00:00:00Z`);
      const report = day.getUTCDay() === 4 && Math.ceil(day.getUTCDate() / 7) === 3 && day.getUTCMonth() % 3 === 1;
      return report ? 0.022 * random.normal() : 0;
    },
    // 7 % a year.
    drift: ({ length }) => 0.07 / 252 / length,
  },
  GANN: {
    ...share,
    history: 110,
    startPrice: 24,
    sessionSigma: 0.014,
    volume: 700,
    drift: () => 0,
  },
  "XSC/ORM": {
    ...future,
    history: 107,
    startPrice: 1.842,
    sessionSigma: 0.0045,
    gap: 0.1,
    intradayShape: false,
    volume: 120,
    roundStep: 0.01,
    beginSession(carry) {
      carry.anchor = carry.logPrice;
      return 0;
    },
    // 07:00-16:00 UTC: the way of the days before goes on; at night a fifth of the move since 22:00 comes back in 300 minutes.
    drift: ({ wallMinute, carry, logPrice, sessionSigma }) => {
      if (wallMinute >= 420 && wallMinute < 960) return (0.105 * Math.tanh(carry.trend) * sessionSigma) / 540;
      return wallMinute >= 1380 || wallMinute < 420 ? ((carry.anchor - logPrice) * 0.2) / 300 : 0;
    },
    endSession(carry, path, sessionSigma, openMinute) {
      const at = (wallMinute: number): number => path[Math.min(path.length - 1, (wallMinute - openMinute + 1440) % 1440)]!;
      carry.trend = averaged(carry.trend, (at(960) - at(420)) / (0.61 * sessionSigma), 0.12);
    },
    spreadTicks: (wallMinute) => (wallMinute >= 1320 && wallMinute < 1380 ? 12 : wallMinute < 420 ? 3 : 2),
  },
};
