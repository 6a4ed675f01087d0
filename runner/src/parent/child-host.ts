/**
 * A child process in which plans run, seen from the server: started with few privileges and hard limits. It has one thread,
 * or several that share bars and studies; each runs one plan at a time.
 */
import { type ChildProcess, spawn } from "node:child_process";
import type { BarSeries } from "@plan-tester/core";
import { HEAP_IS_FULL, type HeldBars, heldBarsOf, memoryWords } from "../memory.ts";
import { sendInPieces } from "../pieces.ts";
import type { DataMessage, FromChild, FromThread, SurrogateMessage, ToChild, ToThread } from "../protocol.ts";
import { childCommand } from "./child-command.ts";
import { limits } from "./limits.ts";

/** Sets of bars that the child keeps; a run on many instruments needs all of its bars at once. */
export const KEPT_KEYS = 14;
/** Young generation: what a variant allocates mostly dies with it; larger ones push the bars out of the caches. */
const YOUNG_MB = 8;

/** How long a loop of a plan may run without an end, milliseconds. */
const LOOP_MS = 5000;

/** How long a thread may take to end before its process is ended, milliseconds. */
const END_THREAD_MS = 3000;

/** Who uses a thread. */
export interface ThreadUser {
  received(message: FromChild): void;
  /** The thread has ended, by itself or with the whole process. */
  died(reason: string): void;
}

export class ChildHost {
  readonly threads: number;
  readonly #loopMs: number;
  readonly #users: ThreadUser[] = [];
  #child: ChildProcess | null = null;
  #keys: string[] = [];
  readonly #held = new Map<string, HeldBars>();
  /** Bars that are on their way. */
  readonly #sending = new Map<string, Promise<void>>();
  #killed = "";
  readonly #ending = new Map<number, NodeJS.Timeout>();

  /** @param loopMs longest time between two signs of life of a plan's own code */
  constructor(threads: number, loopMs = LOOP_MS) {
    this.#loopMs = loopMs;
    this.threads = threads;
  }

  /** Takes the next thread. */
  attach(user: ThreadUser): number {
    return this.#users.push(user) - 1;
  }

  get pid(): number | undefined {
    return this.#child?.pid;
  }

  start(): ChildProcess {
    if (this.#child) return this.#child;
    const { prefix, heapMb } = limits(this.threads);
    const { file, execArgv } = childCommand();
    const heap = [`--max-old-space-size=${heapMb}`, `--max-semi-space-size=${YOUNG_MB}`];
    const argv = [...prefix, process.execPath, ...heap, ...execArgv, file, String(this.threads), String(heapMb), String(YOUNG_MB)];
    const child = spawn(argv[0]!, argv.slice(1), {
      stdio: ["ignore", "ignore", "pipe", "ipc"],
      serialization: "advanced",
      env: { NODE_ENV: "production", LOOP_MS: String(this.#loopMs) },
    });
    let complaints = "";
    child.stderr?.on("data", (part: Buffer) => {
      complaints = (complaints + part.toString()).slice(-4000);
    });
    child.on("message", (message: FromThread) => {
      if (this.#child !== child) return;
      if ("died" in message) {
        clearTimeout(this.#ending.get(message.thread));
        this.#users[message.thread]?.died(message.died);
      } else this.#users[message.thread]?.received(message.message);
    });
    child.on("error", (error) => this.#died(child, error.message));
    child.on("exit", (code, signal) => this.#died(child, this.#killed || reasonOf(code, signal, complaints, this.#held.values())));
    this.#child = child;
    this.#keys = [];
    this.#held.clear();
    this.#sending.clear();
    this.#killed = "";
    return child;
  }

  #died(child: ChildProcess, reason: string): void {
    if (this.#child !== child) return;
    this.#child = null;
    for (const timer of this.#ending.values()) clearTimeout(timer);
    for (const user of this.#users) user.died(reason);
  }

  kill(reason: string): void {
    this.#killed = reason;
    this.#child?.kill("SIGKILL");
  }

  /** Ends one thread; the others go on, unless the process does not even do that. */
  endThread(thread: number, reason: string): void {
    const child = this.#child;
    if (!child || this.threads === 1) return this.kill(reason);
    const timer = setTimeout(() => this.#child === child && this.kill(reason), END_THREAD_MS);
    this.#ending.set(thread, timer);
    child.send({ thread, end: reason } satisfies ToThread, () => undefined);
  }

  post(thread: number, message: ToChild): void {
    const packed: ToThread = { thread, message };
    this.start().send(packed, () => undefined);
  }

  /** Sends bars unless the process holds them already; all of its threads get them. Settles when they are on their way. */
  async ensureData(thread: number, key: string, make: () => Omit<DataMessage, "type" | "key">): Promise<void> {
    const child = this.start();
    if (!this.#touch(key)) {
      const made = make();
      const sending = sendInPieces(key, made, (message) => this.#deliver(child, thread, message));
      this.#sending.set(key, sending);
      this.#hold(thread, key, made.series);
    }
    try {
      await this.#sending.get(key);
    } finally {
      this.#sending.delete(key);
    }
    // Case: it died on the way, and a new one knows nothing.
    if (this.#child !== child) await this.ensureData(thread, key, make);
  }

  /** The same of a market without memory: the process makes it of bars that are sent unless they are there. */
  async ensureSurrogate(thread: number, message: SurrogateMessage, make: () => Omit<DataMessage, "type" | "key">): Promise<void> {
    const { key, of } = message;
    if (this.#touch(key)) return;
    await this.ensureData(thread, of, make);
    // Case: another has had it made in the meantime, or the bars have gone again.
    if (this.#touch(key)) return;
    if (!this.#keys.includes(of)) return this.ensureSurrogate(thread, message, make);
    this.post(thread, message);
    this.#hold(thread, key, make().series);
  }

  /** Whether the process holds bars; they are the last then that it will be told to forget. */
  #touch(key: string): boolean {
    if (!this.#keys.includes(key)) return false;
    this.#keys = [...this.#keys.filter((known) => known !== key), key];
    return true;
  }

  #hold(thread: number, key: string, series: BarSeries): void {
    this.#keys.push(key);
    this.#held.set(key, heldBarsOf(series));
    // Said rather than left to each thread, which would not know what the others still use.
    if (this.#keys.length > KEPT_KEYS) this.#forget(thread, this.#keys.shift()!);
  }

  #forget(thread: number, key: string): void {
    this.#held.delete(key);
    this.post(thread, { type: "forget", key });
  }

  /** Settles when the message has gone out, or its process is gone. */
  #deliver(child: ChildProcess, thread: number, message: ToChild): Promise<void> {
    return new Promise((resolve) => {
      if (this.#child !== child || !child.connected) resolve();
      else child.send({ thread, message } satisfies ToThread, () => resolve());
    });
  }
}

function reasonOf(code: number | null, signal: NodeJS.Signals | null, complaints: string, held: Iterable<HeldBars>): string {
  // What runs out of its own heap says that it reached the limit; a process out of memory fails to commit a page.
  if (/heap limit/i.test(complaints)) return HEAP_IS_FULL;
  if (
    /heap out of memory|allocation failed|bad_alloc|Array buffer allocation/i.test(complaints) ||
    signal === "SIGABRT" ||
    signal === "SIGTRAP" ||
    code === 134
  )
    return memoryWords(held);
  return `its process ended (${signal ?? `exit code ${code}`})`;
}
