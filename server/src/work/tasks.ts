/** Work that grows with bars, days or text, in a thread of its own. Columns come and go in shared memory, so that nothing is copied. */
import type { FoundSessions, ProgramAct } from "@plan-tester/contract";
import {
  type BarColumns,
  type BarFile,
  type BarSeries,
  barsAsFile,
  type CoverageMap,
  calendarFit,
  compareBars,
  coverageMap,
  type ErrorCode,
  type Examined,
  type Expressed,
  effectiveTrials,
  examine,
  findCalendar,
  historyOf,
  type Instrument,
  joinBars,
  layOutSessions,
  makeSeries,
  mergeBars,
  type Overlap,
  type OverlapChoice,
  PlanTesterError,
  type Repair,
  type Resampled,
  type RuleEarnings,
  type RuleRun,
  repaired,
  resample,
  ruleEarnings,
  type SessionCalendar,
  sliceColumns,
  studyColumn,
} from "@plan-tester/core";
import { hashBars, importsOf, inSharedMemory, type PlanRule, readProgram, rulesOf, sharedColumn } from "@plan-tester/runner";
import { type PackTask, packBundle, type UnpackedBundle, unpackBundle } from "./bundle-tasks.ts";

export { compact, storageFacts } from "./storage-facts.ts";

/** Rows of daily returns that are compared with one another, one after the other. */
export interface ReturnRows {
  readonly returns: Float32Array;
  readonly settings: number;
}

export interface SeriesTask {
  readonly columns: BarColumns;
  readonly timeframe: string;
  readonly calendar: SessionCalendar;
}

export interface RepairTask extends SeriesTask {
  readonly repairs: readonly Repair[];
}

export interface ContinueTask {
  readonly series: BarSeries;
  readonly columns: BarColumns;
  readonly calendar: SessionCalendar;
}

export interface EarningsTask {
  readonly withIt: RuleRun;
  /** For each rule the plan without it, and the mean daily return of each placebo. */
  readonly rules: readonly { readonly without: RuleRun; readonly placebos: readonly number[] }[];
  readonly sessionsPerYear: number;
  readonly seed: number;
}

export interface ExamineTask {
  readonly series: BarSeries;
  readonly instrument: Instrument;
}

export type ExaminedBars = Examined & { readonly map: CoverageMap | null };

export interface BarFileTask {
  /** All bars, which studies warm up on. */
  readonly series: BarSeries;
  /** In the timeframe that they were stored in, of which longer ones are made. */
  readonly source: BarSeries;
  /** Those that are written. */
  readonly from: number;
  readonly to: number;
  readonly form: BarFile;
  /** Expressions whose columns stand beside the bars. */
  readonly studies: readonly string[];
}

export interface StudyTask {
  readonly series: BarSeries;
  readonly source: BarSeries;
  readonly study: string;
}

export interface MergeTask {
  readonly there: BarColumns;
  readonly given: BarColumns;
  readonly choice: "ask" | OverlapChoice;
}

export interface FindSessionsTask {
  readonly series: BarSeries;
  /** To choose from, the likeliest first. */
  readonly zones: readonly string[];
  /** Calendars of other instruments. */
  readonly known: readonly { readonly symbol: string; readonly calendar: SessionCalendar }[];
}

export interface ResampleTask {
  readonly series: BarSeries;
  readonly timeframe: string;
}

/** What came of a task; an error of ours keeps its code and details, which the way between threads would drop. */
export type Outcome<T> = { readonly made: T } | { readonly code: ErrorCode; readonly message: string; readonly details: object };

function outcome<T>(work: () => T): Outcome<T> {
  try {
    return { made: work() };
  } catch (error) {
    if (!(error instanceof PlanTesterError)) throw error;
    return { code: error.code, message: error.message, details: error.details };
  }
}

export const seriesOf = ({ columns, timeframe, calendar }: SeriesTask): Outcome<BarSeries> =>
  outcome(() => inSharedMemory(makeSeries(columns, timeframe, calendar)));
/** A series that goes on: columns of bars that open after its last. */
export const continued = ({ series, columns, calendar }: ContinueTask): Outcome<BarSeries> =>
  outcome(() => inSharedMemory(makeSeries(joinBars(series, columns), series.timeframe, calendar)));
