import type { BatchRequest } from "@plan-tester/contract";
import { useChange } from "../../data/use-change.ts";

/** Sends runs to the background. Gives the name of the batch; null when it was refused, which has been said then. */
export function useStartBatch(): (request: BatchRequest) => Promise<string | null> {
  const queueRuns = useChange("queueRuns");
  return async (request) => (await queueRuns.run({}, request))?.reply.batch ?? null;
}
