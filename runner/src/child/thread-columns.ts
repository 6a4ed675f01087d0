/** A thread's way to what the other threads of its process have computed: asks the cache and waits for the answer. */
import { type MessagePort, receiveMessageOnPort } from "node:worker_threads";
import type { ColumnExchange } from "@plan-tester/core";
import type { ColumnRequest } from "./column-cache.ts";
import { inSharedMemory } from "./shared-memory.ts";

/** What a thread is started with. */
export interface ThreadData {
  readonly port: MessagePort;
  /** Set to 1 when an answer has been sent. */
  readonly signal: Int32Array;
  /** Threads of the process. */
  readonly threads: number;
}

/** Longest wait for what another thread computes, milliseconds; then it is computed here too. */
const LONGEST_WAIT_MS = 4000;

/** @param waited is told how long each answer took, milliseconds. */
export function threadColumns({ port, signal }: ThreadData, waited: (ms: number) => void): (dataKey: string) => ColumnExchange {
  const post = (request: ColumnRequest): void => port.postMessage(request);

  function ask<T>(key: string): T | null {
    const deadline = performance.now() + LONGEST_WAIT_MS;
    Atomics.store(signal, 0, 0);
    post({ kind: "want", key });
    for (;;) {
      const left = deadline - performance.now();
      if (left <= 0 || Atomics.wait(signal, 0, 0, left) === "timed-out") return null;
      Atomics.store(signal, 0, 0);
      // Case: the answer to a question that was given up comes before this one's.
      for (let next = receiveMessageOnPort(port); next; next = receiveMessageOnPort(port))
        if (next.message.key === key) return next.message.made;
    }
  }

  function take<T>(key: string): T | null {
    const began = performance.now();
    const made = ask<T>(key);
    waited(performance.now() - began);
    return made;
  }

  const exchange = (place: string): ColumnExchange => ({
    take: (key) => take(`${place} ${key}`),
    give: (key, made) => {
      const shared = inSharedMemory(made);
      post({ kind: "give", key: `${place} ${key}`, made: shared });
      return shared;
    },
    fail: (key) => post({ kind: "fail", key: `${place} ${key}` }),
    within: (timeframe) => exchange(`${place} ${timeframe}`),
  });
  return exchange;
}
