/**
 * One process that runs plans, seen from the server: started with few privileges and hard limits, watched, and replaced
 * when it dies. A plan that spins, explodes or exits ends its own work only.
 */
import { type ChildProcess, spawn } from "node:child_process";
import { type PlanFailure, PlanTesterError, type Trade } from "@plan-tester/core";
import type { DataMessage, FromChild, ToChild } from "../protocol.ts";
import { childCommand } from "./child-command.ts";
import { limits } from "./limits.ts";

/** Longest silence of a busy plan process, milliseconds. Longer than its own loop guard, which names the line. */
const SILENCE_MS = 12_000;
/** No more than the child keeps; a run on many instruments needs all of its bars at once. */
const KEPT_KEYS = 14;
/** Young generation: what a variant allocates mostly dies with it; larger ones push the bars out of the caches. */
const YOUNG_MB = 8;

/** An error that a plan or its process caused. */
export class PlanProcessError extends PlanTesterError {
  readonly failure: PlanFailure | null;

  constructor(code: ConstructorParameters<typeof PlanTesterError>[0], message: string, failure: PlanFailure | null = null) {
    super(code, message, failure ? { ...failure } : {});
    this.failure = failure;
  }
}

/** What a run had produced when its process died. */
export interface Remains {
  readonly done: number;
  readonly total: number;
  readonly trades: readonly Trade[];
  readonly equity: readonly Float64Array[];
}

interface Task {
  readonly id: number;
  readonly onMessage: (message: FromChild) => boolean;
  readonly onDeath: (reason: string) => void;
}

export class PlanProcess {
  #child: ChildProcess | null = null;
  #task: Task | null = null;
  #timer: NodeJS.Timeout | null = null;
  #keys: string[] = [];
  #killed = "";
  #listener: ((message: FromChild) => void) | null = null;
  #onExit: ((reason: string) => void) | null = null;

  get busy(): boolean {
    return this.#task !== null;
  }

  get pid(): number | undefined {
    return this.#child?.pid;
  }

  /** Starts the process ahead of need. */
  warm(): void {
    this.#start();
  }

  #start(): ChildProcess {
    if (this.#child) return this.#child;
    const { prefix, heapMb } = limits();
    const { file, execArgv } = childCommand();
    const argv = [...prefix, process.execPath, `--max-old-space-size=${heapMb}`, `--max-semi-space-size=${YOUNG_MB}`, ...execArgv, file];
    const child = spawn(argv[0]!, argv.slice(1), {
      stdio: ["ignore", "ignore", "pipe", "ipc"],
      serialization: "advanced",
      env: { NODE_ENV: "production" },
    });
    let complaints = "";
    child.stderr?.on("data", (part: Buffer) => {
      complaints = (complaints + part.toString()).slice(-4000);
    });
    child.on("message", (message: FromChild) => this.#receive(message));
    child.on("error", (error) => this.#died(child, error.message));
    child.on("exit", (code, signal) => this.#died(child, this.#killed || reasonOf(code, signal, complaints)));
    this.#child = child;
    this.#keys = [];
    this.#killed = "";
    return child;
  }

  #receive(message: FromChild): void {
    if (message.type === "ready") return;
    this.#watch();
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
    this.#timer = setTimeout(() => this.kill(`it gave no sign of life for ${SILENCE_MS / 1000} seconds`), SILENCE_MS);
  }

  #died(child: ChildProcess, reason: string): void {
    if (this.#child !== child) return;
    this.#child = null;
    const task = this.#task;
    this.#release();
    task?.onDeath(reason);
    this.#onExit?.(reason);
  }

  kill(reason: string): void {
    this.#killed = reason;
    this.#child?.kill("SIGKILL");
  }

  post(message: ToChild): void {
    this.#start().send(message, () => undefined);
  }

  /** Sends bars unless the process holds them already. */
  ensureData(key: string, make: () => Omit<DataMessage, "type" | "key">): void {
    this.#start();
    if (this.#keys.includes(key)) {
      this.#keys = [...this.#keys.filter((known) => known !== key), key];
      return;
    }
    this.post({ type: "data", key, ...make() });
    this.#keys = [...this.#keys, key].slice(-KEPT_KEYS);
  }

  /** For a live plan: every message it sends, and its end. */
  listen(onMessage: (message: FromChild) => void, onExit: (reason: string) => void): void {
    this.#listener = onMessage;
    this.#onExit = onExit;
  }

  /** Gives the process one task; settles with its last message. `onProgress` gets those before it. */
  ask<T extends FromChild["type"]>(
    message: ToChild & { readonly id: number },
    last: T,
    onProgress?: (message: Extract<FromChild, { type: "progress" }>) => void,
  ): Promise<Extract<FromChild, { type: T }>> {
    if (this.#task) throw new PlanTesterError("conflict", "The plan process is busy.", {});
    return new Promise((resolve, reject) => {
      this.#task = {
        id: message.id,
        onMessage: (answer) => {
          if (answer.type === "progress") {
            onProgress?.(answer);
            return false;
          }
          if (answer.type === last) resolve(answer as Extract<FromChild, { type: T }>);
          else if (answer.type === "error") reject(new PlanProcessError(answer.code as "plan-error", answer.message, answer.failure));
          else return false;
          return true;
        },
        onDeath: (reason) => reject(new PlanProcessError("plan-error", `The plan was stopped: ${reason}.`)),
      };
      this.post(message);
      this.#watch();
    });
  }
}

function reasonOf(code: number | null, signal: NodeJS.Signals | null, complaints: string): string {
  if (
    /heap out of memory|allocation failed|bad_alloc|Array buffer allocation/i.test(complaints) ||
    signal === "SIGABRT" ||
    signal === "SIGTRAP" ||
    code === 134
  )
    return "it took more memory than a plan may have. Keep less per bar: rolling values rather than growing lists";
  return `its process ended (${signal ?? `exit code ${code}`})`;
}
