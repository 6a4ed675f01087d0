/**
 * Entry of a plan process: `plan-process.js LANES HEAP_MB YOUNG_MB`. With one lane plans run right here; with several each
 * lane is a thread that starts with this same file.
 */
import { setFlagsFromString } from "node:v8";
import { isMainThread, parentPort, workerData } from "node:worker_threads";
import type { FromChild, ToLane } from "../protocol.ts";
import { type LaneSeat, laneColumns } from "./lane-columns.ts";
import { openLanes } from "./lanes.ts";
import { guard } from "./sandbox.ts";
import { serve } from "./serve.ts";

const [lanes, heapMb, youngMb] = process.argv.slice(2).map(Number);

/** An order's way through the engine is many small steps: compiled into one piece it takes a tenth less. */
const INLINING = "--max-inlined-bytecode-size-cumulative=2000";
/**
 * V8 puts lists into the old heap at once where many of their kind have lived long. Those of a variant die with it, but in
 * the old heap they keep all that they hold until the next full collection, and every small one copies it: a fifth of a sweep.
 */
const NOTHING_LASTS = "--no-allocation-site-pretenuring";

if (!isMainThread) {
  const seat = workerData as LaneSeat;
  const port = parentPort!;
  await serve(
    {
      send: async (message: FromChild) => port.postMessage(message),
      listen: (receive) => port.on("message", receive),
    },
    { lanes: seat.lanes, exchangeOf: laneColumns(seat, (ms) => guard.pardon(ms)) },
  );
} else {
  // A V8 that does not know one of them goes on without it.
  setFlagsFromString(INLINING);
  if (lanes! > 1) setFlagsFromString(NOTHING_LASTS);
  process.on("disconnect", () => process.exit(0));
  if (lanes! > 1) openLanes(lanes!, { maxOldGenerationSizeMb: heapMb!, maxYoungGenerationSizeMb: 3 * youngMb! });
  else
    await serve(
      {
        send: (message: FromChild) => new Promise((resolve) => process.send?.({ lane: 0, message }, () => resolve())),
        listen: (receive) => process.on("message", (told: ToLane) => "message" in told && receive(told.message)),
      },
      { lanes: 1, exchangeOf: () => null },
    );
}
