/** How far apart the bars of a file lie, against what their timeframe says. */
import { DAY_MS, MINUTE_MS, nominalMs, parseTimeframe, timeframeLabel } from "../market/timeframe.ts";

/** What is wrong with a line of a file. */
export interface LineProblem {
  readonly line: number;
  readonly text: string;
}

const BARS_LOOKED_AT = 20_000;
/** Share of the steps that tells a timeframe; a few lines may be wrong in any file. */
const MOST = 0.95;

/** The most common step between bars and how many have it, ms; the shorter one of two as common. */
function commonStep(time: Float64Array): { step: number; count: number } {
  const counts = new Map<number, number>();
  for (let i = 1; i < Math.min(time.length, BARS_LOOKED_AT); i++) {
    const step = time[i]! - time[i - 1]!;
    counts.set(step, (counts.get(step) ?? 0) + 1);
  }
  let best = { step: MINUTE_MS, count: 0 };
  for (const [step, count] of counts) if (count > best.count || (count === best.count && step < best.step)) best = { step, count };
  return best;
}

/** The most common step between bars, as a timeframe: what a file's bars most likely are. */
export function guessTimeframe(time: Float64Array): string {
  const minutes = Math.round(commonStep(time).step / MINUTE_MS);
  if (minutes >= 38_000) return "1mo";
  if (minutes >= 10_080) return "1w";
  if (minutes >= 1440) return "1d";
  return minutes % 60 === 0 && minutes > 0 ? `${minutes / 60}h` : `${Math.max(1, minutes)}m`;
}

/** The least that lies between two whole bars: sessions open earlier after clocks change, weeks after a holiday on Monday. */
function leastStep(timeframe: string): number {
  const { unit } = parseTimeframe(timeframe);
  if (unit === "minutes") return nominalMs(timeframe);
  return { sessions: DAY_MS * (20 / 24), weeks: 5 * DAY_MS, months: 27 * DAY_MS }[unit];
}

/** Steps in a row that are no accident: the longer a file, the longer an accident can be. */
const rowOfSteps = (count: number): number => (count < 100 ? 5 : 20);

/**
 * Where bars do not lie apart as their timeframe says: closer, farther, or first one and then the other. A bar that the
 * clock or the close cuts short stands alone, so two short steps in a row are what tells bars of a finer timeframe.
 * @param time UTC ms, rising
 * @param lines line of the file that each bar came from
 * @returns null where all is as it should be, or the bars are too few to tell
 */
export function spacingProblem(time: Float64Array, timeframe: string, lines: Float64Array): LineProblem | null {
  const steps = time.length - 1;
  if (steps < 2) return null;
  return (
    changeOfSpacing(time, lines) ??
    closerThan(time, timeframe, lines) ??
    (steps < rowOfSteps(0) ? null : fartherThan(time, timeframe, lines))
  );
}

function closerThan(time: Float64Array, timeframe: string, lines: Float64Array): LineProblem | null {
  const least = leastStep(timeframe);
  let pairs = 0;
  let first = -1;
  for (let i = 2; i < time.length; i++) {
    if (time[i]! - time[i - 1]! >= least || time[i - 1]! - time[i - 2]! >= least) continue;
    pairs++;
    if (first < 0) first = i;
  }
  if (pairs === 0 || (time.length > 100 && pairs < time.length / 100)) return null;
  const apart = spanWords(time[first]! - time[first - 1]!);
  return {
    line: lines[first]!,
    text: `its bar opens ${apart} after the one before, so these are not ${barsOf(timeframe)}${guessWords(time, timeframe)}${time[first]! - time[first - 1]! < MINUTE_MS ? "; the finest bars are those of a minute" : ""}`,
  };
}

function fartherThan(time: Float64Array, timeframe: string, lines: Float64Array): LineProblem | null {
  const { step, count } = commonStep(time);
  const looked = Math.min(time.length, BARS_LOOKED_AT) - 1;
  let multiples = 0;
  for (let i = 1; i <= looked; i++) if ((time[i]! - time[i - 1]!) % step === 0) multiples++;
  const length = nominalMs(timeframe);
  const days = length >= DAY_MS;
  const isCoarser = days ? step >= 4 * length : step >= 2 * length && count >= looked / 2 && multiples >= MOST * looked;
  if (!isCoarser) return null;
  return {
    line: lines[1]!,
    text: `its bar opens ${spanWords(step)} after the one before, and so it goes on: these are not ${barsOf(timeframe)}${guessWords(time, timeframe)}`,
  };
}

function changeOfSpacing(time: Float64Array, lines: Float64Array): LineProblem | null {
  const { step: usual } = commonStep(time);
  const need = rowOfSteps(time.length - 1);
  let usualRow = 0;
  let row = 1;
  let change: { at: number; before: number; after: number } | null = null;
  for (let i = 2; i <= time.length; i++) {
    const step = time[i - 1]! - time[i - 2]!;
    if (i < time.length && time[i]! - time[i - 1]! === step) {
      row++;
      continue;
    }
    if (step === usual) usualRow = Math.max(usualRow, row);
    // Case: a row at the file's start is told at the line where the usual spacing begins.
    else if (row >= need) change ??= i - 1 === row ? { at: i, before: step, after: usual } : { at: i - row, before: usual, after: step };
    row = 1;
  }
  if (!change || usualRow < need || change.at >= time.length) return null;
  return {
    line: lines[change.at]!,
    text: `from here bars lie ${spanWords(change.after)} apart and not ${spanWords(change.before)}; import bars of one timeframe at a time`,
  };
}

const barsOf = (timeframe: string): string => {
  const label = timeframeLabel(timeframe);
  return /\d/.test(label) ? `bars of ${label}` : `${label} bars`;
};

function guessWords(time: Float64Array, timeframe: string): string {
  const guess = guessTimeframe(time);
  return guess === timeframe ? "" : ` but, it seems, ${barsOf(guess)}`;
}

/** "15 minutes", "1 day", "10 seconds". */
function spanWords(ms: number): string {
  const [size, word] =
    ms >= DAY_MS
      ? [DAY_MS, "day"]
      : ms >= 60 * MINUTE_MS
        ? [60 * MINUTE_MS, "hour"]
        : ms >= MINUTE_MS
          ? [MINUTE_MS, "minute"]
          : [1000, "second"];
  const count = Math.round((ms / Number(size)) * 100) / 100;
  return `${count} ${word}${count === 1 ? "" : "s"}`;
}
