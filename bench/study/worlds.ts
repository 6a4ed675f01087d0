/** Worlds whose truth is known: the demo's own characters, the same with weaker and stronger edges, and some with nothing in them. */
import { type BarSeries, type Instrument, makeSeries, type Random, resample } from "@plan-tester/core";
import { type Character, characterOf, generateHistory, goingOn, instrumentNamed } from "@plan-tester/demo";

export interface Kind {
  readonly name: string;
  readonly what: string;
  /** Whose calendar, costs and tick it has. */
  readonly symbol: string;
  /** Nothing of the past tells anything of what comes. */
  readonly isNull: boolean;
  /** Made anew for each world: it may remember what it drew. */
  readonly character: () => Character;
}

/** Of each move this share stays; of the rest half is gone after two sessions. */
const comingBack = (permanent: number) => (): Character => ({ ...characterOf("KELP"), permanent });
const trending = (strength: number) => (): Character => ({ ...characterOf("BRIN"), ...goingOn(strength) });

/** A fall within the session, in its deviations, and how often it comes; what it takes on average is given back over all sessions. */
const [FALL, FALLS] = [4, 0.04];

function falling(): Character {
  let at = -1;
  return {
    ...characterOf("GANN"),
    fallsOnNews: 0.04,
    fear: 0.25,
    beginSession(_carry, random: Random) {
      at = random.next() < FALLS ? Math.floor(random.next() * 400) : -1;
      return 0;
    },
    drift: ({ minute, length, sessionSigma }) => FALL * sessionSigma * (FALLS / length - (minute === at ? 1 : 0)),
  };
}

export const KINDS: readonly Kind[] = [
  { name: "GANN", what: "as in the demo: a fair price", symbol: "GANN", isNull: true, character: () => characterOf("GANN") },
  { name: "BRIN 0", what: "BRIN without its trend", symbol: "BRIN", isNull: true, character: trending(0) },
  {
    name: "KELP 0",
    what: "KELP where every move stays, without its season",
    symbol: "KELP",
    isNull: true,
    character: () => ({ ...comingBack(1)(), beginSession: () => 0 }),
  },
  { name: "falls", what: "a fair price with fat left tails", symbol: "GANN", isNull: true, character: falling },
  {
    name: "TIDE",
    what: "as in the demo: a bias by the hour, gone after 2.5 years",
    symbol: "TIDE",
    isNull: false,
    character: () => characterOf("TIDE"),
  },
  { name: "KELP 0.3", what: "KELP where 0.3 of a move comes back", symbol: "KELP", isNull: false, character: comingBack(0.7) },
  { name: "KELP", what: "as in the demo: 0.5 of a move comes back", symbol: "KELP", isNull: false, character: comingBack(0.5) },
  { name: "KELP 0.7", what: "KELP where 0.7 of a move comes back", symbol: "KELP", isNull: false, character: comingBack(0.3) },
  { name: "BRIN 0.07", what: "BRIN with a trend of up to 0.07", symbol: "BRIN", isNull: false, character: trending(0.07) },
  { name: "BRIN", what: "as in the demo: a trend of up to 0.135 deviations", symbol: "BRIN", isNull: false, character: trending(0.135) },
  { name: "BRIN 0.25", what: "BRIN with a trend of up to 0.25", symbol: "BRIN", isNull: false, character: trending(0.25) },
];

export const instrumentOf = ({ symbol }: Kind): Instrument => instrumentNamed(symbol)!;

/** Hourly bars of one world, from the start of the demo's history. */
export function hourly(kind: Kind, seed: number, toMs: number): BarSeries {
  const { columns } = generateHistory(kind.symbol, toMs, seed, kind.character());
  return resample(makeSeries(columns, "1m", instrumentOf(kind).calendar), "1h").series;
}
