/** Carries batches of sweeps to workers on other machines, over a queue on Redis. */
import { PlanTesterError } from "@plan-tester/core";
import type { FeedData, SweepAnswer, SweepBatch, SweepExecutor } from "@plan-tester/runner";
import { Queue, QueueEvents } from "bullmq";
import { Redis } from "ioredis";
import { BARS_KEPT, barsKey, type Parcel, pack, packBars, QUEUE, type QueuedBatch, sentKeyOf, unpack } from "./protocol.ts";

/** Batches in the queue at once: enough for the cores of several machines. */
const THREADS = 16;
/** Bars are looked for again after so long, since the queue forgets them in time. */
const SURE_MS = 60_000;
const MOST_SENT = 500;

export class QueueExecutor implements SweepExecutor {
  readonly threads = THREADS;
  readonly #redis: Redis;
  readonly #queue: Queue<Parcel, Parcel>;
  readonly #events: QueueEvents;
  /** When the queue was last seen to hold bars. */
  readonly #sent = new Map<string, Promise<number>>();

  constructor(url: string) {
    this.#redis = new Redis(url, { maxRetriesPerRequest: null });
    this.#queue = new Queue(QUEUE, { connection: this.#redis });
    this.#events = new QueueEvents(QUEUE, { connection: this.#redis.duplicate() });
    // Every batch that is waited for listens to both.
    for (const emitter of [this.#queue, this.#events]) emitter.setMaxListeners(4 * THREADS);
  }

  /** @throws PlanTesterError unavailable when the queue can't be reached or nobody works on it. */
  async ready(): Promise<void> {
    await this.#events.waitUntilReady();
    if ((await this.#queue.getWorkersCount()) === 0)
      throw new PlanTesterError(
        "unavailable",
        "No worker is connected to the queue, so nobody would run this. Start one with: npm run worker",
        {},
      );
  }

  async execute({ source, variants, kits = null, stretches, settings, dailyOf = [] }: SweepBatch): Promise<SweepAnswer> {
    await Promise.all(stretches.flat().map((feed) => this.#send(feed)));
    const keys = stretches.map((feeds) =>
      feeds.map(({ instrument, data: { key, surrogate } }) => ({ instrument, key, ...(surrogate && { surrogate }) })),
    );
    const batch: QueuedBatch = { source, variants, kits, settings, dailyOf, stretches: keys };
    const job = await this.#queue.add("batch", pack(batch), { removeOnComplete: { age: 600 }, removeOnFail: { age: 600 } });
    return unpack<SweepAnswer>(await job.waitUntilFinished(this.#events));
  }

  /** Puts bars where workers find them, unless they are there. */
  async #send({ data }: FeedData): Promise<void> {
    const key = sentKeyOf(data);
    const known = await this.#sent.get(key);
    if (known !== undefined && performance.now() - known < SURE_MS) return;
    // Each window of a walk-forward has bars of its own.
    if (this.#sent.size >= MOST_SENT) this.#sent.clear();
    const sending = this.#put(data);
    this.#sent.set(key, sending);
    sending.catch(() => this.#sent.delete(key));
    await sending;
  }

  async #put(data: FeedData["data"]): Promise<number> {
    const key = barsKey(sentKeyOf(data));
    if ((await this.#redis.expire(key, BARS_KEPT)) === 0) await this.#redis.set(key, packBars(data), "EX", BARS_KEPT);
    return performance.now();
  }

  async close(): Promise<void> {
    await this.#events.close();
    await this.#queue.close();
    this.#redis.disconnect();
  }
}
