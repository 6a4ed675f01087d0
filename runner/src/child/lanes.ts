/**
 * The main thread of a plan process with several lanes: runs no plan itself. It hands messages to the lanes, puts bars
 * into memory that they share, and keeps the columns that they have computed.
 */
import { MessageChannel, type ResourceLimits, type Worker } from "node:worker_threads";
import { type BarSeries, shareTimes } from "@plan-tester/core";
import { type DataMessage, type FinerData, type FromChild, type FromLane, TOO_MUCH_MEMORY, type ToLane } from "../protocol.ts";
import { ColumnDesk, type ColumnRequest } from "./column-desk.ts";
import type { LaneSeat } from "./lane-columns.ts";
import { laneThread } from "./lane-thread.ts";

export function openLanes(lanes: number, resourceLimits: ResourceLimits): void {
  const send = (message: FromLane): void => void process.send?.(message);
  const data = new Map<string, DataMessage>();
  const answers: ((key: string, column: unknown) => void)[] = [];
  const desk = new ColumnDesk((lane, key, column) => answers[lane]!(key, column));

  function open(lane: number): Worker {
    const { port1, port2 } = new MessageChannel();
    const signal = new Int32Array(new SharedArrayBuffer(4));
    const seat: LaneSeat = { port: port2, signal, lanes };
    const worker = laneThread({ workerData: seat, transferList: [port2], resourceLimits });
    answers[lane] = (key, column) => {
      port1.postMessage({ key, column });
      Atomics.store(signal, 0, 1);
      Atomics.notify(signal, 0);
    };
    port1.on("message", (request: ColumnRequest) => desk.handle(lane, request));
    let reason = "its thread ended";
    let isReady = false;
    worker.on("message", (message: FromChild) => {
      isReady = true;
      send({ lane, message });
    });
    worker.on("error", (error: NodeJS.ErrnoException) => {
      reason = error.code === "ERR_WORKER_OUT_OF_MEMORY" ? TOO_MUCH_MEMORY : error.message;
    });
    worker.on("exit", () => {
      // Case: a lane that can't even begin would be opened without end.
      if (!isReady) {
        console.error(reason);
        process.exit(1);
      }
      port1.close();
      workers[lane] = open(lane);
      desk.leave(lane);
      send({ lane, died: reason });
    });
    for (const message of data.values()) worker.postMessage(message);
    return worker;
  }

  function keep(message: DataMessage): void {
    const known = Array.from(data.values(), ({ series }) => series);
    const shared: DataMessage = {
      ...message,
      series: inSharedMemory(shareTimes(message.series, known)),
      finer: sharedFiner(message.finer),
    };
    data.set(message.key, shared);
    for (const worker of workers) worker.postMessage(shared);
  }

  const workers: Worker[] = Array.from({ length: lanes }, (_, lane) => open(lane));
  process.on("message", ({ lane, message }: ToLane) => {
    if (message.type === "data") keep(message);
    else if (message.type === "forget") {
      data.delete(message.key);
      for (const worker of workers) worker.postMessage(message);
    } else workers[lane]!.postMessage(message);
  });
}

const sharedFiner = (finer: FinerData | null): FinerData | null =>
  finer && { series: inSharedMemory(finer.series), first: sharedInts(finer.first) };

function inSharedMemory(series: BarSeries): BarSeries {
  const { time, open, high, low, close, volume, spread, closeTime, session } = series;
  return {
    ...series,
    time: sharedColumn(time),
    open: sharedColumn(open),
    high: sharedColumn(high),
    low: sharedColumn(low),
    close: sharedColumn(close),
    volume: sharedColumn(volume),
    spread: spread && sharedColumn(spread),
    closeTime: sharedColumn(closeTime),
    session: sharedInts(session),
  };
}

function sharedColumn(values: Float64Array): Float64Array {
  if (values.buffer instanceof SharedArrayBuffer) return values;
  const shared = new Float64Array(new SharedArrayBuffer(values.byteLength));
  shared.set(values);
  return shared;
}

function sharedInts(values: Int32Array): Int32Array {
  const shared = new Int32Array(new SharedArrayBuffer(values.byteLength));
  shared.set(values);
  return shared;
}
