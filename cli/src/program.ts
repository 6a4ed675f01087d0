/** The commands and their options. */
import { writeFileSync } from "node:fs";
import { countVariants, packColumns, variantsOf } from "@plan-tester/contract";
import {
  ALWAYS_OPEN,
  type BarSeries,
  evaluateStudy,
  type Instrument,
  isoDate,
  NO_COSTS,
  PlanTesterError,
  resample,
  resolveSettings,
  SWEEP_FIGURES,
  sliceByTime,
} from "@plan-tester/core";
import {
  type DataSet,
  describePlan,
  fingerprintOf,
  hashBars,
  hashText,
  PlanProcess,
  PlanProcessError,
  ProcessPool,
  runPlan,
  sweepPlan,
} from "@plan-tester/runner";
import { Command, Option } from "commander";
import { runDocument } from "./document.ts";
import { readBarsFile, readInstrumentFile, readText } from "./files.ts";
import { costsOf, inputsOf, numberOf, rangeOf, timeOf } from "./options.ts";

const collect = (value: string, before: string[]): string[] => [...before, value];

interface DataOptions {
  bars: string;
  instrument: string;
  zone: string;
  timeframe?: string;
  barsTimeframe?: string;
  from?: string;
  to?: string;
}

interface RunOptions extends DataOptions {
  plan: string;
  input: string[];
  cash: string;
  costs: string;
  path: "assumed" | "finer";
  basis: "last" | "bid";
  throughTicks: string;
  seed: string;
  riskFree: string;
  json?: boolean;
  out?: string;
}

interface LoadedData {
  readonly instrument: Instrument;
  readonly series: BarSeries;
  readonly data: DataSet;
  readonly hash: string;
  readonly notices: string[];
}

function loadData(options: DataOptions, finer: boolean): LoadedData {
  const instrument = readInstrumentFile(options.instrument);
  const { series: base, rejected, problems } = readBarsFile(options.bars, instrument, options.zone, options.barsTimeframe);
  const notices =
    rejected > 0 ? [`${rejected} lines of the bars file were left out; the first: line ${problems[0]!.line}: ${problems[0]!.text}`] : [];
  const cut = sliceByTime(base, timeOf(options.from, "--from", instrument, false), timeOf(options.to, "--to", instrument, true));
  if (cut.length === 0)
    throw new PlanTesterError(
      "bad-input",
      `There are no bars between --from and --to; the file runs from ${isoDate(base.time[0]!)} to ${isoDate(base.time[base.length - 1]!)}.`,
      {},
    );
  const hash = hashBars(cut);
  if (!options.timeframe || options.timeframe === base.timeframe)
    return { instrument, series: cut, data: { key: "bars", series: cut, finer: null }, hash, notices };
  const { series, firstSource } = resample(cut, options.timeframe);
  return { instrument, series, data: { key: "bars", series, finer: finer ? { series: cut, first: firstSource } : null }, hash, notices };
}

function settingsOf(options: RunOptions, instrument: Instrument) {
  return resolveSettings({
    cash: numberOf(options.cash, "--cash"),
    costs: costsOf(options.costs, instrument),
    path: options.path,
    basis: options.basis,
    throughTicks: numberOf(options.throughTicks, "--through-ticks"),
    seed: numberOf(options.seed, "--seed"),
    riskFree: numberOf(options.riskFree, "--risk-free"),
  });
}

function write(text: string, out?: string): void {
  if (out) writeFileSync(out, text);
  else process.stdout.write(text);
}

function dataCommand(name: string, description: string): Command {
  return new Command(name)
    .description(description)
    .requiredOption("--bars <file>", "bars as CSV: time, open, high, low, close[, volume]; the layout is guessed")
    .requiredOption("--instrument <file>", "instrument as JSON; see docs/command-line.md")
    .option("--bars-timeframe <timeframe>", "timeframe of the file; guessed when left out")
    .option("--timeframe <timeframe>", "build bars of this timeframe first, e.g. 15m, 1h, 1d")
    .option("--zone <zone>", "zone of times that name none", "UTC")
    .option("--from <date>", "first day (exchange date) or time")
    .option("--to <date>", "last day, included, or a time, excluded");
}

function runCommand(name: string, description: string): Command {
  return dataCommand(name, description)
    .requiredOption("--plan <file>", "the plan, TypeScript")
    .option("--input <name=value>", "an input's value; may be repeated", collect, [])
    .option("--cash <amount>", "starting cash", "100000")
    .option("--costs <costs>", "market (the instrument's), none, or name=value,…", "market")
    .addOption(new Option("--path <model>", "price inside a bar").choices(["assumed", "finer"]).default("assumed"))
    .addOption(new Option("--basis <basis>", "what the bar prices are").choices(["last", "bid"]).default("last"))
    .option("--through-ticks <ticks>", "ticks that price must trade through a limit", "0")
    .option("--seed <number>", "seed of the plan's random numbers", "1")
    .option("--risk-free <rate>", "yearly rate, 0.02 is 2 %", "0")
    .option("--out <file>", "write to a file instead of standard output");
}

