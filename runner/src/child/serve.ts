/** One thread of a plan process: one message at a time, in order. */
import type { ColumnExchange } from "@plan-tester/core";
import { PieceReceiver } from "../pieces.ts";
import type { DataMessage, FromChild, ToChild } from "../protocol.ts";
import { blend } from "./blend.ts";
import { type LiveSession, startLive } from "./live.ts";
import { replayPlan } from "./replay.ts";
import {
  assemble,
  describe,
  forgetData,
  holdings,
  isAllocationFailure,
  keepData,
  keepSurrogate,
  lookAhead,
  run,
  sendError,
  stop,
  sweep,
  traceRun,
} from "./run.ts";
import { lockDown } from "./sandbox.ts";

/** Where messages come from and go to. */
export interface Line {
  /** Settles when the message has gone out: long work waits for it, so that what it tells is told while it goes on. */
  send(message: FromChild): Promise<void>;
  listen(receive: (message: ToChild) => void): void;
}

export interface ThreadFacts {
  /** How many threads share this process and its memory. */
  readonly threads: number;
  /** Where columns on the bars of a key are shared with the other threads. */
  readonly exchangeOf: (dataKey: string) => ColumnExchange | null;
}

export async function serve({ send, listen }: Line, { threads, exchangeOf }: ThreadFacts): Promise<void> {
  await lockDown();
  const sessions = new Map<number, LiveSession>();
  const receiver = new PieceReceiver((bytes) => new ArrayBuffer(bytes));

  async function handle(message: ToChild): Promise<void> {
    switch (message.type) {
      case "data":
        return keepData(message, exchangeOf(message.key));
      case "data-begin":
      case "data-piece":
      case "data-end": {
        const whole = receiver.receive(message) as Omit<DataMessage, "type" | "key"> | undefined;
        if (whole) keepData({ key: message.key, ...whole }, exchangeOf(message.key));
        return;
      }
      case "surrogate":
        return keepSurrogate(message, exchangeOf(message.key));
      case "forget":
        return forgetData(message.key);
      case "describe":
        return describe(message.id, message.source, send);
      case "run":
        return run(message, send);
      case "blend":
        return blend(message, send);
      case "assemble":
        return assemble(message, send);
      case "sweep":
        return void send({ ...sweep(message, threads > 1, send), memoryBytes: process.memoryUsage.rss() / threads });
      case "look-ahead":
        return lookAhead(message, send);
      case "trace":
        return traceRun(message, send);
      case "holdings":
        return holdings(message, send);
      case "stop":
        return;
      case "replay":
        return replayPlan(message, send);
      case "live-start":
        return startLive(message, sessions, send);
      case "live-word":
        return sessions.get(message.id)?.hear(message);
      case "live-mode":
        return sessions.get(message.id)?.mode(message);
      case "live-settle":
        return sessions.get(message.id)?.settle(message);
      case "live-view":
        return sessions.get(message.id)?.view(message);
      case "live-end":
        return sessions.get(message.id)?.end();
    }
  }

  let queue: Promise<void> = Promise.resolve();
  listen((message) => {
    // Case: a stop must overtake the run that it stops, which holds the queue.
    if (message.type === "stop") return stop(message.id);
    queue = queue.then(async () => {
      try {
        await handle(message);
      } catch (error) {
        // The thread ends, and what it was at is done again by itself, where it can only be its own fault.
        if (threads > 1 && isAllocationFailure(error)) process.exit(1);
        sendError(error, null, "id" in message ? message.id : 0, send);
      }
    });
  });
  void send({ type: "ready" });
}
