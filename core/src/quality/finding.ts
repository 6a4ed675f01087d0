/** What can be doubtful about bars, and how it is told. */

export const DOUBTS = [
  "gap",
  "duplicate",
  "spike",
  "volume",
  "stuck",
  "off grid",
  "outside sessions",
  "split",
  "zone shift",
  "spacing",
  "crossed",
] as const;
export type Doubt = (typeof DOUBTS)[number];

/** One stretch of bars that deserves a look. Nothing is changed by finding it. */
export interface Finding {
  readonly kind: Doubt;
  /** UTC milliseconds: where the stretch begins, and where it ends (exclusive). */
  readonly fromMs: number;
  readonly toMs: number;
  /** Bars that are concerned: those that are missing for a gap. */
  readonly bars: number;
  /** How large it is, in what is usual of its kind: ranges of a bar for a spike, the factor for a split, minutes for a shift. */
  readonly size: number;
  /** Why it is doubtful, with its figures. */
  readonly text: string;
}

/** A stretch of bars that belong together, from bar `first` to bar `last`. */
interface Stretch {
  readonly first: number;
  readonly last: number;
  readonly bars: number;
}

/** Bars that lie within so many bars of one another are told as one. */
const NEAR_BARS = 60;

/** Puts bars that are near one another together. @param isOne whether a bar is concerned */
export function stretchesOf(length: number, isOne: (bar: number) => boolean, nearBars = NEAR_BARS): Stretch[] {
  const stretches: Stretch[] = [];
  let open: { first: number; last: number; bars: number } | null = null;
  for (let i = 0; i < length; i++) {
    if (!isOne(i)) continue;
    if (open && i - open.last <= nearBars) {
      open.last = i;
      open.bars++;
    } else {
      open = { first: i, last: i, bars: 1 };
      stretches.push(open);
    }
  }
  return stretches;
}

export const plural = (count: number, what: string): string => `${count.toLocaleString("en-GB")} ${what}${count === 1 ? "" : "s"}`;
