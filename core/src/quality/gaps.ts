/** Bars that are missing where the calendar has trading: those that are more in a row than this market leaves out by itself. */
import type { SessionTable } from "../market/calendar.ts";
import { type Finding, plural } from "./finding.ts";
import { type Slots, sharesBy } from "./slots.ts";

/** So many false alarms are borne in a whole history. */
const FALSE_ALARMS = 0.01;
/** Longer ones are holes in any market, and would spoil the share of what is usual. */
const SURE_SLOTS = 30;
const LEAST_SLOTS = 2;

/**
 * A market without a trade in a minute has no bar in it. How often that is so is counted by the half hour of the session;
 * a run of missing bars is told where as long a one would come by in a hundredth of the histories of that length, if minutes
 * without a trade had nothing to do with each other.
 */
export function gapsIn(slots: Slots, { dates }: SessionTable): Finding[] {
  const { time, closeTime, session, bucket, bar } = slots;
  const n = time.length;
  const isSession = Number.isNaN(slots.stepMs);
  const isHole = new Uint8Array(n);
  eachRun(bar, (from, to) => {
    if (to - from >= SURE_SLOTS) isHole.fill(1, from, to);
  });
  const missing = sharesBy(
    slots,
    (slot) => isHole[slot] === 0,
    (slot) => bar[slot]! < 0,
  ).map(Math.log);
  const findings: Finding[] = [];
  eachRun(bar, (from, to) => {
    const count = to - from;
    let chance = Math.log(n);
    for (let k = from; k < to; k++) chance += missing[bucket[k]!]!;
    if (!isSession && (count < LEAST_SLOTS || chance > Math.log(FALSE_ALARMS))) return;
    const [first, last] = [session[from]!, session[to - 1]!];
    const isWhole = (from === 0 || session[from - 1] !== first) && (to === n || session[to] !== last);
    const isToEnd = first === last && (to === n || session[to] !== last);
    const bars = plural(count, "bar");
    let text: string;
    if (isWhole && first === last) text = "no bar in this session: a holiday that the calendar does not know, or lost";
    else if (isWhole) text = `no bar in ${last - first + 1} sessions, ${dates[first]} to ${dates[last]}`;
    else if (isToEnd) text = `the last ${bars} of the session are missing: trading was halted, or they are lost`;
    else text = `${bars} in a row are missing${first === last ? "" : `, from ${dates[first]} to ${dates[last]}`}`;
    findings.push({ kind: "gap", fromMs: time[from]!, toMs: closeTime[to - 1]!, bars: count, size: count, text });
  });
  return findings;
}

/** Runs of slots without a bar, [from, to). */
function eachRun(bar: Int32Array, tell: (from: number, to: number) => void): void {
  for (let k = 0; k < bar.length; k++) {
    if (bar[k]! >= 0) continue;
    const from = k;
    while (k < bar.length && bar[k]! < 0) k++;
    tell(from, k);
  }
}
