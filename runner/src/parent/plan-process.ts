/**
 * One place where plans run one at a time, in a process of its own or in a thread of one: watched, and replaced when it dies.
 * A plan that spins, explodes or exits ends its own work only.
 */
import { type PlanFailure, PlanTesterError } from "@plan-tester/core";
import type { DataMessage, FromChild, Surrogate, ToChild } from "../protocol.ts";
import { ChildHost } from "./child-host.ts";

/** Longest silence of a busy plan process, milliseconds. Longer than its own loop guard, which names the line. */
const SILENCE_MS = 12_000;
/** How long it may take to begin, on a machine that has much else to do. */
const START_MS = 60_000;

/** An error that a plan or its process caused. */
export class PlanProcessError extends PlanTesterError {
  readonly failure: PlanFailure | null;
  /** The process or its thread ended: where others run in the same process, theirs may be the fault. */
  readonly isLost: boolean;

  constructor(code: ConstructorParameters<typeof PlanTesterError>[0], message: string, failure: PlanFailure | null = null, isLost = false) {
    super(code, message, failure ? { ...failure } : {});
    this.failure = failure;
    this.isLost = isLost;
  }
}

/** What a task tells on the way, by the kind of message. */
export interface Hearing {
  readonly progress?: (message: Extract<FromChild, { type: "progress" }>) => void;
  readonly figures?: (message: Extract<FromChild, { type: "figures" }>) => void;
  readonly part?: (message: Extract<FromChild, { type: "part" }>) => void;
}

interface Task {
  readonly id: number;
  readonly onMessage: (message: FromChild) => boolean;
  readonly onDeath: (reason: string) => void;
}

export class PlanProcess {
  readonly #host: ChildHost;
  readonly #thread: number;
  readonly #silenceMs: number;
  #task: Task | null = null;
  #isReady = false;
  #timer: NodeJS.Timeout | null = null;
  #listener: ((message: FromChild) => void) | null = null;
  #onExit: ((reason: string) => void) | null = null;

  /**
   * @param host a process of its own, unless it is a thread of one that is shared
   * @param silenceMs longest time without a sign of life while it is busy
   */
  constructor(host = new ChildHost(1), silenceMs = SILENCE_MS) {
    this.#host = host;
    this.#silenceMs = silenceMs;
    this.#thread = host.attach({ received: (message) => this.#receive(message), died: (reason) => this.#died(reason) });
  }

  get busy(): boolean {
    return this.#task !== null;
  }

  get pid(): number | undefined {
    return this.#host.pid;
  }

  /** Starts the process ahead of need. */
  warm(): void {
    this.#host.start();
  }

  #receive(message: FromChild): void {
    this.#isReady = true;
    this.#watch();
    if (message.type === "ready") return;
    this.#listener?.(message);
    if (this.#task && "id" in message && message.id === this.#task.id && this.#task.onMessage(message)) this.#release();
  }

  #release(): void {
    this.#task = null;
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }

  #watch(): void {
    if (this.#timer) clearTimeout(this.#timer);
    if (!this.#task) return;
    const patienceMs = this.#isReady ? this.#silenceMs : START_MS;
    const reason = `it gave no sign of life for ${patienceMs / 1000} seconds`;
    this.#timer = setTimeout(() => this.#host.endThread(this.#thread, reason), patienceMs);
  }

  #died(reason: string): void {
    const task = this.#task;
    this.#isReady = false;
    this.#release();
    task?.onDeath(reason);
    this.#onExit?.(reason);
  }

  /** Ends the process, and with it what runs in its other threads. */
  kill(reason: string): void {
    this.#host.kill(reason);
  }

  post(message: ToChild): void {
    this.#host.post(this.#thread, message);
  }

  /** Sends bars unless the process holds them already. */
  ensureData(key: string, make: () => Omit<DataMessage, "type" | "key">): Promise<void> {
    return this.#host.ensureData(this.#thread, key, make);
  }

  /** Has a market without memory made of bars, which are sent ahead of it, unless the process holds it already. */
  ensureSurrogate(key: string, surrogate: Surrogate, make: () => Omit<DataMessage, "type" | "key">): Promise<void> {
    return this.#host.ensureSurrogate(this.#thread, { type: "surrogate", key, ...surrogate }, make);
  }

  /** For a live plan: every message it sends, and its end. */
  listen(onMessage: (message: FromChild) => void, onExit: (reason: string) => void): void {
    this.#listener = onMessage;
    this.#onExit = onExit;
  }

  /** Gives the process one task; settles with its last message. `hearing` gets those before it. */
  ask<T extends FromChild["type"]>(
    message: ToChild & { readonly id: number },
    last: T,
    hearing: Hearing = {},
  ): Promise<Extract<FromChild, { type: T }>> {
    if (this.#task) throw new PlanTesterError("conflict", "The plan process is busy.", {});
    return new Promise((resolve, reject) => {
      this.#task = {
        id: message.id,
        onMessage: (answer) => {
          if (answer.type === "progress") hearing.progress?.(answer);
          else if (answer.type === "figures") hearing.figures?.(answer);
          else if (answer.type === "part") hearing.part?.(answer);
          else if (answer.type === last) {
            resolve(answer as Extract<FromChild, { type: T }>);
            return true;
          } else if (answer.type === "error") {
            reject(new PlanProcessError(answer.code as "plan-error", answer.message, answer.failure));
            return true;
          }
          return false;
        },
        onDeath: (reason) => reject(new PlanProcessError("plan-error", `The plan was stopped: ${reason}.`, null, true)),
      };
      this.post(message);
      this.#watch();
    });
  }
}

/** Threads of one process, in which bars and studies are in memory that they share: for the variants of one plan. */
export function sharedThreads(count: number, silenceMs = SILENCE_MS): PlanProcess[] {
  const host = new ChildHost(count);
  return Array.from({ length: count }, () => new PlanProcess(host, silenceMs));
}
