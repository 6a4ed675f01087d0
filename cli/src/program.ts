/** The commands and their options. */
import { writeFileSync } from "node:fs";
import { packColumns, type RunDocument } from "@plan-tester/contract";
import {
  ALWAYS_OPEN,
  BAR_FILES,
  type BarFile,
  barsAsFile,
  type Instrument,
  NO_COSTS,
  PATH_MODELS,
  PlanTesterError,
  POSITION_MODES,
  PRICE_BASES,
  RUIN_MODES,
  resample,
  SEARCH_METHODS,
  SWEEP_FIGURES,
  studyColumn,
} from "@plan-tester/core";
import { describePlan, fingerprintOf, hashText, PlanProcess, runPlan } from "@plan-tester/runner";
import { Command, Option } from "commander";
import { checkLookAhead, verify } from "./checks.ts";
import { documentOf } from "./document.ts";
import { readBarsFile, readInstrumentFile, readPlan } from "./files.ts";
import { inputsOf } from "./options.ts";
import { print } from "./output.ts";
import { type DataOptions, loadData, periodOf, type RunOptions, settingsOf } from "./run-options.ts";
import { sweepCsv } from "./sweep.ts";

const collect = (value: string, before: string[]): string[] => [...before, value];

function dataCommand(name: string, description: string): Command {
  return new Command(name)
    .description(description)
    .requiredOption(
      "--bars <file>",
      "bars or ticks as CSV or JSON, plain or packed: time, open, high, low, close[, volume][, spread], or time, price[, size][, bid, ask]; the layout is guessed",
    )
    .requiredOption("--instrument <file>", "instrument as JSON; see docs/command-line.md")
    .option("--bars-timeframe <timeframe>", "timeframe of the file; guessed when left out")
    .option("--timeframe <timeframe>", "build bars of this timeframe first, e.g. 15m, 1h, 1d")
    .option("--zone <zone>", "zone of times that name none", "UTC")
    .option("--date-order <order>", "dmy, mdy or ymd, where a file's dates can be read in two ways")
    .option("--decimal <sign>", "point or comma, where a file's numbers can be read in two ways")
    .option(
      "--columns <roles>",
      "what each column is: time,clock,zone,open,high,low,close,volume,spread or price,bid,ask of ticks, - for one that is not used",
    )
    .option("--from <date>", "first day (exchange date) or time")
    .option("--to <date>", "last day, included, or a time, excluded")
    .option("--period <words>", 'days that move with the data: all, "to the end", "year to date", "last 3 months" (or weeks, years)');
}

function runCommand(name: string, description: string): Command {
  return dataCommand(name, description)
    .requiredOption("--plan <file>", "the plan, TypeScript")
    .option("--also <bars,instrument>", "a further instrument of the run: bars.csv,instrument.json; may be repeated", collect, [])
    .option("--input <name=value>", "an input's value; may be repeated", collect, [])
    .option("--cash <amount>", "starting cash", "100000")
    .option("--costs <costs>", "market (each instrument's own), none, or name=value,… for all", "market")
    .option("--costs-of <symbol:costs>", "costs of one instrument, e.g. BRIN:spreadTicks=2; may be repeated", collect, [])
    .option("--costs-scale <factor>", "all costs times this", "1")
    .addOption(new Option("--path <model>", "price inside a bar").choices([...PATH_MODELS]).default("assumed"))
    .addOption(new Option("--basis <basis>", "what the bar prices are").choices([...PRICE_BASES]).default("last"))
    .option("--through-ticks <ticks>", "ticks that price must trade through a limit", "0")
    .addOption(
      new Option("--positions <mode>", "one position an instrument, or lots side by side").choices([...POSITION_MODES]).default("netting"),
    )
    .option("--margin <margin>", "unit=2000 or leverage=20, with maintenance=50 (percent of it) after a comma")
    .addOption(new Option("--ruin <mode>", "what becomes of a run whose equity is gone").choices([...RUIN_MODES]).default("stop"))
    .option("--max-quantity <units>", "most units of one order")
    .option("--max-positions <count>", "most positions open at once")
    .option("--daily-loss <limit=act>", "loss of a session at which the account acts: 500=flatten, 3%=stop, 3%=no entries")
    .option("--drawdown <limit=act>", "the same for the fall from the highest equity")
    .option("--currency <code>", "account currency; that of the first instrument when left out", "")
    .option(
      "--conversion <currency=rate>",
      "ORM=0.5, or by an instrument of the run: ORM=SYMBOL, ORM=1/SYMBOL; may be repeated",
      collect,
      [],
    )
    .option("--kit <file>", "exit kit to lay over the plan, JSON; see docs/command-line.md")
    .option("--test-position <side=units@bar>", "open a position without waiting for an entry: long=2, short=1@50")
    .option("--seed <number>", "seed of the plan's random numbers", "1")
    .option("--risk-free <rate>", "yearly rate, 0.02 is 2 %", "0")
    .option("--out <file>", "write to a file instead of standard output");
}