export const resampled = ({ series, timeframe }: ResampleTask): Outcome<Resampled> =>
  outcome(() => inSharedMemory(resample(series, timeframe)));
export const independent = ({ returns, settings }: ReturnRows): number => effectiveTrials(returns, settings);
export const read = (text: string): Outcome<readonly ProgramAct[]> => outcome(() => readProgram(text));
export const rules = (text: string): Outcome<readonly PlanRule[]> => outcome(() => rulesOf(text));
export const earnings = ({ withIt, rules, sessionsPerYear, seed }: EarningsTask): RuleEarnings[] =>
  rules.map(({ without, placebos }) => ruleEarnings(withIt, without, placebos, { sessionsPerYear, seed }));
export const imports = (text: string): Promise<string[]> => importsOf(text);
export const packed = (task: PackTask): Outcome<Uint8Array[]> => outcome(() => packBundle(task));
export const unpacked = (file: string): Outcome<UnpackedBundle> => outcome(() => unpackBundle(file));
/** A series of bars with repairs over them, and the hash of what they leave. */
export const repairedSeries = ({ columns, timeframe, calendar, repairs }: RepairTask): Outcome<{ series: BarSeries; hash: string }> =>
  outcome(() => {
    const left = repaired(columns, repairs);
    return { series: inSharedMemory(makeSeries(left, timeframe, calendar)), hash: hashBars(left) };
  });
/** What is doubtful about bars, and their map; null for what has none. */
export const examined = ({ series, instrument }: ExamineTask): Outcome<ExaminedBars> =>
  outcome(() => {
    const history = historyOf(series, instrument);
    const found = examine(history);
    return { ...found, map: coverageMap(history, found.findings) };
  });
export const barFile = ({ series, source, from, to, form, studies }: BarFileTask): Outcome<Uint8Array[]> =>
  outcome(() => {
    const more = studies.map((name) => ({ name, values: studyColumn(name, series, source).values.subarray(from, to) }));
    return [...barsAsFile(sliceColumns(series, from, to), form, more)];
  });
/** The column of a study beside all bars. */
export const studied = ({ series, source, study }: StudyTask): Outcome<Expressed> =>
  outcome(() => inSharedMemory(studyColumn(study, series, source)));
/** Bars that come to others; null for what has to be asked. */
export function mergedBars({ there, given, choice }: MergeTask): { overlap: Overlap; merged: BarColumns | null } {
  const overlap = compareBars(there, given);
  if (overlap.differs > 0 && choice === "ask") return { overlap, merged: null };
  return { overlap, merged: mergeBars(there, given, choice === "keep" ? "keep" : "replace", sharedColumn) };
}
/** Calendars of other instruments that are told. */
const MOST_KNOWN = 5;

/** The sessions that bars show, and how well those of other instruments fit them. */
export function foundSessions({ series, zones, known }: FindSessionsTask): FoundSessions {
  const { timeframe } = series;
  const different = new Map(known.toReversed().map((one) => [JSON.stringify(one.calendar), one]));
  const fits = Array.from(different.values(), (one) => ({ ...one, ...calendarFit(series, timeframe, one.calendar) }));
  const best = fits
    .filter(({ inside }) => inside > 0)
    .sort((a, b) => b.inside + b.present - a.inside - a.present)
    .slice(0, MOST_KNOWN);
  return { found: findCalendar(series, timeframe, zones), known: best };
}
export const hashed = (columns: BarColumns): string => hashBars(columns);

/** Bars that open outside every session of the calendar. They are kept; the import's report says how many. */
export function outside({ time, calendar }: { readonly time: Float64Array; readonly calendar: SessionCalendar }): number {
  const { openMs, closeMs } = layOutSessions(calendar, time[0]!, time.at(-1)! + 1);
  let count = 0;
  let s = 0;
  for (const t of time) {
    while (s + 1 < openMs.length && openMs[s + 1]! <= t) s++;
    if (openMs.length === 0 || t < openMs[s]! || t >= closeMs[s]!) count++;
  }
  return count;
}
