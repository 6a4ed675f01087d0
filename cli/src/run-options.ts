/** The options of a run: data, plan and settings, from the command line to what the engine takes. */
import { check, daysOf, kitSchema, MOVING_PERIOD } from "@plan-tester/contract";
import {
  ACCOUNT_LIMIT_ACTS,
  type AccountLimit,
  type BarSeries,
  type Conversion,
  type Costs,
  type EngineSettings,
  type ExitKit,
  type Instrument,
  isoDate,
  type Margin,
  type PathModel,
  PlanTesterError,
  type PositionMode,
  type PriceBasis,
  type RuinMode,
  resample,
  resolveSettings,
  scaledCosts,
  sliceByTime,
  sliceSeries,
  type TestPosition,
} from "@plan-tester/core";
import { type FeedData, hashBars } from "@plan-tester/runner";
import { type BarsFileOptions, readBarsFile, readInstrumentFile, readJson } from "./files.ts";
import { costsOf, numberOf, timeOf } from "./options.ts";

export interface DataOptions extends BarsFileOptions {
  bars: string;
  instrument: string;
  timeframe?: string;
  from?: string;
  to?: string;
  period?: string;
}

export interface RunOptions extends DataOptions {
  plan: string;
  also: string[];
  input: string[];
  cash: string;
  costs: string;
  costsOf: string[];
  costsScale: string;
  ruin: RuinMode;
  path: PathModel;
  basis: PriceBasis;
  throughTicks: string;
  positions: PositionMode;
  margin?: string;
  maxQuantity?: string;
  maxPositions?: string;
  dailyLoss?: string;
  drawdown?: string;
  currency: string;
  conversion: string[];
  kit?: string;
  testPosition?: string;
  seed: string;
  riskFree: string;
  json?: boolean;
  out?: string;
}

export interface LoadedData {
  readonly feeds: readonly FeedData[];
  /** Hash of all bars. */
  readonly hash: string;
  readonly notices: readonly string[];
}

interface LoadedFeed {
  readonly feed: FeedData;
  readonly hash: string;
  readonly notices: readonly string[];
}

/** First and last day, or what was written for them; those of a moving period are worked out from the bars there are. */
function daysIn(
  { from, to, period }: DataOptions,
  { session, sessions, length }: BarSeries,
): { readonly from?: string; readonly to?: string } {
  if (period === undefined) return { from, to };
  const wrong = (what: string): PlanTesterError => new PlanTesterError("bad-input", what, { period });
  if (!new RegExp(MOVING_PERIOD).test(period))
    throw wrong(`--period is "${period}"; write all, "to the end", "year to date", or "last 3 months" (or weeks, years).`);
  if (to !== undefined) throw wrong(`--period "${period}" ends with the data: leave --to out.`);
  if (from !== undefined && period !== "to the end") throw wrong(`--period "${period}" says where it begins: leave --from out.`);
  // The calendar may know of sessions behind the last bar.
  const [firstDate, lastDate] = [0, length - 1].map((bar) => sessions.dates[session[bar]!]!) as [string, string];
  return daysOf(period, from ?? firstDate, { firstDate, lastDate, reservedFrom: "" });
}

/** When the bars that are asked for begin and end; null for an end that is open. */
export function periodOf(options: DataOptions, base: BarSeries, instrument: Instrument) {
  const { from, to } = daysIn(options, base);
  return { fromMs: timeOf(from, "--from", instrument, false), toMs: timeOf(to, "--to", instrument, true) };
}

async function loadFeed(
  options: DataOptions,
  files: { bars: string; instrument: string },
  key: string,
  finer: boolean,
): Promise<LoadedFeed> {
  const instrument = readInstrumentFile(files.instrument);
  const { series: base, rejected, problems } = await readBarsFile(files.bars, instrument, options);
  const notices =
    rejected > 0 ? [`${rejected} lines of ${files.bars} were left out; the first: line ${problems[0]!.line}: ${problems[0]!.text}`] : [];
  const { fromMs, toMs } = periodOf(options, base, instrument);
  // Bars ahead of the period warm studies up (R2.7).
  const all = sliceByTime(base, null, toMs);
  const { series: whole, firstSource } =
    !options.timeframe || options.timeframe === base.timeframe ? { series: all, firstSource: null } : resample(all, options.timeframe);
  const series = sliceByTime(whole, fromMs, null);
  if (series.length === 0)
    throw new PlanTesterError(
      "bad-input",
      `${files.bars}: there are no bars between --from and --to; the file runs from ${isoDate(base.time[0]!)} to ${isoDate(base.time[base.length - 1]!)}.`,
      {},
    );
  const lead = whole.length - series.length;
  const hash = lead > 0 ? `${hashBars(all)}:${lead}` : hashBars(all);
  const data = { key, series, whole };
  if (!finer || !firstSource) return { feed: { instrument, data: { ...data, finer: null } }, hash, notices };
  const start = firstSource[lead]!;
  const inside = { series: sliceSeries(all, start, all.length), first: firstSource.slice(lead).map((index) => index - start) };
  return { feed: { instrument, data: { ...data, finer: inside } }, hash, notices };
}

