/**
 * The main thread of a plan process with several worker threads: runs no plan itself. It hands messages to the threads, puts bars
 * into memory that they share, and keeps what they have computed over them.
 */
import { MessageChannel, type ResourceLimits, type Worker } from "node:worker_threads";
import { shareTimes, surrogateBars } from "@plan-tester/core";
import { HEAP_IS_FULL } from "../memory.ts";
import { PieceReceiver } from "../pieces.ts";
import type { DataMessage, FromChild, FromThread, ToThread } from "../protocol.ts";
import { ColumnCache, type ColumnRequest } from "./column-cache.ts";
import { inSharedMemory } from "./shared-memory.ts";
import { startThread } from "./start-thread.ts";
import type { ThreadData } from "./thread-columns.ts";

export function openThreads(threads: number, resourceLimits: ResourceLimits): void {
  const send = (message: FromThread): void => void process.send?.(message);
  const data = new Map<string, DataMessage>();
  const receiver = new PieceReceiver((bytes) => new SharedArrayBuffer(bytes));
  const answers: ((key: string, made: unknown) => void)[] = [];
  /** Why threads are being ended that do not end by themselves. */
  const reasons: string[] = [];
  const cache = new ColumnCache((thread, key, made) => answers[thread]!(key, made));

  function open(thread: number): Worker {
    const { port1, port2 } = new MessageChannel();
    const signal = new Int32Array(new SharedArrayBuffer(4));
    const own: ThreadData = { port: port2, signal, threads };
    const worker = startThread({ workerData: own, transferList: [port2], resourceLimits });
    answers[thread] = (key, made) => {
      port1.postMessage({ key, made });
      Atomics.store(signal, 0, 1);
      Atomics.notify(signal, 0);
    };
    port1.on("message", (request: ColumnRequest) => cache.handle(thread, request));
    let reason = "its thread ended";
    reasons[thread] = "";
    let isReady = false;
    worker.on("message", (message: FromChild) => {
      isReady = true;
      send({ thread, message });
    });
    worker.on("error", (error: NodeJS.ErrnoException) => {
      reason = error.code === "ERR_WORKER_OUT_OF_MEMORY" ? HEAP_IS_FULL : error.message;
    });
    worker.on("exit", () => {
      // Case: a thread that can't even begin would be opened without end.
      if (!isReady && !reasons[thread]) {
        console.error(reason);
        process.exit(1);
      }
      port1.close();
      const told = reasons[thread];
      workers[thread] = open(thread);
      cache.leave(thread);
      send({ thread, died: told || reason });
    });
    for (const message of data.values()) worker.postMessage(message);
    return worker;
  }

  function keep(message: DataMessage): void {
    const known = Array.from(data.values(), ({ series }) => series);
    const shared = inSharedMemory<DataMessage>({ ...message, series: shareTimes(message.series, known) });
    data.set(message.key, shared);
    for (const worker of workers) worker.postMessage(shared);
  }

  const workers: Worker[] = Array.from({ length: threads }, (_, thread) => open(thread));
  process.on("message", (told: ToThread) => {
    const { thread } = told;
    if ("end" in told) {
      reasons[thread] = told.end;
      return void workers[thread]!.terminate();
    }
    const { message } = told;
    if (message.type === "data-begin" || message.type === "data-piece" || message.type === "data-end") {
      const whole = receiver.receive(message) as Omit<DataMessage, "type" | "key"> | undefined;
      if (whole) keep({ type: "data", key: message.key, ...whole });
    } else if (message.type === "surrogate") {
      const { key, of, tickSize, seed } = message;
      const { series, lead } = data.get(of)!;
      keep({ type: "data", key, series: { ...series, ...surrogateBars(series, tickSize, seed) }, lead, finer: null });
    } else if (message.type === "forget") {
      data.delete(message.key);
      for (const worker of workers) worker.postMessage(message);
    } else workers[thread]!.postMessage(message);
  });
}
