/** Plan processes by purpose: one kept free for what the user waits for, and one a core for sweeps. */
import { PlanProcess } from "./plan-process.ts";

type Work<T> = (process: PlanProcess) => Promise<T>;

export class ProcessPool {
  readonly #processes: PlanProcess[];
  readonly #waiting: (() => void)[] = [];
  readonly #taken = new Set<PlanProcess>();

  constructor(size: number) {
    this.#processes = Array.from({ length: size }, () => new PlanProcess());
  }

  get size(): number {
    return this.#processes.length;
  }

  warm(): void {
    for (const process of this.#processes) process.warm();
  }

  /** Runs work on the first free process; others wait in order. A process that died is started anew by its next use. */
  async use<T>(work: Work<T>): Promise<T> {
    let process = this.#free();
    while (!process) {
      await new Promise<void>((resolve) => this.#waiting.push(resolve));
      process = this.#free();
    }
    this.#taken.add(process);
    try {
      return await work(process);
    } finally {
      this.#taken.delete(process);
      this.#waiting.shift()?.();
    }
  }

  #free(): PlanProcess | undefined {
    return this.#processes.find((process) => !this.#taken.has(process));
  }

  close(): void {
    for (const process of this.#processes) process.kill("the server is closing");
  }
}

let lastId = 0;

/** Task ids, unique in this server process. */
export function nextTaskId(): number {
  return ++lastId;
}
