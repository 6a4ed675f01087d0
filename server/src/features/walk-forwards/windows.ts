/** The windows of a walk-forward over the sessions of a period. */
import { countWindows } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";

export interface Stretch {
  readonly from: string;
  readonly to: string;
  readonly sessions: number;
}

export interface WindowDates {
  readonly inSample: Stretch;
  readonly outOfSample: Stretch;
}

/** @throws PlanTesterError bad-input when not even one fits. */
export function windowsOf(dates: readonly string[], inSample: number, outOfSample: number, anchored: boolean): WindowDates[] {
  const count = countWindows(dates.length, inSample, outOfSample);
  const windows: WindowDates[] = [];
  const stretch = (start: number, end: number): Stretch => ({ from: dates[start]!, to: dates[end - 1]!, sessions: end - start });
  for (let k = 0; k < count; k++) {
    const start = inSample + k * outOfSample;
    windows.push({
      inSample: stretch(anchored ? 0 : start - inSample, start),
      outOfSample: stretch(start, Math.min(dates.length, start + outOfSample)),
    });
  }
  if (count === 0)
    throw new PlanTesterError(
      "bad-input",
      `The period has ${dates.length} sessions; ${inSample} to choose on and ${outOfSample} to try on do not fit into it. Shorten the windows, or lengthen the period.`,
      { sessions: dates.length },
    );
  return windows;
}
