/** A CSV of a million bars into checked columns, against merely reading the file and splitting its lines. */
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ALWAYS_OPEN, makeSeries, readerOf, samplePieces, surveyPieces } from "@plan-tester/core";
import { median, timed, walk } from "./series.ts";

const ROWS = 1_000_000;
const folder = mkdtempSync(join(tmpdir(), "plan-tester-bench-"));
const file = join(folder, "bars.csv");
const bars = walk(ROWS, 3);
const lines = ["time,open,high,low,close,volume"];
for (let i = 0; i < ROWS; i++)
  lines.push(
    `${new Date(bars.time[i]!).toISOString().slice(0, 19).replace("T", " ")},${bars.open[i]},${bars.high[i]},${bars.low[i]},${bars.close[i]},${bars.volume[i]}`,
  );
writeFileSync(file, `${lines.join("\n")}\n`);
lines.length = 0;

const PART = 4 * 1024 * 1024;

function importFile() {
  const bytes = readFileSync(file);
  const pieces = samplePieces(bytes.length).map(({ start, end }) => bytes.subarray(start, end));
  const { layout, timeframe } = surveyPieces(pieces, "UTC");
  const reader = readerOf(layout, timeframe);
  for (let at = 0; at < bytes.length; at += PART) reader.feed(bytes.subarray(at, at + PART));
  const parsed = reader.finish();
  return makeSeries(parsed.columns, "1m", ALWAYS_OPEN);
}

function splitLines(): number {
  let fields = 0;
  for (const line of readFileSync(file, "utf8").split("\n")) if (line !== "") fields += line.split(",").length;
  return fields;
}

const imported = importFile();
if (splitLines() !== (ROWS + 1) * 6) throw new Error("The file has not the lines it should have.");
for (const name of ["time", "open", "high", "low", "close", "volume"] as const)
  if (imported.length !== ROWS || !imported[name].every((value, i) => value === bars[name][i]))
    throw new Error(`Column ${name} came back otherwise than it was written.`);

const ratios: number[] = [];
const importMs: number[] = [];
for (let round = 0; round < 5; round++) {
  const one = timed(importFile).ms;
  const other = timed(splitLines).ms;
  importMs.push(one);
  ratios.push(one / other);
}
rmSync(folder, { recursive: true });
console.log(`  ${ROWS.toLocaleString("en-GB")} rows in ${median(importMs).toFixed(0)} ms`);
console.log(`bench import ratio ${median(ratios).toFixed(2)}`);