async function backtest(options: RunOptions): Promise<void> {
  const { instrument, series, data, hash, notices } = loadData(options, options.path === "finer");
  const settings = settingsOf(options, instrument);
  const source = readText(options.plan, "plan");
  const process_ = new PlanProcess();
  try {
    const specs = (await describePlan(process_, source)).inputs;
    const inputs = inputsOf(options.input, specs);
    const outcome = await runPlan(process_, { source, inputs, settings, feeds: [{ instrument, data }] });
    const fingerprint = fingerprintOf({
      source: hashText(source),
      inputs: outcome.inputs,
      dataHash: hash,
      timeframe: series.timeframe,
      instrument,
      settings,
    });
    const document = runDocument({ outcome, series, instrument, settings, fingerprint, dataHash: hash, notices });
    write(options.json ? `${JSON.stringify(document)}\n` : summaryText(document), options.out);
    const { failure } = outcome.result;
    if (failure) {
      const at = failure.barTimeMs === null ? "" : ` at bar ${failure.barIndex} (${new Date(failure.barTimeMs).toISOString()})`;
      process.stderr.write(
        `plan-tester: ${failure.message}${failure.line ? ` (line ${failure.line}, column ${failure.column})` : ""}${at}\n`,
      );
      process.exitCode = 1;
    }
  } finally {
    process_.kill("done");
  }
}

function summaryText(document: ReturnType<typeof runDocument>): string {
  const { figures, settings, warnings } = document;
  const rows: [string, number | null, number][] = [
    ["net profit", figures.netProfit, 2],
    ["trades", figures.trades, 0],
    ["win rate", figures.winRate, 4],
    ["profit factor", figures.profitFactor, 3],
    ["average trade", figures.averageTrade, 2],
    ["deepest drawdown", figures.maxDrawdown, 2],
    ["Sharpe", figures.sharpe, 3],
  ];
  const lines = rows.map(([label, value, decimals]) => `${label.padEnd(18)}${value === null ? "-" : value.toFixed(decimals)}`);
  return [
    `${document.plan.title} on ${settings.symbol} ${settings.timeframe}, ${document.bars.count} bars`,
    ...warnings.map(({ text }) => `! ${text}`),
    ...lines,
    `fingerprint       ${document.fingerprint}`,
    "",
  ].join("\n");
}

const BATCH = 200;

async function sweep(options: RunOptions & { range: string[]; split?: string }): Promise<void> {
  const { instrument, series, data } = loadData(options, options.path === "finer");
  const settings = settingsOf(options, instrument);
  const source = readText(options.plan, "plan");
  const splitMs = timeOf(options.split, "--split", instrument, false);
  const parts: DataSet[] =
    splitMs === null
      ? [data]
      : [
          { key: "in", series: sliceByTime(series, null, splitMs), finer: null },
          { key: "out", series: sliceByTime(series, splitMs, null), finer: null },
        ];
  const stretches = parts.map((part) => [{ instrument, data: part }]);
  if (splitMs !== null && data.finer) throw new PlanTesterError("bad-input", "--split can't be combined with --path finer.", {});
  const pool = new ProcessPool(Math.max(1, (await import("node:os")).cpus().length));
  try {
    const { inputs: specs } = await pool.use((worker) => describePlan(worker, source));
    const ranges = options.range.map(rangeOf);
    if (countVariants(ranges) === 0 || ranges.length === 0)
      throw new PlanTesterError("bad-input", "Give at least one --range, e.g. --range fast=10:40:5.", {});
    const variants = variantsOf(specs, inputsOf(options.input, specs), ranges);
    const width = SWEEP_FIGURES.length * stretches.length;
    const figures = new Float64Array(variants.length * width);
    let next = 0;
    await Promise.all(
      Array.from({ length: pool.size }, () =>
        pool.use(async (worker) => {
          while (next < variants.length) {
            const start = next;
            next = Math.min(variants.length, start + BATCH);
            const answer = await sweepPlan(worker, { source, variants: variants.slice(start, next), stretches, settings });
            if (answer.failures[0])
              throw new PlanProcessError(
                "plan-error",
                `Variant ${JSON.stringify(variants[start + answer.failures[0].variant])}: ${answer.failures[0].message}`,
              );
            figures.set(answer.figures, start * width);
          }
        }),
      ),
    );
    const names = ranges.map(({ input }) => input);
    const heads = stretches.flatMap((_stretch, i) =>
      SWEEP_FIGURES.map((figure) => (stretches.length === 1 ? figure : `${i === 0 ? "in" : "out"}.${figure}`)),
    );
    const cell = (value: number): string => (Number.isNaN(value) ? "" : String(value));
    const rows = variants.map((variant, v) =>
      [...names.map((name) => String(variant[name])), ...heads.map((_head, i) => cell(figures[v * width + i]!))].join(","),
    );
    write(`${[...names, ...heads].join(",")}\n${rows.join("\n")}\n`, options.out);
  } finally {
    pool.close();
  }
}

