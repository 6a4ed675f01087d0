/** Sessions whose bars all stand an hour, or several, from where the calendar has them: a zone or daylight saving taken wrongly. */
import { type BarColumns, lowerBound } from "../market/bars.ts";
import type { SessionTable } from "../market/calendar.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import type { Finding } from "./finding.ts";
import type { Slots } from "./slots.ts";

const SHIFTS_MINUTES = [60, 120, 30, 180, 240];
/** Sessions in a row that say it. */
const LEAST_SESSIONS = 2;
/** Of the bars that a shift puts outside, and of the slots that it leaves empty, so many have to be so. */
const LEAST_SHARE = 0.5;

/** @returns for each session by how many minutes its bars are late; 0 where they are in their place */
export function shiftsBySession({ time }: BarColumns, slots: Slots, { openMs, closeMs }: SessionTable): Int16Array {
  const sessions = openMs.length;
  const result = new Int16Array(sessions);
  if (!(slots.stepMs <= 30 * MINUTE_MS)) return result;
  // Of each session where its slots begin.
  const first = new Int32Array(sessions + 1).fill(slots.time.length);
  for (let n = slots.time.length - 1; n >= 0; n--) first[slots.session[n]!] = n;
  for (let s = sessions - 1; s >= 0; s--) first[s] = Math.min(first[s]!, first[s + 1]!);
  const barsBetween = (fromMs: number, toMs: number, isOutside: boolean): number => {
    let count = 0;
    for (let i = lowerBound(time, fromMs); i < time.length && time[i]! < toMs; i++) if (slots.slotOf[i]! < 0 === isOutside) count++;
    return count;
  };
  for (let s = 0; s < sessions; s++) {
    const length = (closeMs[s]! - openMs[s]!) / slots.stepMs;
    if (first[s + 1]! - first[s]! < 4) continue;
    for (const minutes of SHIFTS_MINUTES.flatMap((one) => [one, -one])) {
      const ms = Math.abs(minutes) * MINUTE_MS;
      const wanted = ms / slots.stepMs;
      if (wanted < 1 || wanted >= length) continue;
      // Late bars: what was to open is empty, and as much comes after the close; early ones the other way round.
      const [emptyFrom, outFrom] = minutes > 0 ? [openMs[s]!, closeMs[s]!] : [closeMs[s]! - ms, openMs[s]! - ms];
      const out = barsBetween(outFrom, outFrom + ms, true);
      const inPlace = barsBetween(emptyFrom, emptyFrom + ms, false);
      if (out >= LEAST_SHARE * wanted && inPlace === 0) {
        result[s] = minutes;
        break;
      }
    }
  }
  return result;
}

export function shiftsIn(shifts: Int16Array, slots: Slots, { dates, openMs, closeMs }: SessionTable): Finding[] {
  const findings: Finding[] = [];
  const bars = new Int32Array(dates.length);
  for (let n = 0; n < slots.bar.length; n++) if (slots.bar[n]! >= 0) bars[slots.session[n]!]!++;
  for (let s = 0; s < shifts.length; s++) {
    const minutes = shifts[s]!;
    if (minutes === 0) continue;
    const from = s;
    let count = 0;
    // A session without a bar among them says nothing against it.
    for (; s < shifts.length && (shifts[s] === minutes || bars[s] === 0); s++) count += bars[s]!;
    s--;
    if (s - from + 1 < LEAST_SESSIONS) continue;
    const how = `${Math.abs(minutes) % 60 === 0 ? `${Math.abs(minutes) / 60} h` : `${Math.abs(minutes)} minutes`} ${minutes > 0 ? "late" : "early"}`;
    findings.push({
      kind: "zone shift",
      ...{ fromMs: openMs[from]!, toMs: closeMs[s]!, bars: count, size: minutes },
      text: `from ${dates[from]} to ${dates[s]} the bars stand ${how} against the calendar: its zone, or daylight saving, was taken wrongly`,
    });
  }
  return findings;
}
