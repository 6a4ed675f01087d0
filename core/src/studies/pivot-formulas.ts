/** Further levels of the session before, by several formulas, each with a pivot and three levels to both sides. */
import { BARS, SESSIONS, type StudyDefinition } from "./definition.ts";
import { previousSessionOf } from "./previous-session.ts";
import { sessionOpenOf } from "./session.ts";
import { barByBar } from "./windows.ts";

/** High, low and close of the session before, and the open of the session that goes on. */
interface Facts {
  readonly high: number;
  readonly low: number;
  readonly close: number;
  readonly open: number;
}

interface Formula {
  readonly name: string;
  readonly summary: string;
  readonly formula: string;
  readonly source: string;
  readonly pivot: (facts: Facts) => number;
  /** The first to third level above or below it. */
  readonly level: (facts: Facts, pivot: number, number: 1 | 2 | 3, sign: 1 | -1) => number;
}

const definition = ({ pivot: pivotOf, level, ...rest }: Formula): StudyDefinition => ({
  ...rest,
  group: "session",
  unit: "price",
  warmUp: "until the second session of the data",
  pane: "price",
  inputs: [BARS],
  outputs: ["pivot", "r1", "s1", "r2", "s2", "r3", "s3"],
  settle: () => 2 * SESSIONS(),
  compute: ({ bars }) => {
    const before = previousSessionOf(bars);
    const opens = sessionOpenOf(bars);
    const factsAt = (i: number): Facts => ({
      high: before.high.values[i]!,
      low: before.low.values[i]!,
      close: before.close.values[i]!,
      open: opens.values[i]!,
    });
    const pivot = barByBar([before.high, opens], (i) => pivotOf(factsAt(i)));
    const levels = ([1, 2, 3] as const).flatMap((number) =>
      ([1, -1] as const).map((sign) => barByBar([pivot], (i) => level(factsAt(i), pivot.values[i]!, number, sign))),
    );
    return [pivot, ...levels];
  },
});

const third = ({ high, low, close }: Facts): number => (high + low + close) / 3;
/** Levels that the floor's formulas put about a pivot. */
const floorLevel: Formula["level"] = ({ high, low }, pivot, number, sign) => {
  if (number === 2) return pivot + sign * (high - low);
  const opposite = sign > 0 ? low : high;
  const own = sign > 0 ? high : low;
  return number === 1 ? 2 * pivot - opposite : own + 2 * (pivot - opposite);
};

export const floorPivots = definition({
  name: "floorPivots",
  summary: "Pivot levels of the session before by the floor's formula, three to each side",
  formula: "pivot = (H + L + C) / 3; r1 = 2 * pivot - L; r2 = pivot + (H - L); r3 = H + 2 * (pivot - L); s1, s2, s3 mirrored",
  source: "floor traders' levels, Person 2004",
  pivot: third,
  level: floorLevel,
});

export const openPivots = definition({
  name: "openPivots",
  summary: "Pivot levels that weigh the new session's open, three to each side",
  formula: "pivot = (H + L + 2 * O) / 4, O the open of the session that goes on; levels as of floorPivots",
  source: "opening-weighted levels, Person 2004",
  pivot: ({ high, low, open }) => (high + low + 2 * open) / 4,
  level: floorLevel,
});

const RATIOS = [0.382, 0.618, 1] as const;

export const ratioPivots = definition({
  name: "ratioPivots",
  summary: "Pivot levels at ratios of the session before's range, three to each side",
  formula: "pivot = (H + L + C) / 3; r1, r2, r3 = pivot + 0.382, 0.618 and 1 * (H - L); s1, s2, s3 mirrored",
  source: "retracement ratios about the floor's pivot",
  pivot: third,
  level: ({ high, low }, pivot, number, sign) => pivot + sign * RATIOS[number - 1]! * (high - low),
});

const PARTS = [12, 6, 4] as const;

export const closePivots = definition({
  name: "closePivots",
  summary: "Levels close about the last session's close, three to each side",
  formula: "pivot = C; r1, r2, r3 = C + 1.1 * (H - L) / 12, / 6 and / 4; s1, s2, s3 mirrored",
  source: "range shares about the close, Scott 1989",
  pivot: ({ close }) => close,
  level: ({ high, low }, pivot, number, sign) => pivot + (sign * 1.1 * (high - low)) / PARTS[number - 1]!,
});
