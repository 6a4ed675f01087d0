/** Reads what the command line's arguments name, and says in one line what is wrong with it. */
import { existsSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { type CsvFormat, readInstrument } from "@plan-tester/contract";
import { type BarSeries, CsvBarReader, guessLayout, guessTimeframe, type Instrument, makeSeries, PlanTesterError } from "@plan-tester/core";
import { linkModules } from "@plan-tester/runner";
import Papa from "papaparse";

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

/**
 * Bars of a CSV file, its layout guessed from the first lines unless `format` says otherwise.
 * @param zone of times that name none
 */
export function readBarsFile(
  file: string,
  instrument: Instrument,
  zone: string,
  timeframe?: string,
  format?: Partial<CsvFormat>,
): ReadBars {
  let bytes: Uint8Array;
  try {
    bytes = readFileSync(file);
  } catch {
    throw new PlanTesterError("bad-input", `Can't read the bars file "${file}": there is no such file.`, { file });
  }
  const head = Buffer.from(bytes.subarray(0, 64 * 1024)).toString("utf8");
  const sample = Papa.parse<string[]>(head, { skipEmptyLines: true, preview: 60 });
  const layout = {
    ...guessLayout(sample.data, sample.meta.delimiter || ",", zone),
    ...format,
    ...(format?.clock === undefined ? {} : { clock: format.clock }),
    ...(format?.volume === undefined ? {} : { volume: format.volume }),
  };
  const read = (frame: string) => {
    const reader = new CsvBarReader(layout, frame);
    reader.feed(bytes);
    return reader.finish();
  };
  let parsed = read(timeframe ?? "1m");
  const frame = timeframe ?? guessTimeframe(parsed.columns.time);
  if (!timeframe && layout.stamp === "close") parsed = read(frame);
  if (parsed.columns.time.length === 0)
    throw new PlanTesterError(
      "bad-input",
      `The bars file "${file}" holds no valid bar.${parsed.problems[0] ? ` Line ${parsed.problems[0].line}: ${parsed.problems[0].text}.` : ""}`,
      { file },
    );
  return { series: makeSeries(parsed.columns, frame, instrument.calendar), rejected: parsed.rejected, problems: parsed.problems };
}
