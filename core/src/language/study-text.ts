/** A study as a chart, a table and a file name it: an expression, and behind it " on 1d" where it is read on longer bars. */
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import { resample } from "../market/resample.ts";
import { nominalMs, parseTimeframe } from "../market/timeframe.ts";
import { type Expressed, evaluateText } from "./expression.ts";
import { StudyStore } from "./study-store.ts";

const ON = /^(.*\S)\s+on\s+(\d+\w+)\s*$/s;

export interface StudyText {
  readonly expression: string;
  /** Of the longer bars; null for those beside which it stands. */
  readonly timeframe: string | null;
}

/** @throws PlanTesterError bad-timeframe */
export function splitStudyText(text: string): StudyText {
  const [, expression = text, timeframe = null] = ON.exec(text) ?? [];
  if (timeframe !== null) parseTimeframe(timeframe);
  return { expression: expression.trim(), timeframe };
}

/**
 * The column of a study beside bars. Of longer bars the last completed one counts, so that nothing is known ahead (R2.4).
 * @param source finer bars that the longer ones are made of; the bars themselves where there are none
 * @throws PlanTesterError bad-study as `readColumn`; bad-timeframe for one that is shorter than the bars' own
 */
export function studyColumn(text: string, bars: BarSeries, source = bars): Expressed {
  const { expression, timeframe } = splitStudyText(text);
  if (timeframe === null || timeframe === bars.timeframe) return evaluateText(expression, bars);
  if (nominalMs(timeframe) < nominalMs(bars.timeframe))
    throw new PlanTesterError(
      "bad-timeframe",
      `"${text}": ${timeframe} is shorter than the bars of ${bars.timeframe}. Read it on those, or on longer ones.`,
      {},
    );
  const longer = resample(source, timeframe).series;
  const { kind, values: given, first } = evaluateText(expression, longer);
  const map = new StudyStore(bars).alignment(new StudyStore(longer));
  const values = new Float64Array(bars.length).fill(Number.NaN);
  let known = bars.length;
  for (let i = bars.length - 1; i >= 0 && map[i]! >= first; i--) {
    const isNew = i === 0 || map[i] !== map[i - 1];
    values[i] = kind === "crossing" && !isNew ? 0 : given[map[i]!]!;
    known = i;
  }
  return { kind, values, first: known };
}
