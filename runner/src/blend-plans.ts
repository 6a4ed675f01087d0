/** Runs several plans on one account, in one plan process. */
import { type AccountLimits, type EngineSettings, type InputValues, PlanTesterError } from "@plan-tester/core";
import { KEPT_KEYS } from "./parent/child-host.ts";
import type { PlanProcess } from "./parent/plan-process.ts";
import { nextTaskId } from "./parent/pool.ts";
import { ensureFeeds, type FeedData, keyed, type RunControl } from "./run-plan.ts";

export interface BlendRequest {
  readonly cash: number;
  readonly limits: AccountLimits | null;
  readonly members: readonly {
    readonly runId: string;
    /** For messages. */
    readonly name: string;
    readonly source: string;
    readonly inputs: InputValues;
    readonly settings: EngineSettings;
    readonly feeds: readonly FeedData[];
    /** Account money for one of the member's own. */
    readonly rate: number;
  }[];
}

/**
 * A stop by `signal` gives what was done.
 * @returns packed columns in pieces: `BlendRunMeta`, then equity and times of each member
 * @throws PlanTesterError limit when they need more bars than a process keeps; PlanProcessError when a plan can't be read, or the process dies.
 */
export async function blendPlans(
  process: PlanProcess,
  { cash, limits, members }: BlendRequest,
  { onProgress, signal }: RunControl = {},
): Promise<readonly Uint8Array[]> {
  const id = nextTaskId();
  const sets = new Set(members.flatMap(({ feeds }) => feeds.map(({ data }) => data.key))).size;
  if (sets > KEPT_KEYS)
    throw new PlanTesterError(
      "limit",
      `A joint run reads ${KEPT_KEYS} sets of bars at most, and these members need ${sets}. Leave some out, or run them on the same instrument, timeframe and period.`,
      { sets },
    );
  for (const { feeds } of members) await ensureFeeds(process, feeds);
  const pieces: Uint8Array[] = [];
  const stop = (): void => process.post({ type: "stop", id });
  if (signal?.aborted) stop();
  signal?.addEventListener("abort", stop, { once: true });
  try {
    await process.ask(
      { type: "blend", id, cash, limits, members: members.map(({ feeds, ...rest }) => ({ ...rest, feeds: feeds.map(keyed) })) },
      "blended",
      { part: ({ bytes }) => pieces.push(bytes), progress: ({ done, total }) => total > 0 && onProgress?.(done, total) },
    );
    return pieces;
  } finally {
    signal?.removeEventListener("abort", stop);
  }
}