function studies(options: DataOptions & { study: string[]; out?: string }): void {
  const instrument = options.instrument ? readInstrumentFile(options.instrument) : { ...PLAIN_INSTRUMENT };
  const { series: base } = readBarsFile(options.bars, instrument, options.zone, options.barsTimeframe);
  const series = options.timeframe && options.timeframe !== base.timeframe ? resample(base, options.timeframe).series : base;
  if (options.study.length === 0) throw new PlanTesterError("bad-input", "Give at least one --study, e.g. --study 'ema(close, 20)'.", {});
  const columns = options.study.map((text) => evaluateStudy(text, series).values);
  const rows = Array.from(
    series.time,
    (time, i) => `${new Date(time).toISOString()},${columns.map((column) => (Number.isNaN(column[i]!) ? "" : column[i])).join(",")}`,
  );
  const head = ["time", ...options.study.map((text) => (/[",]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text))].join(",");
  write(`${head}\n${rows.join("\n")}\n`, options.out);
}

const PLAIN_INSTRUMENT: Instrument = {
  symbol: "BARS",
  name: "",
  class: "other",
  currency: "XSC",
  tickSize: 0.01,
  pipSize: 0.01,
  pointValue: 1,
  decimals: 2,
  minQuantity: 1,
  quantityStep: 1,
  calendar: ALWAYS_OPEN,
  costs: NO_COSTS,
  note: "",
};

/** Checks a CSV as an import would and writes its report; with --out, also its columns in the binary form. */
function importBars(options: DataOptions & { out?: string }): void {
  const instrument = options.instrument ? readInstrumentFile(options.instrument) : PLAIN_INSTRUMENT;
  const { series, rejected, problems } = readBarsFile(options.bars, instrument, options.zone, options.barsTimeframe);
  const { time, open, high, low, close, volume, timeframe, length } = series;
  if (options.out)
    writeFileSync(
      options.out,
      packColumns(
        { symbol: instrument.symbol, timeframe },
        Object.entries({ time, open, high, low, close, volume }).map(([name, values]) => ({ name, values })),
      ),
    );
  process.stdout.write(
    `${JSON.stringify({ symbol: instrument.symbol, timeframe, bars: length, first: new Date(time[0]!).toISOString(), last: new Date(time[length - 1]!).toISOString(), rejected, problems })}\n`,
  );
}

/** Bars as CSV, resampled when asked for. */
function exportBars(options: DataOptions & { out?: string }): void {
  const { series } = loadData(options, false);
  const { time, open, high, low, close, volume } = series;
  const rows = Array.from(time, (t, i) => `${new Date(t).toISOString()},${open[i]},${high[i]},${low[i]},${close[i]},${volume[i]}`);
  write(`time,open,high,low,close,volume\n${rows.join("\n")}\n`, options.out);
}

export function makeProgram(): Command {
  const program = new Command("plan-tester")
    .description("Backtests and sweeps plans, computes studies, reads and writes bars, by the same core and rules as the app.")
    .version("0.1.0")
    .exitOverride()
    .showHelpAfterError(false)
    .configureOutput({ outputError: (text, out) => out(`plan-tester: ${text.replace(/^error: /, "")}`) });
  const commands = [
    runCommand("backtest", "run a plan over bars")
      .option("--json", "print one JSON document: see docs/run-document.schema.json")
      .action(backtest),
    runCommand("sweep", "run a plan over a lattice of inputs; prints CSV")
      .option("--range <name=from:to:step>", "values of an input; may be repeated", collect, [])
      .option("--split <date>", "report bars from this day on apart, as out-of-sample")
      .action(sweep),
    dataCommand("studies", "compute studies; prints CSV")
      .option("--study <expression>", "e.g. 'ema(close, 20)'; may be repeated", collect, [])
      .option("--out <file>", "write to a file")
      .action(studies),
    dataCommand("import", "check a CSV of bars and report what is wrong by line")
      .option("--out <file>", "write the columns in binary")
      .action(importBars),
    dataCommand("export", "write bars as CSV, resampled with --timeframe").option("--out <file>", "write to a file").action(exportBars),
  ];
  for (const command of commands) {
    if (command.name() === "studies" || command.name() === "import") {
      const instrument = command.options.find((option) => option.long === "--instrument");
      if (instrument) instrument.mandatory = false;
    }
    command.exitOverride().configureOutput({ outputError: (text, out) => out(`plan-tester: ${text.replace(/^error: /, "")}`) });
    program.addCommand(command);
  }
  return program;
}
