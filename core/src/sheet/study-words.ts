/** How studies are spoken of in sentences. */
import { STUDIES, studyNamed } from "../studies/catalogue.ts";
import type { StudyDefinition, StudyInput } from "../studies/definition.ts";

/** Where the trade's word is not the name with spaces between its words. */
const SPOKEN: Readonly<Record<string, string>> = {
  sma: "SMA",
  ema: "EMA",
  wilder: "Wilder average",
  wma: "WMA",
  hull: "Hull average",
  dema: "DEMA",
  tema: "TEMA",
  vwma: "VWMA",
  medianOf: "median",
  rsi: "RSI",
  cci: "CCI",
  macd: "MACD",
  trix: "TRIX",
  directional: "directional index",
  aroon: "Aroon",
  bollinger: "Bollinger band",
  keltner: "Keltner band",
  atrBands: "ATR band",
  donchian: "Donchian channel",
  parabolic: "parabolic stop",
  atr: "ATR",
  sumOf: "sum",
  zScore: "z-score",
  onBalanceVolume: "on-balance volume",
  sessionVwap: "session VWAP",
  weekday: "weekday number",
  weeklyVwap: "weekly VWAP",
  anchoredVwap: "anchored VWAP",
  fisher: "Fisher transform",
  detrended: "detrended price",
  riseFall: "rise-fall momentum",
  midMomentum: "mid-price momentum",
  threeSpan: "three-span oscillator",
  quantileOf: "quantile",
  halfLife: "half-life",
  parkinsonVolatility: "Parkinson volatility",
  garmanKlassVolatility: "Garman-Klass volatility",
  rogersSatchellVolatility: "Rogers-Satchell volatility",
  yangZhangVolatility: "Yang-Zhang volatility",
};

/** The study's name as sentences have it: "RSI", "standard deviation". */
export function spokenStudy(name: string): string {
  return SPOKEN[name] ?? name.replace(/([a-z])([A-Z])/g, "$1 $2").toLowerCase();
}

/** Studies by what they are called in sentences, lower case; longer names first, so that none hides another. */
export const BY_SPOKEN: readonly (readonly [string, StudyDefinition])[] = STUDIES.map(
  (study) => [spokenStudy(study.name).toLowerCase(), study] as const,
).sort(([a], [b]) => b.length - a.length);

type NumberInput = Extract<StudyInput, { kind: "number" }>;

export const numberInputs = (study: string): NumberInput[] => studyNamed(study).inputs.filter((input) => input.kind === "number");
export const columnInputs = (study: string): StudyInput[] => studyNamed(study).inputs.filter((input) => input.kind === "column");
export const takesBars = (study: string): boolean => studyNamed(study).inputs.some((input) => input.kind === "bars");
