/** Every study there is, by name. */
import { PlanTesterError } from "../errors.ts";
import { accumulation, onBalanceVolume } from "./accumulated-volume.ts";
import { adaptiveAverage } from "./adaptive-average.ts";
import { aroon } from "./aroon.ts";
import { atr } from "./atr.ts";
import { averageRange } from "./average-range.ts";
import { averagedBars } from "./averaged-bars.ts";
import { atrBands, keltner } from "./bands.ts";
import { bollinger } from "./bollinger.ts";
import { cci } from "./cci.ts";
import { momentum, rateOfChange } from "./change.ts";
import { choppiness } from "./choppiness.ts";
import { cloudLines } from "./cloud-lines.ts";
import { beta, correlation } from "./correlation.ts";
import type { StudyDefinition } from "./definition.ts";
import { dema } from "./dema.ts";
import { detrended } from "./detrended.ts";
import { directional } from "./directional.ts";
import { donchian } from "./donchian.ts";
import { efficiency } from "./efficiency.ts";
import { ema } from "./ema.ts";
import { barsSinceHighest, barsSinceLowest } from "./extreme-age.ts";
import { highest, lowest } from "./extremes.ts";
import { fisher } from "./fisher.ts";
import { historicalVolatility } from "./historical-volatility.ts";
import { hull } from "./hull.ts";
import { macd } from "./macd.ts";
import { medianOf } from "./median.ts";
import { midMomentum } from "./mid-momentum.ts";
import { minuteOfDay } from "./minute-of-day.ts";
import { moneyFlow } from "./money-flow.ts";
import { openingMinutes } from "./opening-minutes.ts";
import { openingRange } from "./opening-range.ts";
import { parabolic } from "./parabolic.ts";
import { percentRange } from "./percent-range.ts";
import { percentRank } from "./percent-rank.ts";
import { closePivots, floorPivots, openPivots, ratioPivots } from "./pivot-formulas.ts";
import { pivots } from "./pivots.ts";
import { placeInRange } from "./place-in-range.ts";
import { previousSession } from "./previous-session.ts";
import { barBody, barRange, medianPrice, typicalPrice } from "./prices.ts";
import { quantileOf } from "./quantile-of.ts";
import { garmanKlassVolatility, parkinsonVolatility, rogersSatchellVolatility, yangZhangVolatility } from "./range-volatility.ts";
import { reading } from "./reading.ts";
import { regression } from "./regression.ts";
import { autocorrelation, cointegration, halfLife } from "./reversion.ts";
import { riseFall } from "./rise-fall.ts";
import { sumOf } from "./rolling-sum.ts";
import { rsi } from "./rsi.ts";
import { anchoredVwap, weeklyVwap } from "./running-vwap.ts";
import { barsSinceOpen, sessionHigh, sessionLow, sessionOpen } from "./session.ts";
import { minutesToClose, weekday } from "./session-clock.ts";
import { sessionVwap } from "./session-vwap.ts";
import { kurtosis, skewness } from "./shape.ts";
import { sma } from "./sma.ts";
import { standardDeviation } from "./standard-deviation.ts";
import { stochastic } from "./stochastic.ts";
import { stopLine } from "./stop-line.ts";
import { swingHigh, swingLow } from "./swings.ts";
import { tema } from "./tema.ts";
import { threeSpan } from "./three-span.ts";
import { trix } from "./trix.ts";
import { trueRange } from "./true-range.ts";
import { trueStrength } from "./true-strength.ts";
import { averageOver, highestOver, lowestOver } from "./varying.ts";
import { vwma } from "./volume-average.ts";
import { volumeByPrice } from "./volume-by-price.ts";
import { volumePressure } from "./volume-pressure.ts";
import { volumeRatio } from "./volume-ratio.ts";
import { vortex } from "./vortex.ts";
import { wma } from "./weighted.ts";
import { wilder } from "./wilder.ts";
import { zScore } from "./z-score.ts";
import { zigzag } from "./zigzag.ts";

export const STUDIES: readonly StudyDefinition[] = [
  sma,
  ema,
  wilder,
  wma,
  hull,
  dema,
  tema,
  adaptiveAverage,
  vwma,
  medianOf,
  averageOver,
  rsi,
  stochastic,
  cci,
  momentum,
  rateOfChange,
  macd,
  trix,
  directional,
  aroon,
  placeInRange,
  percentRange,
  riseFall,
  trueStrength,
  vortex,
  choppiness,
  midMomentum,
  threeSpan,
  fisher,
  detrended,
  reading,
  bollinger,
  keltner,
  atrBands,
  donchian,
  cloudLines,
  stopLine,
  parabolic,
  trueRange,
  atr,
  averageRange,
  highest,
  lowest,
  highestOver,
  lowestOver,
  swingHigh,
  swingLow,
  zigzag,
  barsSinceHighest,
  barsSinceLowest,
  onBalanceVolume,
  accumulation,
  moneyFlow,
  volumeRatio,
  volumePressure,
  weeklyVwap,
  anchoredVwap,
  volumeByPrice,
  standardDeviation,
  historicalVolatility,
  parkinsonVolatility,
  garmanKlassVolatility,
  rogersSatchellVolatility,
  yangZhangVolatility,
  zScore,
  percentRank,
  quantileOf,
  skewness,
  kurtosis,
  sumOf,
  efficiency,
  regression,
  correlation,
  beta,
  autocorrelation,
  halfLife,
  cointegration,
  sessionOpen,
  sessionHigh,
  sessionLow,
  sessionVwap,
  openingRange,
  openingMinutes,
  previousSession,
  pivots,
  floorPivots,
  openPivots,
  ratioPivots,
  closePivots,
  barsSinceOpen,
  minuteOfDay,
  weekday,
  minutesToClose,
  typicalPrice,
  medianPrice,
  averagedBars,
  barRange,
  barBody,
];

const byName = new Map(STUDIES.map((study) => [study.name, study]));

/** @throws PlanTesterError bad-study when no study has this name; the message lists those there are. */
export function studyNamed(name: string): StudyDefinition {
  const found = byName.get(name);
  if (!found)
    throw new PlanTesterError("bad-study", `There is no study "${name}". There are: ${[...byName.keys()].join(", ")}.`, { study: name });
  return found;
}