/** The plan's own instrument and those of `--also`. */
export async function loadData(options: DataOptions & { also?: string[] }, finer: boolean): Promise<LoadedData> {
  const others = (options.also ?? []).map((pair) => {
    const [bars, instrument, more] = pair.split(",");
    if (!bars || !instrument || more !== undefined)
      throw new PlanTesterError("bad-input", `--also "${pair}": write bars.csv,instrument.json.`, {});
    return { bars, instrument };
  });
  const loaded = await Promise.all([options, ...others].map((files, k) => loadFeed(options, files, `bars${k}`, finer)));
  const symbols = loaded.map(({ feed }) => feed.instrument.symbol);
  const twice = symbols.find((symbol, k) => symbols.indexOf(symbol) !== k);
  if (twice) throw new PlanTesterError("bad-input", `--also: ${twice} is named twice; each instrument stands once in a run.`, {});
  return {
    feeds: loaded.map(({ feed }) => feed),
    hash: loaded.map(({ hash }) => hash).join("+"),
    notices: loaded.flatMap(({ notices }) => notices),
  };
}

function marginOf(text: string | undefined): Margin | null {
  if (text === undefined) return null;
  const match = /^(unit|leverage)=([\d.]+)(?:,maintenance=([\d.]+))?$/.exec(text);
  if (!match)
    throw new PlanTesterError(
      "bad-input",
      `--margin "${text}": write unit=2000 or leverage=20, and after a comma maintenance=50 (percent).`,
      {},
    );
  return { by: match[1] as Margin["by"], value: Number(match[2]), maintenancePercent: Number(match[3] ?? 0) };
}

function limitOf(text: string | undefined, option: string): AccountLimit | null {
  if (text === undefined) return null;
  const match = /^([\d.]+)(%?)=(.+)$/.exec(text);
  const act = ACCOUNT_LIMIT_ACTS.find((one) => one === match?.[3]);
  if (!match || !act) {
    const acts = ACCOUNT_LIMIT_ACTS.map((one) => `"${one}"`).join(", ");
    throw new PlanTesterError("bad-input", `${option} "${text}": write 500=flatten or 3%=stop; what can be done is ${acts}.`, {});
  }
  return { unit: match[2] === "%" ? "percent" : "money", value: Number(match[1]), act };
}

function limitsOf(options: RunOptions): Pick<EngineSettings, "limits"> {
  const limits = { drawdown: limitOf(options.drawdown, "--drawdown"), dailyLoss: limitOf(options.dailyLoss, "--daily-loss") };
  return limits.drawdown || limits.dailyLoss ? { limits } : {};
}

function conversionsOf(pairs: readonly string[]): Record<string, Conversion> {
  const made: Record<string, Conversion> = {};
  for (const pair of pairs) {
    const match = /^(\w+)=(1\/)?(\S+)$/.exec(pair);
    if (!match) throw new PlanTesterError("bad-input", `--conversion "${pair}": write ORM=0.5, ORM=SYMBOL or ORM=1/SYMBOL.`, {});
    const rate = Number(match[3]);
    made[match[1]!] = Number.isFinite(rate) && !match[2] ? rate : { symbol: match[3]!, inverse: match[2] !== undefined };
  }
  return made;
}

function testPositionOf(text: string | undefined): TestPosition | null {
  if (text === undefined) return null;
  const match = /^(long|short)=([\d.]+)(?:@(\d+))?$/.exec(text);
  if (!match)
    throw new PlanTesterError("bad-input", `--test-position "${text}": write long=2 or short=1@50 (units, and the bar from 0 on).`, {});
  return { side: match[1] === "long" ? 1 : -1, units: Number(match[2]), bar: Number(match[3] ?? 0) };
}

const optional = (text: string | undefined, option: string): number | null => (text === undefined ? null : numberOf(text, option));

/** Costs by symbol: each instrument's own, or those of the options for all or for one, times their scale. */
function costsBySymbol({ costs, costsOf: named, costsScale }: RunOptions, instruments: readonly Instrument[]): Map<string, Costs> {
  const own = new Map(
    named.map((pair) => {
      const at = pair.indexOf(":");
      if (at < 1) throw new PlanTesterError("bad-input", `--costs-of "${pair}": write SYMBOL:costs, e.g. BRIN:spreadTicks=2.`, {});
      return [pair.slice(0, at), pair.slice(at + 1)] as const;
    }),
  );
  for (const symbol of own.keys())
    if (!instruments.some((instrument) => instrument.symbol === symbol))
      throw new PlanTesterError("bad-input", `--costs-of names ${symbol}, which is not an instrument of this run.`, {});
  const scale = numberOf(costsScale, "--costs-scale");
  return new Map(
    instruments.map((instrument) => [instrument.symbol, scaledCosts(costsOf(own.get(instrument.symbol) ?? costs, instrument), scale)]),
  );
}

/** @param feeds of all instruments of the run, the plan's own first. */
export function settingsOf(options: RunOptions, feeds: readonly FeedData[]): EngineSettings {
  const instruments = feeds.map((feed) => feed.instrument);
  const instrument = instruments[0]!;
  const costs = costsBySymbol(options, instruments);
  return resolveSettings({
    cash: numberOf(options.cash, "--cash"),
    costs: costs.get(instrument.symbol)!,
    costsBySymbol: Object.fromEntries([...costs].slice(1)),
    ruin: options.ruin,
    path: options.path,
    basis: options.basis,
    throughTicks: numberOf(options.throughTicks, "--through-ticks"),
    positions: options.positions,
    margin: marginOf(options.margin),
    maxQuantity: optional(options.maxQuantity, "--max-quantity"),
    maxPositions: optional(options.maxPositions, "--max-positions"),
    ...limitsOf(options),
    currency: options.currency || instrument.currency,
    conversions: conversionsOf(options.conversion),
    kit: options.kit === undefined ? null : check<ExitKit>(kitSchema, readJson(options.kit, "exit kit"), "the exit kit"),
    testPosition: testPositionOf(options.testPosition),
    seed: numberOf(options.seed, "--seed"),
    riskFree: numberOf(options.riskFree, "--risk-free"),
  });
}
