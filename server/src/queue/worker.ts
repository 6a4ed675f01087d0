/** A worker: takes batches of sweeps from the queue and runs them on this machine's cores. `npm run worker`. */
import { cpus } from "node:os";
import type { DataSet, FeedData } from "@plan-tester/runner";
import { limits, ProcessPool, sweepPlan } from "@plan-tester/runner";
import { Worker } from "bullmq";
import { Redis } from "ioredis";
import {
  barsKey,
  LOCK_MS,
  LOOK_EVERY_MS,
  MOST_TAKEN_OVER,
  type Parcel,
  pack,
  QUEUE,
  type QueuedBatch,
  sentKeyOf,
  unpack,
  unpackBars,
} from "./protocol.ts";

/** Sets of bars that a worker keeps; a plan process keeps a few fewer. */
const MOST_BARS = 24;

const url = process.env.PLAN_TESTER_QUEUE;
if (!url) {
  console.error("Set PLAN_TESTER_QUEUE to the address of the queue, e.g. redis://192.168.1.20:6379.");
  process.exit(2);
}
const cores = Number(process.env.PLAN_TESTER_CORES ?? cpus().length);
const redis = new Redis(url, { maxRetriesPerRequest: null });
const pool = new ProcessPool(Math.max(1, cores), true);
const known = new Map<string, Promise<DataSet>>();

function barsOf(key: string): Promise<DataSet> {
  const found = known.get(key) ?? fetchBars(key);
  known.delete(key);
  known.set(key, found);
  found.catch(() => known.delete(key));
  if (known.size > MOST_BARS) known.delete(known.keys().next().value!);
  return found;
}

async function fetchBars(key: string): Promise<DataSet> {
  const bytes = await redis.getBuffer(barsKey(key));
  if (!bytes) throw new Error(`The queue does not hold the bars "${key}" any more.`);
  return unpackBars(key, bytes);
}

async function carryOut(parcel: Parcel): Promise<Parcel> {
  const { stretches, ...batch } = unpack<QueuedBatch>(parcel);
  const feeds = await Promise.all(
    stretches.map((keys) =>
      Promise.all(
        keys.map(async (feed): Promise<FeedData> => {
          const { instrument, key, surrogate } = feed;
          const bars = await barsOf(sentKeyOf(feed));
          return { instrument, data: surrogate ? { ...bars, key, surrogate } : bars };
        }),
      ),
    ),
  );
  return pack(await pool.use((process) => sweepPlan(process, { ...batch, stretches: feeds })));
}

const worker = new Worker<Parcel, Parcel>(QUEUE, async ({ data }) => carryOut(data), {
  connection: redis,
  concurrency: pool.size,
  lockDuration: LOCK_MS,
  stalledInterval: LOOK_EVERY_MS,
  maxStalledCount: MOST_TAKEN_OVER,
  // Seconds that it waits for a batch before it looks whether it should end.
  drainDelay: 1,
});
worker.on("ready", () => console.log(`Working on ${url.replace(/\/\/.*@/, "//")} with ${pool.size} cores. Stop with Ctrl+C.`));
worker.on("error", (error) => console.error(error.message));
if (limits().notice) console.error(limits().notice);

async function close(): Promise<void> {
  // What it has begun is finished first; the rest is for others.
  await worker.close();
  pool.close();
  redis.disconnect();
  process.exit(0);
}
process.on("SIGINT", () => void close());
process.on("SIGTERM", () => void close());
