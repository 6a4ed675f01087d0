/**
 * A child process in which plans run, seen from the server: started with few privileges and hard limits. It has one lane,
 * or several in threads that share bars and studies; each lane runs one plan at a time.
 */
import { type ChildProcess, spawn } from "node:child_process";
import { HEAP_IS_FULL, type HeldBars, heldBarsOf, memoryWords } from "../memory.ts";
import { sendInPieces } from "../pieces.ts";
import type { DataMessage, FromChild, FromLane, ToChild, ToLane } from "../protocol.ts";
import { childCommand } from "./child-command.ts";
import { limits } from "./limits.ts";

/** Sets of bars that the child keeps; a run on many instruments needs all of its bars at once. */
const KEPT_KEYS = 14;
/** Young generation: what a variant allocates mostly dies with it; larger ones push the bars out of the caches. */
const YOUNG_MB = 8;

/** How long a loop of a plan may run without an end, milliseconds. */
const LOOP_MS = 5000;

/** How long a lane may take to end before its process is ended, milliseconds. */
const END_LANE_MS = 3000;

/** Who uses a lane. */
export interface LaneUser {
  received(message: FromChild): void;
  /** The lane has ended, by itself or with the whole process. */
  died(reason: string): void;
}

export class ChildHost {
  readonly lanes: number;
  readonly #loopMs: number;
  readonly #users: LaneUser[] = [];
  #child: ChildProcess | null = null;
  #keys: string[] = [];
  readonly #held = new Map<string, HeldBars>();
  /** Bars that are on their way. */
  readonly #sending = new Map<string, Promise<void>>();
  #killed = "";
  readonly #ending = new Map<number, NodeJS.Timeout>();

  /** @param loopMs longest time between two signs of life of a plan's own code */
  constructor(lanes: number, loopMs = LOOP_MS) {
    this.#loopMs = loopMs;
    this.lanes = lanes;
  }

  /** Takes the next lane. */
  attach(user: LaneUser): number {
    return this.#users.push(user) - 1;
  }

  get pid(): number | undefined {
    return this.#child?.pid;
  }

  start(): ChildProcess {
    if (this.#child) return this.#child;
    const { prefix, heapMb } = limits(this.lanes);
    const { file, execArgv } = childCommand();
    const heap = [`--max-old-space-size=${heapMb}`, `--max-semi-space-size=${YOUNG_MB}`];
    const argv = [...prefix, process.execPath, ...heap, ...execArgv, file, String(this.lanes), String(heapMb), String(YOUNG_MB)];
    const child = spawn(argv[0]!, argv.slice(1), {
      stdio: ["ignore", "ignore", "pipe", "ipc"],
      serialization: "advanced",
      env: { NODE_ENV: "production", LOOP_MS: String(this.#loopMs) },
    });
    let complaints = "";
    child.stderr?.on("data", (part: Buffer) => {
      complaints = (complaints + part.toString()).slice(-4000);
    });
    child.on("message", (message: FromLane) => {
      if (this.#child !== child) return;
      if ("died" in message) {
        clearTimeout(this.#ending.get(message.lane));
        this.#users[message.lane]?.died(message.died);
      } else this.#users[message.lane]?.received(message.message);
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

  /** Ends one lane; the others go on, unless the process does not even do that. */
  endLane(lane: number, reason: string): void {
    const child = this.#child;
    if (!child || this.lanes === 1) return this.kill(reason);
    const timer = setTimeout(() => this.#child === child && this.kill(reason), END_LANE_MS);
    this.#ending.set(lane, timer);
    child.send({ lane, end: reason } satisfies ToLane, () => undefined);
  }

  post(lane: number, message: ToChild): void {
    const packed: ToLane = { lane, message };
    this.start().send(packed, () => undefined);
  }

  /** Sends bars unless the process holds them already; all of its lanes get them. Settles when they are on their way. */
  async ensureData(lane: number, key: string, make: () => Omit<DataMessage, "type" | "key">): Promise<void> {
    const child = this.start();
    if (this.#keys.includes(key)) this.#keys = [...this.#keys.filter((known) => known !== key), key];
    else {
      this.#keys.push(key);
      const made = make();
      this.#held.set(key, heldBarsOf(made.series));
      const sending = sendInPieces(key, made, (message) => this.#deliver(child, lane, message));
      this.#sending.set(key, sending);
      // Said rather than left to each lane, which would not know what the others still use.
      if (this.#keys.length > KEPT_KEYS) this.#forget(lane, this.#keys.shift()!);
    }
    try {
      await this.#sending.get(key);
    } finally {
      this.#sending.delete(key);
    }
    // Case: it died on the way, and a new one knows nothing.
    if (this.#child !== child) await this.ensureData(lane, key, make);
  }

  #forget(lane: number, key: string): void {
    this.#held.delete(key);
    this.post(lane, { type: "forget", key });
  }

  /** Settles when the message has gone out, or its process is gone. */
  #deliver(child: ChildProcess, lane: number, message: ToChild): Promise<void> {
    return new Promise((resolve) => {
      if (this.#child !== child || !child.connected) resolve();
      else child.send({ lane, message } satisfies ToLane, () => resolve());
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
