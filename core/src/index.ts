/** The public door of the core: computation only, no interface, database or Node code. */

// blends
export {
  type Correlations,
  correlation,
  correlations,
  correlationsOn,
  meanCorrelation,
  rollingCorrelation,
  worstDays,
} from "./blend/correlation.ts";
export {
  type BlendCurves,
  blendCurves,
  blendPart,
  dailyProfits,
  heldAt,
  jointProfit,
  type MemberCurve,
  type Rate,
} from "./blend/curves.ts";
export { type Difference, type Differences, differencesBetween, type SizedTrade } from "./blend/differences.ts";
export { type Gain, gainOver, jointAhead } from "./blend/doubt.ts";
export {
  type BlendFigures,
  blendFigures,
  deepestFallOf,
  type Fall,
  type MemberShare,
  type SharedFall,
  sharedFalls,
} from "./blend/figures.ts";
export {
  type BlendMember,
  type BlendQuestion,
  type BlendSizes,
  balanceOfSmallest,
  blendSizes,
  factorsOf,
  leastAccount,
  marginOf,
  membersThatFit,
} from "./blend/sizes.ts";
export { findTwins, TWIN_CORRELATION, type TwinQuestion, type Twins } from "./blend/twins.ts";
export { WEIGHTINGS, type Weighting, weightsBy } from "./blend/weights.ts";
// engine
export { Account } from "./engine/account.ts";
export {
  ACCOUNT_LIMIT_ACTS,
  type AccountLimit,
  type AccountLimitAct,
  type AccountLimits,
  LIMIT_NAMES,
  type LimitHit,
} from "./engine/account-limits.ts";
export { firstAtOrAfter } from "./engine/ascending.ts";
export { Book } from "./engine/book.ts";
export type { FinerBars } from "./engine/feed.ts";
export * from "./engine/kit.ts";
export { distanceMove, type KitLevel, type KitLevelsAt, kitLevels } from "./engine/kit-levels.ts";
export { type KitHandle, withLevelAt } from "./engine/kit-moves.ts";
export type { BookListener, BookSnapshot, Lot, Trigger } from "./engine/lots.ts";
export { commissionOf, exitLevel, roundQuantity } from "./engine/money.ts";
export type { OrderChange } from "./engine/order-change.ts";
export * from "./engine/orders.ts";
export { firstExtreme } from "./engine/path.ts";
export { LEGS } from "./engine/path-walker.ts";
export * from "./engine/settings.ts";
export { type Size, type Sized, sizeOrder } from "./engine/sizing.ts";
export { walkBar } from "./engine/walk-path.ts";
// errors and randomness
export * from "./errors.ts";
export { amount } from "./figures/amount.ts";
// figures
export { type BenchmarkFigures, benchmarkFigures, type MarketFigures, marketFigures } from "./figures/benchmark.ts";
export { type CostStress, costStress } from "./figures/cost-stress.ts";
export { type Daily, dailyEquity, dailyReturns } from "./figures/daily.ts";
export { drawdowns, fallsOf } from "./figures/drawdown.ts";
export { type DrawdownRow, drawdownTable } from "./figures/drawdown-table.ts";
export {
  compoundGrowth,
  deepestFall,
  type EquityFigures,
  equityFigures,
  sharpeRatio,
  sortinoRatio,
  ulcerIndex,
} from "./figures/equity-figures.ts";
export { type Period, type PeriodUnit, periodLabel, periods } from "./figures/periods.ts";
export { type PositionColumns, positionColumns } from "./figures/position-columns.ts";
export { sessionsPerYearOf } from "./figures/sessions-per-year.ts";
export { mean, quantile, sampleDeviation } from "./figures/statistics.ts";
export { costsOf, isTradeIn, tradeKey } from "./figures/trade-facts.ts";
export { type TradeFigures, tradeFigures } from "./figures/trade-figures.ts";
export { GROUPINGS, type Grouping, type TradeGroup, type TradeGroupOf, tradeGroups } from "./figures/trade-groups.ts";
export { type MatchedTrade, matchTrades, type TradeMatch, type TradePair } from "./figures/trade-match.ts";
export { type Warning, warningsOf } from "./figures/warnings.ts";
export { excursionTicks, type WhatIf, type WhatIfResult, type WhatIfTrade, whatIf } from "./figures/what-if.ts";
// importing
export { CsvBarReader, type ParsedBars } from "./importing/csv-bars.ts";
export { type BarLayout, type CsvLayout, isOfTicks, plainLayout, type TickLayout } from "./importing/file-layout.ts";
export { type FileReader, readerOf } from "./importing/file-reader.ts";
export { isPlainText, textOfFile } from "./importing/file-text.ts";
export type { LayoutQuestion } from "./importing/layout-question.ts";
export { type BarPrices, compareBars, mergeBars, type Overlap, type OverlapChoice } from "./importing/overlap.ts";
export type { FileBytes } from "./importing/parquet.ts";
export { shapeOf } from "./importing/shape.ts";
export type { LineProblem } from "./importing/spacing.ts";
export { guessTimeframe } from "./importing/spacing.ts";
export { barFacts, type FileSurvey, samplePieces, surveyPieces } from "./importing/survey.ts";
export { DATE_FORMATS, type DateFormat } from "./importing/time-text.ts";
export { BAR_FILES, type BarFile, barsAsFile, barsAsText } from "./importing/write-bars.ts";
export { isZoneName } from "./importing/zone-text.ts";
// language
export { type Alteration, altered } from "./language/alteration.ts";
export type { Broker, BrokerLot } from "./language/broker.ts";
export { type ClockAction, dueTimeIn } from "./language/clock.ts";
export { PlanContext } from "./language/context.ts";
export { type Expressed, evaluateStudy, evaluateText } from "./language/expression.ts";
export { type ChartNote, type HostOptions, type OwnFigure, PlanHost, type PlotColumn } from "./language/host.ts";
export {
  INPUT_KINDS,
  type InputKind,
  type InputSpec,
  type InputValue,
  type InputValues,
  inputProblem,
  resolveInputs,
  specsOf,
} from "./language/inputs.ts";
export type { KitMemory } from "./language/kit-guard.ts";
export { expressionOf } from "./language/study-face.ts";
export { type ColumnExchange, StudyStore } from "./language/study-store.ts";
export { splitStudyText, studyColumn } from "./language/study-text.ts";
export { DeclaredPlan, SHARED_CLASSES, VOCABULARY } from "./language/vocabulary.ts";
// live
export {
  DRIFT_CAUSES,
  type Drift,
  type DriftCause,
  type DriftItem,
  type DriftLeg,
  type DriftMark,
  driftOf,
  legOf,
  legsAt,
} from "./live/drift.ts";
export { type LiveFeed, LiveRun } from "./live/live-run.ts";
export { type LiveView, type LookedAt, viewOf } from "./live/live-view.ts";
export type * from "./live/messages.ts";
export { type Hindrance, MinuteAccount, type MinuteAccountSnapshot, OTHER_TAG } from "./live/minute-account.ts";
export { minuteSoFar } from "./live/minute-so-far.ts";
export { withMissed } from "./live/missed.ts";
export { type Replayed, type ReplayFeed, replay } from "./live/replay.ts";
export type { RetryLimits } from "./live/retries.ts";

