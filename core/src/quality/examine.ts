/**
 * Everything that is doubtful about an instrument's bars, against its calendar, its price grid and its own habits. What one
 * finding explains is not told by another: bars that stand an hour late are neither missing nor outside their session.
 */
import { type BarColumns, makeSeries } from "../market/bars.ts";
import { layOutSessions } from "../market/calendar.ts";
import type { Instrument } from "../market/instrument.ts";
import { DOUBTS, type Doubt, type Finding } from "./finding.ts";
import { gapsIn } from "./gaps.ts";
import { crossedIn, duplicatesIn, offGridIn, outsideIn, volumeIn } from "./plain.ts";
import { shiftsBySession, shiftsIn } from "./shifts.ts";
import { slotsOf } from "./slots.ts";
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
 * @param columns ascending by time; those of one time may stand beside one another
 * @param timeframe as of `parseTimeframe`
 * @returns findings by time, at most a thousand of a kind
 */
export function examineBars(columns: BarColumns, timeframe: string, instrument: Instrument): Examined {
  const { time } = columns;
  if (time.length === 0) return { findings: [], bars: 0, expected: 0, doubtful: 0 };
  const { calendar, tickSize } = instrument;
  const { closeTime } = makeSeries(columns, timeframe, calendar);
  const sessions = layOutSessions(calendar, time[0]!, time[time.length - 1]! + 1);
  // Nobody has said when it trades: then nothing is missing, and nothing is out of place.
  const slots = slotsOf(columns, timeframe, sessions);
  const judged = calendar.isAssumed ? null : slots;
  const findings: Finding[] = [
    ...duplicatesIn(columns, closeTime),
    ...volumeIn(columns, closeTime),
    ...offGridIn(columns, closeTime, tickSize),
    ...crossedIn(columns, closeTime),
    ...splitsIn(columns),
    ...spikesIn(columns, closeTime, slots, tickSize),
  ];
  if (slots) findings.push(...stuckIn(columns, closeTime, slots));
  if (judged) {
    const shifts = shiftsBySession(columns, judged, sessions);
    const shifted = shiftsIn(shifts, judged, sessions);
    const spaced = spacingIn(columns, closeTime, judged);
    const isExplained = ({ fromMs, toMs }: Finding): boolean =>
      [...shifted, ...spaced].some((one) => fromMs < one.toMs + SHIFT_REACH_MS && toMs > one.fromMs - SHIFT_REACH_MS);
    const rest = [...gapsIn(judged, sessions), ...outsideIn(columns, closeTime, judged)];
    findings.push(...shifted, ...spaced, ...rest.filter((finding) => !isExplained(finding)));
  }
  const kept = DOUBTS.flatMap((kind) => findings.filter((finding) => finding.kind === kind).slice(0, MOST_OF_A_KIND));
  return {
    findings: kept.sort((a, b) => a.fromMs - b.fromMs),
    bars: time.length,
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