async function backtest(options: RunOptions): Promise<void> {
  const { feeds, hash, notices } = await loadData(options, options.path === "finer");
  const { instrument, data } = feeds[0]!;
  const { series } = data;
  const settings = settingsOf(options, feeds);
  const source = await readPlan(options.plan);
  const process_ = new PlanProcess();
  try {
    const specs = (await describePlan(process_, source)).inputs;
    const inputs = inputsOf(options.input, specs);
    const outcome = await runPlan(process_, { source, inputs, settings, feeds });
    const fingerprint = fingerprintOf({
      source: hashText(source),
      inputs: outcome.inputs,
      dataHash: hash,
      timeframe: series.timeframe,
      instrument,
      settings,
    });
    const { result } = outcome;
    const document = documentOf({ source, outcome, feeds, settings, fingerprint, dataHash: hash, notices });
    print(options.json ? `${JSON.stringify(document)}\n` : summaryText(document), options.out);
    const { failure } = result;
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

function summaryText(document: RunDocument): string {
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
    ...document.slips.map(({ line, text }) => `? line ${line}: ${text}`),
    ...lines,
    `fingerprint       ${document.fingerprint}`,
    "",
  ].join("\n");
}

async function studies(options: DataOptions & { study: string[]; out?: string }): Promise<void> {
  const instrument = options.instrument ? readInstrumentFile(options.instrument) : { ...PLAIN_INSTRUMENT };
  const { series: base } = await readBarsFile(options.bars, instrument, options);
  const series = options.timeframe && options.timeframe !== base.timeframe ? resample(base, options.timeframe).series : base;
  if (options.study.length === 0) throw new PlanTesterError("bad-input", "Give at least one --study, e.g. --study 'ema(close, 20)'.", {});
  const columns = options.study.map((text) => studyColumn(text, series, base).values);
  const { fromMs, toMs } = periodOf(options, base, instrument);
  // Bars ahead of the period warm studies up (R2.7).
  const isIn = (time: number): boolean => time >= (fromMs ?? time) && time < (toMs ?? Number.POSITIVE_INFINITY);
  const rows = Array.from(series.time).flatMap((time, i) =>
    isIn(time) ? [`${new Date(time).toISOString()},${columns.map((column) => (Number.isNaN(column[i]!) ? "" : column[i])).join(",")}`] : [],
  );
  const head = ["time", ...options.study.map((text) => (/[",]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text))].join(",");
  print(`${head}\n${rows.join("\n")}\n`, options.out);
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
async function importBars(options: DataOptions & { out?: string }): Promise<void> {
  const instrument = options.instrument ? readInstrumentFile(options.instrument) : PLAIN_INSTRUMENT;
  const { series, rejected, problems } = await readBarsFile(options.bars, instrument, options);
  const { time, open, high, low, close, volume, timeframe, length } = series;
  if (options.out)
    writeFileSync(
      options.out,
      packColumns(
        { symbol: instrument.symbol, timeframe },
        Object.entries({ time, open, high, low, close, volume }).map(([name, values]) => ({ name, values })),
      ),
    );
  print(
    `${JSON.stringify({ symbol: instrument.symbol, timeframe, bars: length, first: new Date(time[0]!).toISOString(), last: new Date(time[length - 1]!).toISOString(), rejected, problems })}\n`,
  );
}

/** Bars as a file, resampled when asked for, studies beside them. */
async function exportBars(options: DataOptions & { form: BarFile; study: string[]; out?: string }): Promise<void> {
  const { series, whole = series } = (await loadData(options, false)).feeds[0]!.data;
  const from = whole.length - series.length;
  const more = options.study.map((name) => ({ name, values: studyColumn(name, whole).values.subarray(from) }));
  print(Buffer.concat([...barsAsFile(series, options.form, more)]), options.out);
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
    runCommand("sweep", "run a plan over a lattice of inputs, or search it; prints CSV")
      .option("--range <name=from:to:step>", "values of an input, or of a number of the kit such as kit.stop; may be repeated", collect, [])
      .option(
        "--condition <text>",
        "what every variant must meet, e.g. 'fast < slow', or a link, 'slow = 3 * fast'; may be repeated",
        collect,
        [],
      )
      .option("--search <method:count[:seed]>", `try a number of variants: ${SEARCH_METHODS.join(", ")}, e.g. evolution:400`)
      .addOption(new Option("--aim <figure>", "what a search aims at").choices([...SWEEP_FIGURES]).default("returnToDrawdown"))
      .option("--split <date>", "report bars from this day on apart, as out-of-sample")
      .action(async (options) => print(await sweepCsv(options), options.out)),
    runCommand("verify", "run again and compare with a run document: exit code 1 when anything differs")
      .requiredOption("--run <file>", "what backtest --json printed")
      .action(verify),
    runCommand("look-ahead", "check that no order depends on later bars: exit code 1 when one does").action(checkLookAhead),
    dataCommand("studies", "compute studies; prints CSV")
      .option("--study <expression>", "e.g. 'ema(close, 20)'; may be repeated", collect, [])
      .option("--out <file>", "write to a file")
      .action(studies),
    dataCommand("import", "check a CSV of bars and report what is wrong by line")
      .option("--out <file>", "write the columns in binary")
      .action(importBars),
    dataCommand("export", "write bars, resampled with --timeframe, and studies beside them")
      .addOption(new Option("--form <form>", "kind of file").choices([...BAR_FILES]).default("csv"))
      .option("--study <expression>", "a column beside the bars, e.g. 'ema(close, 20)' or 'close > vwap()'; may be repeated", collect, [])
      .option("--out <file>", "write to a file")
      .action(exportBars),
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
