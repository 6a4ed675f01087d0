/** Reads a file of bars in a thread of its own. */
import { createReadStream, statSync } from "node:fs";
import { parentPort, workerData } from "node:worker_threads";
import { BarText, type CsvLayout, PlanTesterError, readerOf } from "@plan-tester/core";
import { inSharedMemory } from "@plan-tester/runner";

const PART_BYTES = 4 * 1024 * 1024;
const { file, format, timeframe } = workerData as { file: string; format: CsvLayout; timeframe: string };
const total = statSync(file).size;

async function read(): Promise<void> {
  const reader = readerOf(format, timeframe);
  const text = new BarText();
  let done = 0;
  for await (const part of createReadStream(file, { highWaterMark: PART_BYTES })) {
    for (const csv of text.feed(part as Buffer)) reader.feed(csv);
    done += (part as Buffer).length;
    parentPort!.postMessage({ type: "progress", done, total });
  }
  for (const csv of text.finish()) reader.feed(csv);
  // In memory that the server's thread sees without a copy.
  parentPort!.postMessage({ type: "parsed", parsed: inSharedMemory(reader.finish()) });
}

try {
  await read();
} catch (error) {
  if (!(error instanceof PlanTesterError)) throw error;
  // As an error it would lose its code on the way between threads.
  parentPort!.postMessage({ type: "refused", code: error.code, text: error.message });
}
