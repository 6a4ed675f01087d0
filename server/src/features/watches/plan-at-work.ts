/**
 * The process of a plan that is at work: it is told one word after the other, and each is answered in turn. What can bring
 * nothing about is told with the next word that may. One that hangs is ended.
 */
import type { LookedAt } from "@plan-tester/core";
import {
  type FromChild,
  type LiveFeedData,
  type LiveMode,
  type LiveStartMessage,
  type LiveWordMessage,
  nextTaskId,
  PlanProcess,
  type ToChild,
} from "@plan-tester/runner";

export type LiveAnswer = Extract<FromChild, { type: "live" }>;
export type LiveViewed = Extract<FromChild, { type: "live-viewed" }>;

/** Longer than the plan's own loop guard, which names the line. */
const SILENCE_MS = 15_000;
/** So many quiet words are told at once at most. */
const MOST_QUIET = 120;

interface Waiting {
  readonly resolve: (answer: LiveAnswer | null) => void;
  readonly sinceMs: number;
}

/** A word of the venue, with its age. */
type ToldWord = Omit<LiveWordMessage, "type" | "id" | "before">;

/** What a watch asks of whatever runs its plan. */
export interface WorkingPlan {
  wantsPrice: boolean;
  start(
    given: Omit<LiveStartMessage, "type" | "id" | "feeds">,
    feeds: (bars: number) => Promise<readonly LiveFeedData[]>,
  ): Promise<LiveAnswer | null>;
  /** @returns null where it has ended, or need not answer yet: nothing can come of the word */
  hear(given: ToldWord): Promise<LiveAnswer | null>;
  settle(orderId: number, isAccepted: boolean, note: string): Promise<LiveAnswer | null>;
  end(): Promise<LiveAnswer | null>;
  mode(mode: LiveMode): void;
  /** Bars with what the plan shows on them; null where it has ended. */
  view(lookedAt: LookedAt): Promise<LiveViewed | null>;
  /** Its end is nobody's concern any more. */
  silence(): void;
  kill(reason: string): void;
}

export class PlanAtWork implements WorkingPlan {
  readonly #process = new PlanProcess();
  readonly #task = nextTaskId();
  readonly #waiting: Waiting[] = [];
  /** Words that it has not been told, since nothing comes of them, and until when that is so. */
  #quiet: ToldWord[] = [];
  #quietUntilMs = Number.NEGATIVE_INFINITY;
  readonly #onEnd: (reason: string) => void;
  readonly #watchdog: NodeJS.Timeout;
  #looking: ((view: LiveViewed | null) => void)[] = [];
  #needs: ((bars: number) => void) | null = null;
  #isOver = false;
  /** Whether the plan acts on prices inside bars. */
  wantsPrice = false;

  /** @param onEnd told once, when the process ends by itself or is ended for its silence */
  constructor(onEnd: (reason: string) => void) {
    this.#onEnd = onEnd;
    this.#process.listen(
      (message) => this.#receive(message),
      (reason) => this.#end(reason),
    );
    this.#process.warm();
    this.#watchdog = setInterval(() => {
      const [first] = this.#waiting;
      if (first && performance.now() - first.sinceMs > SILENCE_MS) this.kill(`it gave no answer for ${SILENCE_MS / 1000} seconds`);
    }, 1000);
    this.#watchdog.unref();
  }

  #receive(message: FromChild): void {
    if (message.type === "live-needs") this.#needs?.(message.bars);
    else if (message.type === "live") {
      this.#quietUntilMs = message.quietUntilMs;
      this.#waiting.shift()?.resolve(message);
    } else if (message.type === "live-viewed") this.#looking.shift()?.(message);
    else if (message.type === "error") this.#end(message.message);
  }

  #end(reason: string): void {
    if (this.#isOver) return;
    this.silence();
    this.#onEnd(reason);
  }

  silence(): void {
    this.#isOver = true;
    this.#quiet = [];
    clearInterval(this.#watchdog);
    for (const { resolve } of this.#waiting.splice(0)) resolve(null);
    for (const resolve of this.#looking.splice(0)) resolve(null);
  }

  /** Ends the process. */
  kill(reason: string): void {
    this.#process.kill(reason);
    this.#end(reason);
  }

  #ask(message: ToChild): Promise<LiveAnswer | null> {
    if (this.#isOver) return Promise.resolve(null);
    return new Promise((resolve) => {
      this.#waiting.push({ resolve, sinceMs: performance.now() });
      this.#process.post(message);
    });
  }

  /**
   * Starts the plan.
   * @param feeds gives so many bars of history of each instrument; asked again where the plan needs more
   * @returns its first answer, or null where the process has ended
   */
  async start(
    given: Omit<LiveStartMessage, "type" | "id" | "feeds">,
    feeds: (bars: number) => Promise<readonly LiveFeedData[]>,
  ): Promise<LiveAnswer | null> {
    let wanted: ((bars: number) => void) | null = null;
    this.#needs = (bars) => wanted?.(bars);
    for (let bars = 3000; ; ) {
      const data = await feeds(bars);
      const more = new Promise<number>((resolve) => {
        wanted = resolve;
      });
      const answer = this.#ask({ type: "live-start", id: this.#task, ...given, feeds: data });
      const first = await Promise.race([answer, more]);
      if (typeof first !== "number") return first;
      // What it needs was its answer to this start.
      this.#waiting.shift();
      bars = first;
    }
  }

  hear(given: ToldWord): Promise<LiveAnswer | null> {
    const { type, timeMs } = given.word;
    const isQuiet = (type === "opening" || type === "closing") && timeMs < this.#quietUntilMs && this.#waiting.length === 0;
    if (!isQuiet) return this.#tell(given);
    this.#quiet.push(given);
    if (this.#quiet.length >= MOST_QUIET) this.#catchUp();
    return Promise.resolve(null);
  }

  #tell(given: ToldWord): Promise<LiveAnswer | null> {
    const before = this.#quiet.map(({ word }) => word);
    this.#quiet = [];
    return this.#ask({ type: "live-word", id: this.#task, before, ...given });
  }

  /** Tells what it has not been told: it is to be where the venue is. */
  #catchUp(): void {
    const last = this.#quiet.pop();
    if (!last) return;
    void this.#tell(last).then((answer) => {
      if (answer?.failure) this.kill(answer.failure.message);
    });
  }

  settle(orderId: number, isAccepted: boolean, note: string): Promise<LiveAnswer | null> {
    this.#catchUp();
    return this.#ask({ type: "live-settle", id: this.#task, orderId, isAccepted, note });
  }

  end(): Promise<LiveAnswer | null> {
    this.#catchUp();
    return this.#ask({ type: "live-end", id: this.#task });
  }

  view(lookedAt: LookedAt): Promise<LiveViewed | null> {
    if (this.#isOver) return Promise.resolve(null);
    this.#catchUp();
    return new Promise((resolve) => {
      this.#looking.push(resolve);
      this.#process.post({ type: "live-view", id: this.#task, lookedAt });
    });
  }

  mode(mode: LiveMode): void {
    if (!this.#isOver) this.#process.post({ type: "live-mode", id: this.#task, ...mode });
  }
}
