/**
 * Everything that is doubtful about an instrument's bars, against its calendar, its price grid and its own habits. What one
 * finding explains is not told by another: bars that stand an hour late are neither missing nor outside their session.
 */
import { DOUBTS, type Doubt, type Finding } from "./finding.ts";
import { gapsIn } from "./gaps.ts";
import type { History } from "./history.ts";
import { crossedIn, duplicatesIn, offGridIn, outsideIn, volumeIn } from "./plain.ts";
import { shiftsBySession, shiftsIn } from "./shifts.ts";
import { spacingIn } from "./spacing.ts";
import { spikesIn } from "./spikes.ts";
import { splitsIn } from "./splits.ts";
import { stuckIn } from "./stuck.ts";

export interface Examined {
  /** By time. */
  readonly findings: readonly Finding[];
  /** Bars there are, bars that the calendar lets one expect (null for weeks and months), and bars or gaps that are doubtful. */
  readonly bars: number;
  readonly expected: number | null;
  readonly doubtful: number;
}

/** So many of a kind are kept: who has more of them has one fault, not many. */
const MOST_OF_A_KIND = 1000;

/**
 * Bars ascend by time; those of one time may stand beside one another.
 * @returns findings by time, at most a thousand of a kind
 */
export function examine({ series, instrument: { calendar, tickSize }, sessions, slots }: History): Examined {
  const { closeTime } = series;
  // Nobody has said when it trades: then nothing is missing, and nothing is out of place.
  const judged = calendar.isAssumed ? null : slots;
  const findings: Finding[] = [
    ...duplicatesIn(series, closeTime),
    ...volumeIn(series, closeTime),
    ...offGridIn(series, closeTime, tickSize),
    ...crossedIn(series, closeTime),
    ...splitsIn(series),
    ...spikesIn(series, closeTime, slots, tickSize),
  ];
  if (slots) findings.push(...stuckIn(series, closeTime, slots));
  if (judged) {
    const shifted = shiftsIn(shiftsBySession(series, judged, sessions), judged, sessions);
    const spaced = spacingIn(series, closeTime, judged);
    const isExplained = ({ fromMs, toMs }: Finding): boolean =>
      [...shifted, ...spaced].some((one) => fromMs < one.toMs + SHIFT_REACH_MS && toMs > one.fromMs - SHIFT_REACH_MS);
    const rest = [...gapsIn(judged, sessions), ...outsideIn(series, closeTime, judged)];
    findings.push(...shifted, ...spaced, ...rest.filter((finding) => !isExplained(finding)));
  }
  const kept = DOUBTS.flatMap((kind) => findings.filter((finding) => finding.kind === kind).slice(0, MOST_OF_A_KIND));
  return {
    findings: kept.sort((a, b) => a.fromMs - b.fromMs),
    bars: series.length,
    expected: judged ? judged.time.length : null,
    doubtful: findings.reduce((sum, { bars }) => sum + bars, 0),
  };
}

/** A shift puts bars that far out of the sessions it is told of. */
const SHIFT_REACH_MS = 4 * 3_600_000;

/** How many findings of each kind there are. */
export function countsOf(findings: readonly Finding[]): Readonly<Record<Doubt, number>> {
  return Object.fromEntries(DOUBTS.map((kind) => [kind, findings.filter((one) => one.kind === kind).length])) as Record<Doubt, number>;
}
