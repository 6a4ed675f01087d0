/** A feed that stands still: the same bar again and again, or a price that does not move for longer than this market ever rests. */
import type { BarColumns } from "../market/bars.ts";
import { type Finding, plural } from "./finding.ts";
import { type Slots, sharesBy } from "./slots.ts";

/** So many false alarms are borne in a whole history. */
const FALSE_ALARMS = 0.01;
const LEAST_SAME = 5;
/** A rest is doubtful where it is so many times as long as one of the longest, by rank: those above it may be wrong themselves. */
const TIMES_LONGEST = 3;
const RANK = 10;
const LEAST_STILL = 10;

export function stuckIn(columns: BarColumns, closeTime: Float64Array, slots: Slots): Finding[] {
  const { time, open, high, low, close, volume } = columns;
  const isStill = (i: number): boolean => high[i] === low[i] && close[i] === close[i - 1];
  const isSame = (i: number): boolean =>
    // No volume says nothing.
    volume[i] !== 0 &&
    volume[i] === volume[i - 1] &&
    open[i] === open[i - 1] &&
    high[i] === high[i - 1] &&
    low[i] === low[i - 1] &&
    close[i] === close[i - 1];
  const stretch = (from: number, to: number, text: (bars: string) => string): Finding => {
    const bars = to - from + 1;
    return { kind: "stuck", fromMs: time[from - 1]!, toMs: closeTime[to - 1]!, bars, size: bars, text: text(plural(bars, "bar")) };
  };
  const same = sameRuns(time.length, isSame, slots).map(([from, to]) =>
    stretch(from, to, (bars) => `${bars} in a row are the same to the last figure, volume included`),
  );
  const still = runsOf(time.length, isStill);
  const lengths = still.map(([from, to]) => to - from).sort((a, b) => b - a);
  const longest = lengths[Math.min(RANK, lengths.length) - 1] ?? 0;
  const least = Math.max(LEAST_STILL, TIMES_LONGEST * longest);
  const resting = still
    .filter(([from, to]) => to - from >= least)
    .map(([from, to]) =>
      stretch(from, to, (bars) => `the price stands still for ${bars}; the ten longest rests but these are of ${longest}`),
    )
    .filter(({ fromMs, toMs }) => !same.some((one) => one.fromMs < toMs && one.toMs > fromMs));
  return [...same, ...resting];
}

/** Runs of bars that are all so, [from, to). */
function runsOf(length: number, isSo: (bar: number) => boolean): [number, number][] {
  const runs: [number, number][] = [];
  for (let i = 1; i < length; i++) {
    if (!isSo(i)) continue;
    const from = i;
    while (i < length && isSo(i)) i++;
    runs.push([from, i]);
  }
  return runs;
}

/** Runs that would come by in a hundredth of the histories of that length, if bars that are the same had nothing to do with each other. */
function sameRuns(length: number, isSame: (bar: number) => boolean, slots: Slots): [number, number][] {
  const { bar, bucket, slotOf } = slots;
  const shares = sharesBy(
    slots,
    (slot) => bar[slot]! > 0,
    (slot) => isSame(bar[slot]!),
  ).map(Math.log);
  return runsOf(length, isSame).filter(([from, to]) => {
    if (to - from + 1 < LEAST_SAME) return false;
    let chance = Math.log(length);
    for (let i = from; i < to; i++) chance += slotOf[i]! < 0 ? 0 : shares[bucket[slotOf[i]!]!]!;
    return chance <= Math.log(FALSE_ALARMS);
  });
}
