/**
 * Entry of a plan process: `plan-process.js THREADS HEAP_MB YOUNG_MB`. With one thread plans run right here; with several in
 * worker threads that start with this same file.
 */
import { setFlagsFromString } from "node:v8";
import { isMainThread, parentPort, workerData } from "node:worker_threads";
import type { FromChild, ToThread } from "../protocol.ts";
import { guard } from "./sandbox.ts";
import { serve } from "./serve.ts";
import { type ThreadData, threadColumns } from "./thread-columns.ts";
import { openThreads } from "./threads.ts";

const [threads, heapMb, youngMb] = process.argv.slice(2).map(Number);

/** An order's way through the engine is many small steps: compiled into one piece it takes a tenth less. */
const INLINING = "--max-inlined-bytecode-size-cumulative=2000";
/**
 * V8 puts lists into the old heap at once where many of their kind have lived long. Those of a variant die with it, but in
 * the old heap they keep all that they hold until the next full collection, and every small one copies it: a fifth of a sweep.
 */
const NOTHING_LASTS = "--no-allocation-site-pretenuring";

if (!isMainThread) {
  const own = workerData as ThreadData;
  const port = parentPort!;
  await serve(
    {
      send: async (message: FromChild) => port.postMessage(message),
      listen: (receive) => port.on("message", receive),
    },
    { threads: own.threads, exchangeOf: threadColumns(own, (ms) => guard.pardon(ms)) },
  );
} else {
  // A V8 that does not know one of them goes on without it.
  setFlagsFromString(INLINING);
  if (threads! > 1) setFlagsFromString(NOTHING_LASTS);
  process.on("disconnect", () => process.exit(0));
  if (threads! > 1) openThreads(threads!, { maxOldGenerationSizeMb: heapMb!, maxYoungGenerationSizeMb: 3 * youngMb! });
  else
    await serve(
      {
        send: (message: FromChild) => new Promise((resolve) => process.send?.({ thread: 0, message }, () => resolve())),
        listen: (receive) => process.on("message", (told: ToThread) => "message" in told && receive(told.message)),
      },
      { threads: 1, exchangeOf: () => null },
    );
}
