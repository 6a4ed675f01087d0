/** Reads a file of bars in a thread of its own. */
import { open } from "node:fs/promises";
import { parentPort, workerData } from "node:worker_threads";
import { type CsvLayout, type FileBytes, PlanTesterError, readerOf, textOfFile } from "@plan-tester/core";
import { inSharedMemory } from "@plan-tester/runner";

const { file, format, timeframe } = workerData as { file: string; format: CsvLayout; timeframe: string };

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
    const reader = readerOf(format, timeframe);
    let told = 0;
    for await (const { text, done } of textOfFile(bytes)) {
      reader.feed(text);
      if (done > told) parentPort!.postMessage({ type: "progress", done, total });
      told = done;
    }
    // In memory that the server's thread sees without a copy.
    const parsed = reader.finish((length) => new Float64Array(new SharedArrayBuffer(length * 8)));
    parentPort!.postMessage({ type: "parsed", parsed: inSharedMemory(parsed) });
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
