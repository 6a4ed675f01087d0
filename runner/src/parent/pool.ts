/** Places where plans run, by purpose: processes kept free for what the user waits for, and a thread a core for sweeps. */
import { PlanProcess, PlanProcessError, sharedThreads } from "./plan-process.ts";

type Work<T> = (process: PlanProcess) => Promise<T>;

export class ProcessPool {
  readonly #processes: PlanProcess[];
  readonly #waiting: (() => void)[] = [];
  readonly #taken = new Set<PlanProcess>();

  /** For work that was lost with a process in which other plans ran too. */
  readonly #alone: ProcessPool | null;

  /** @param shares whether all run in threads of one process, with bars and studies in shared memory: for one plan's variants. */
  constructor(size: number, shares = false) {
    const sharesMemory = shares && size > 1;
    this.#processes = sharesMemory ? sharedThreads(size) : Array.from({ length: size }, () => new PlanProcess());
    this.#alone = sharesMemory ? new ProcessPool(1) : null;
  }

  get size(): number {
    return this.#processes.length;
  }

  /** How many are at work. */
  get busy(): number {
    return this.#taken.size;
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
    } catch (error) {
      if (!this.#alone || this.#isClosed || !(error instanceof PlanProcessError && error.isLost)) throw error;
    } finally {
      this.#taken.delete(process);
      this.#waiting.shift()?.();
    }
    return this.#alone.use(work);
  }

  #free(): PlanProcess | undefined {
    return this.#processes.find((process) => !this.#taken.has(process));
  }

  #isClosed = false;

  close(): void {
    this.#isClosed = true;
    this.#alone?.close();
    for (const process of this.#processes) process.kill("the server is closing");
  }
}

let lastId = 0;

/** Task ids, unique in this server process. */
export function nextTaskId(): number {
  return ++lastId;
}
