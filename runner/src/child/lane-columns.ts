/** A lane's way to the columns that the other lanes of its process have computed: asks the desk and waits for the answer. */
import { type MessagePort, receiveMessageOnPort } from "node:worker_threads";
import type { ColumnExchange, ColumnValues } from "@plan-tester/core";
import type { ColumnRequest } from "./column-desk.ts";

/** What a lane is started with. */
export interface LaneSeat {
  readonly port: MessagePort;
  /** Set to 1 when an answer has been sent. */
  readonly signal: Int32Array;
  /** Lanes of the process. */
  readonly lanes: number;
}

/** Longest wait for a column that another lane computes, milliseconds; then it is computed here too. */
const LONGEST_WAIT_MS = 4000;

export function laneColumns({ port, signal }: LaneSeat): (dataKey: string) => ColumnExchange {
  const post = (request: ColumnRequest): void => port.postMessage(request);

  function ask(key: string): ColumnValues | null {
    const deadline = performance.now() + LONGEST_WAIT_MS;
    Atomics.store(signal, 0, 0);
    post({ kind: "want", key });
    for (;;) {
      const left = deadline - performance.now();
      if (left <= 0 || Atomics.wait(signal, 0, 0, left) === "timed-out") return null;
      Atomics.store(signal, 0, 0);
      // Case: the answer to a question that was given up comes before this one's.
      for (let next = receiveMessageOnPort(port); next; next = receiveMessageOnPort(port))
        if (next.message.key === key) return next.message.column;
    }
  }

  const exchange = (place: string): ColumnExchange => ({
    take: (key) => ask(`${place} ${key}`),
    give: (key, { values, first }) => {
      const shared = new Float64Array(new SharedArrayBuffer(values.byteLength));
      shared.set(values);
      const column: ColumnValues = { values: shared, first };
      post({ kind: "give", key: `${place} ${key}`, column });
      return column;
    },
    fail: (key) => post({ kind: "fail", key: `${place} ${key}` }),
    within: (timeframe) => exchange(`${place} ${timeframe}`),
  });
  return exchange;
}