// market
export { BarFrame, type MinuteBar, minuteOf } from "./market/bar-frame.ts";
export * from "./market/bars.ts";
export * from "./market/calendar.ts";
export { factsChanges } from "./market/facts-changes.ts";
export * from "./market/instrument.ts";
export * from "./market/price-grid.ts";
export { inUnits, PRICE_UNITS, type PriceUnit } from "./market/price-units.ts";
export * from "./market/resample.ts";
export * from "./market/timeframe.ts";
export {
  type ClosedDays,
  type ClosedWhy,
  closedBefore,
  type DayKind,
  nameOfDay,
  type TradingAt,
  tradingAt,
  whyNoSession,
  yearOf,
} from "./market/trading-hours.ts";
// quality
export { CLOSED, type CoverageMap, coverageMap } from "./quality/coverage.ts";
export { countsOf, type Examined, examine } from "./quality/examine.ts";
export { type CalendarFit, calendarFit, type FoundCalendar, findCalendar } from "./quality/find-calendar.ts";
export { DOUBTS, type Doubt, type Finding } from "./quality/finding.ts";
export { type History, historyOf } from "./quality/history.ts";
export { proposedRepairs } from "./quality/propose.ts";
export { type Repair, repaired, repairWords, spanOf } from "./quality/repairs.ts";
export * from "./random.ts";
export { Backtest, type BacktestOptions, periodOf, type RunFeed } from "./run/backtest.ts";
// runs
export { BlendRun, type BlendRunOptions, MemberFailure } from "./run/blend-run.ts";
export {
  advanceInSteps,
  checkLookAhead,
  cutsFor,
  type LookAheadDifference,
  type LookAheadReport,
  lookAheadComparisons,
  MIN_CUTS,
} from "./run/look-ahead.ts";
export { compareMarks, type Mark, type MarkComparison, type MarkedTrade, type MetMark } from "./run/marks.ts";
export { pointMoneyAt } from "./run/rates.ts";
export { assembleResult, type RunFacts, type RunFigures, type RunResult, type RunStatus } from "./run/result.ts";
export { SLIP_CODES, type Slip } from "./run/slip.ts";
export { type StretchResult, type StretchSource, stretchResult } from "./run/stretch.ts";
export {
  type Holding,
  STRIP,
  type Strip,
  Trace,
  type TraceEvent,
  type TraceLot,
  type TraceOrder,
  type TraceState,
  type TraceSteps,
} from "./run/trace.ts";
export { type Traded, tradedEquity } from "./run/traded-equity.ts";
export { runVariant, SWEEP_FIGURES, SWEEP_SENSE, type SweepFigure, sweepFigures, widened } from "./run/variant.ts";
// search
export { type Aim, type AimCondition, type AimTerm, bestOf, scoresOf, type TriedFigures } from "./search/aim.ts";
export { ranksOf } from "./search/ranks.ts";
export { nextPoints, SEARCH_METHODS, type Search, type SearchMethod } from "./search/search.ts";
export { placesOf, pointAt, pointsIn, type SearchSpace, type Tried } from "./search/space.ts";
export { spreadPoints } from "./search/spread.ts";
// rule sheets
export { RELATION_CALLS } from "./sheet/codes.ts";
export { emptySheet } from "./sheet/empty-sheet.ts";
export { DISTANCE_CALLS } from "./sheet/exits-code.ts";
export { mirroredId, mirrorRow } from "./sheet/mirror.ts";
export type { Fitting } from "./sheet/phrases.ts";
export { amountText, distanceText, type ReadBack, readBack, readBackText, sizeText } from "./sheet/read-back.ts";
export { fittingAt, type ReadRules, readRules, readValue } from "./sheet/read-sentence.ts";
export * from "./sheet/sheet.ts";
export { type SheetProblem, sheetProblems } from "./sheet/sheet-problems.ts";
export { type BothSides, rulesOfSides, type SideRules } from "./sheet/sides.ts";
export { spokenStudy } from "./sheet/study-words.ts";
export { activeRules, groupText, type Piece, rowPieces, rowText, type SheetPath, type SlotKind, textOf, valueText } from "./sheet/words.ts";
export { type WrittenProgram, writeProgram } from "./sheet/write-program.ts";
export {
  type DrawdownAhead,
  dayMoves,
  drawdownAhead,
  type FallBand,
  fallBands,
  shareBeyond,
} from "./sizing/drawdown-ahead.ts";
export { type EntryRisk, entryRisk } from "./sizing/entry-risk.ts";
export { type EntrySizes, entrySizes } from "./sizing/entry-sizes.ts";
export { type CompoundedFall, compoundedFall, type GrowthSize, growthSize } from "./sizing/growth-size.ts";
export { type Rescaled, type RescaledRun, rescaleProblem, toDrawdown } from "./sizing/rescale.ts";
export { drawdownOf, type SizeQuestion, type SizeSteps, sizeSteps, unitsOn } from "./sizing/size-step.ts";
export { type Touching, touching } from "./sizing/touching.ts";
// studies
export { STUDIES, studyNamed } from "./studies/catalogue.ts";
export type { ColumnValues, StudyDefinition, StudyInput } from "./studies/definition.ts";
// trust
export { type DaysNotSeen, daysNotSeen, type EarnedOnDays, earnedOn, LEAST_DAYS } from "./trust/days-not-seen.ts";
export { effectiveTrials } from "./trust/effective-trials.ts";
export { type EntryPath, type EntryPaths, entryPaths } from "./trust/entry-paths.ts";
export { type InstrumentPart, type InstrumentsDiffer, instrumentsDiffer } from "./trust/instruments-differ.ts";
export { type LookCost, lookCost } from "./trust/looks.ts";
export { type Luck, luckOf, MANY_MARKETS } from "./trust/luck.ts";
export { type Overfitting, overfitting } from "./trust/overfitting.ts";
export { Lattice, type Neighbourhood } from "./trust/plateau.ts";
export { REGIME_NAMES, type RegimeKind, type RegimeQuestion, type Regimes, regimeLabels, regimesOf } from "./trust/regimes.ts";
export { type Bands, type Resampling, resampleTrades } from "./trust/resampling.ts";
export { MOST_AS_GOOD, type RuleEarnings, type RuleRun, ruleEarnings, type TradeSum } from "./trust/rule-earnings.ts";
export {
  chanceVariance,
  deflatedSharpe,
  minimumTrackRecord,
  probabilisticSharpe,
  type ReturnShape,
  returnShape,
} from "./trust/sharpe-tests.ts";
export { type DelayedEntries, delayedEntries, type RandomEntries, randomEntries, type WithoutBest, withoutBest } from "./trust/stress.ts";
export { type SuperiorAbility, superiorAbility } from "./trust/superior-ability.ts";
export { surrogateBars } from "./trust/surrogate.ts";
export { type Findings, MOST_P, overfittingLimit, POWER_RATIOS, powerAt, speakingFor, type Verdict, verdictOf } from "./trust/verdict.ts";
