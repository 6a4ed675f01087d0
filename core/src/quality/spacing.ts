/** A stretch of longer bars among shorter ones. */
import type { BarColumns } from "../market/bars.ts";
import { MINUTE_MS } from "../market/timeframe.ts";
import type { Finding } from "./finding.ts";
import type { Slots } from "./slots.ts";

/** So many bars in a row, evenly further apart than they should be. */
const LEAST_BARS = 10;

export function spacingIn({ time }: BarColumns, closeTime: Float64Array, slots: Slots): Finding[] {
  const { slotOf, session } = slots;
  const findings: Finding[] = [];
  /** Slots from the bar before to this one, in one session; 0 where that says nothing. */
  const stepOf = (i: number): number => {
    const [a, b] = [slotOf[i - 1]!, slotOf[i]!];
    return a < 0 || b < 0 || session[a] !== session[b] ? 0 : b - a;
  };
  for (let i = 1; i < time.length; i++) {
    const step = stepOf(i);
    if (step < 2) continue;
    const from = i;
    // Over the end of a session it may go on.
    while (i + 1 < time.length && (stepOf(i + 1) === step || (stepOf(i + 1) === 0 && stepOf(i + 2) === step))) i++;
    const bars = i - from + 1;
    if (bars < LEAST_BARS) continue;
    findings.push({
      kind: "spacing",
      ...{ fromMs: time[from - 1]!, toMs: closeTime[i]!, bars, size: step },
      text: `${bars} bars in a row come every ${(step * slots.stepMs) / MINUTE_MS} minutes, not every ${slots.stepMs / MINUTE_MS}: longer bars among the others`,
    });
  }
  return findings;
}
