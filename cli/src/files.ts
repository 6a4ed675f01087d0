/** Reads what the command line's arguments name, and says in one line what is wrong with it. */
import { existsSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { readInstrument } from "@plan-tester/contract";
import {
  type BarLayout,
  type BarSeries,
  barFacts,
  type CsvLayout,
  type Instrument,
  isOfTicks,
  type LayoutQuestion,
  makeSeries,
  PlanTesterError,
  readerOf,
  samplePieces,
  surveyPieces,
  type TickLayout,
  textOfFile,
} from "@plan-tester/core";
import { linkModules } from "@plan-tester/runner";

export function readText(file: string, what: string): string {
  try {
    return readFileSync(file, "utf8");
  } catch (error) {
    throw new PlanTesterError(
      "bad-input",
      `Can't read the ${what} file "${file}": ${(error as NodeJS.ErrnoException).code === "ENOENT" ? "there is no such file" : (error as Error).message}.`,
      { file },
    );
  }
}

export function readJson(file: string, what: string): unknown {
  const text = readText(file, what);
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new PlanTesterError("bad-input", `The ${what} file "${file}" is not JSON: ${(error as Error).message}.`, { file });
  }
}

export const readInstrumentFile = (file: string): Instrument => readInstrument(readJson(file, "instrument"));

/** A plan's source with the text of the modules that it imports, which stand beside it. */
export function readPlan(file: string): Promise<string> {
  return linkModules(readText(file, "plan"), async (name) => {
    const path = join(dirname(file), `${name}.module.ts`);
    return existsSync(path) ? readText(path, "module") : null;
  });
}

export interface ReadBars {
  readonly series: BarSeries;
  readonly rejected: number;
  readonly problems: readonly { readonly line: number; readonly text: string }[];
}

/** What the command line says of a bars file. */
export interface BarsFileOptions {
  /** Of times that name none. */
  readonly zone: string;
  readonly barsTimeframe?: string;
  readonly dateOrder?: string;
  readonly decimal?: string;
  readonly columns?: string;
}

/** @throws PlanTesterError bad-input for what can't be unpacked */
async function textOf(file: Buffer): Promise<Buffer> {
  const bytes = { byteLength: file.length, slice: (start: number, end?: number) => new Uint8Array(file.subarray(start, end)).buffer };
  const parts: Uint8Array[] = [];
  for await (const { text } of textOfFile(bytes)) parts.push(text);
  return Buffer.concat(parts);
}

/**
 * Bars of a file, its layout told from its own lines and from the options.
 * @throws PlanTesterError bad-input where a question about the file is left open, no line is a bar, or bars do not lie apart
 * as their timeframe says
 */
export async function readBarsFile(file: string, instrument: Instrument, options: BarsFileOptions): Promise<ReadBars> {
  let bytes: Buffer;
  try {
    bytes = readFileSync(file);
  } catch {
    throw new PlanTesterError("bad-input", `Can't read the bars file "${file}": there is no such file.`, { file });
  }
  const refuse = (text: string): never => {
    throw new PlanTesterError("bad-input", `The bars file "${file}": ${text}`, { file });
  };
  // As text, however it is packed.
  bytes = await textOf(bytes);
  const pieces = samplePieces(bytes.length).map(({ start, end }) => bytes.subarray(start, end));
  const survey = surveyPieces(pieces, options.zone);
  const said = layoutOf(options);
  const open = survey.questions.find(({ about }) => !isAnswered(about, options));
  if (open) refuse(`${open.text} ${HOW_TO_ANSWER[open.about]}`);
  const layout = { ...survey.layout, ...said } as CsvLayout;
  const timeframe = (isOfTicks(layout) ? null : options.barsTimeframe) ?? barFacts(survey.head, layout).timeframe;
  const reader = readerOf(layout, timeframe);
  reader.feed(bytes);
  const { columns, rejected, problems, spacing } = reader.finish();
  if (columns.time.length === 0) refuse(`it holds no valid bar.${problems[0] ? ` Line ${problems[0].line}: ${problems[0].text}.` : ""}`);
  if (spacing) refuse(`line ${spacing.line}: ${spacing.text}.`);
  return { series: makeSeries(columns, timeframe, instrument.calendar), rejected, problems };
}

const HOW_TO_ANSWER: Readonly<Record<LayoutQuestion["about"], string>> = {
  "date-order": "Say which with --date-order dmy, mdy or ymd.",
  decimal: "Say which with --decimal point or --decimal comma.",
  columns: "Say what each column is, such as --columns time,open,high,low,close,-,volume.",
  volume: "Say what each column is, such as --columns time,open,high,low,close,-,volume.",
};

function isAnswered(about: LayoutQuestion["about"], { dateOrder, decimal, columns }: BarsFileOptions): boolean {
  if (about === "date-order") return dateOrder !== undefined;
  return (about === "decimal" ? decimal : columns) !== undefined;
}

const COLUMN_WORDS = {
  time: "time",
  clock: "clock",
  zone: "zoneColumn",
  open: "open",
  high: "high",
  low: "low",
  close: "close",
  volume: "volume",
  spread: "spread",
  price: "price",
  bid: "bid",
  ask: "ask",
} as const;
const WORDS_OF_BARS = ["open", "high", "low", "close"] as const;
const WORDS_OF_TICKS = ["price", "bid", "ask"] as const;

function layoutOf({ dateOrder, decimal, columns }: BarsFileOptions): Partial<CsvLayout> {
  const bad = (option: string, got: string, wanted: string): never => {
    throw new PlanTesterError("bad-input", `--${option}: "${got}" is not ${wanted}.`, {});
  };
  if (dateOrder !== undefined && !["dmy", "mdy", "ymd"].includes(dateOrder)) bad("date-order", dateOrder, "dmy, mdy or ymd");
  if (decimal !== undefined && !["point", "comma"].includes(decimal)) bad("decimal", decimal, "point or comma");
  const said: Partial<Record<keyof BarLayout | keyof TickLayout, unknown>> = {
    ...(dateOrder === undefined ? {} : { dateFormat: dateOrder }),
    ...(decimal === undefined ? {} : { decimal: decimal === "point" ? "." : "," }),
  };
  if (columns !== undefined) {
    const words = columns.split(",").map((word) => word.trim());
    const wrong = words.find((word) => word !== "-" && !(word in COLUMN_WORDS));
    if (wrong !== undefined) bad("columns", wrong, `one of ${Object.keys(COLUMN_WORDS).join(", ")}, or - for a column that is not used`);
    const isTicks = WORDS_OF_TICKS.some((word) => words.includes(word)) && !WORDS_OF_BARS.some((word) => words.includes(word));
    const missing = ["time", ...(isTicks ? [] : WORDS_OF_BARS)].find((word) => !words.includes(word));
    if (missing !== undefined) bad("columns", columns, `complete: ${missing} is missing`);
    said.kind = isTicks ? "ticks" : "bars";
    for (const [word, role] of Object.entries(COLUMN_WORDS)) said[role] = words.includes(word) ? words.indexOf(word) : null;
  }
  return said as Partial<CsvLayout>;
}
