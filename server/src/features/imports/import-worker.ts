/** Reads a file of bars in a thread of its own. */
import { open } from "node:fs/promises";
import { parentPort, workerData } from "node:worker_threads";
import { type CsvLayout, type FileBytes, type FileReader, isPlainText, PlanTesterError, readerOf, textOfFile } from "@plan-tester/core";
import { inSharedMemory, sharedColumn } from "@plan-tester/runner";

/** A time and four prices take no less, with what parts them. */
const LEAST_ROW_BYTES = 12;
const { file, format, timeframe } = workerData as { file: string; format: CsvLayout; timeframe: string };

/** With room for so many rows, where the system gives it. */
function readerFor(rows: number | undefined): FileReader {
  try {
    return readerOf(format, timeframe, { allocate: sharedColumn, ...(rows !== undefined && { rows }) });
  } catch (error) {
    if (!(error instanceof RangeError) || rows === undefined) throw error;
    return readerOf(format, timeframe, { allocate: sharedColumn });
  }
}

async function read(): Promise<void> {
  const handle = await open(file);
  try {
    const total = (await handle.stat()).size;
    const bytes: FileBytes = {
      byteLength: total,
      slice: async (start, end = total) => {
        const part = new Uint8Array(end - start);
        await handle.read(part, 0, part.length, start);
        return part.buffer;
      },
    };
    // In memory that the server's thread sees without a copy; what is never written to costs nothing.
    const rows = (await isPlainText(bytes)) ? Math.ceil(total / LEAST_ROW_BYTES) : undefined;
    const reader = readerFor(rows);
    let told = 0;
    for await (const { text, done } of textOfFile(bytes)) {
      reader.feed(text);
      if (done > told) parentPort!.postMessage({ type: "progress", done, total });
      told = done;
    }
    parentPort!.postMessage({ type: "parsed", parsed: inSharedMemory(reader.finish()) });
  } finally {
    await handle.close();
  }
}

try {
  await read();
} catch (error) {
  if (!(error instanceof PlanTesterError)) throw error;
  // As an error it would lose its code on the way between threads.
  parentPort!.postMessage({ type: "refused", code: error.code, text: error.message });
}
