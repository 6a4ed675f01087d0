/** Entry of a plan process: one message at a time, in order. */
import type { FromChild, ToChild } from "../protocol.ts";
import { LiveSession } from "./live.ts";
import { describe, keepData, lookAhead, run, sendError, stop, sweep, traceRun } from "./run.ts";
import { lockDown } from "./sandbox.ts";

await lockDown();
const sessions = new Map<number, LiveSession>();
const send = (message: FromChild): void => void process.send?.(message);

async function handle(message: ToChild): Promise<void> {
  switch (message.type) {
    case "data":
      return keepData(message.key, message.series, message.finer);
    case "describe":
      return send({ type: "described", id: message.id, description: describe(message.source) });
    case "run":
      return run(message, send);
    case "sweep":
      return send(sweep(message));
    case "look-ahead":
      return lookAhead(message, send);
    case "trace":
      return traceRun(message, send);
    case "stop":
      return;
    case "live-start":
      sessions.set(message.id, new LiveSession(message, send));
      return;
    case "live-bar":
      return sessions.get(message.id)?.bar(message.series);
    case "live-clock":
      return sessions.get(message.id)?.clock(message.timeMs);
    case "live-account":
      return sessions.get(message.id)?.account(message);
  }
}

let queue: Promise<void> = Promise.resolve();

process.on("message", (message: ToChild) => {
  // Case: a stop must overtake the run that it stops, which holds the queue.
  if (message.type === "stop") return stop(message.id);
  queue = queue.then(async () => {
    try {
      await handle(message);
    } catch (error) {
      sendError(error, null, "id" in message ? message.id : 0, send);
    }
  });
});
process.on("disconnect", () => process.exit(0));
send({ type: "ready" });
