/** Runs a plan: one at a time, with progress and a stop that keeps what is done. */
import type { FirstFigures, RunEvidence, RunRequestBody } from "@plan-tester/contract";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { ApiFailure, call } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { queries } from "../../data/queries.ts";
import { drafts } from "./drafts.ts";

export interface Running {
  readonly id: string;
  readonly startedMs: number;
  readonly done: number;
  readonly total: number;
  /** What it came to, as soon as that is known: the rest of its evidence follows. */
  readonly figures: FirstFigures | null;
}

export interface Runner {
  readonly running: Running | null;
  readonly failure: ApiFailure | null;
  readonly run: (request: Omit<RunRequestBody, "id">) => Promise<RunEvidence | null>;
  readonly stop: () => void;
}

export function useRunner(): Runner {
  const [running, setRunning] = useState<Running | null>(null);
  const [failure, setFailure] = useState<ApiFailure | null>(null);
  const current = useRef<string | null>(null);
  const client = useQueryClient();

  useServerEvents((event) => {
    if (event.type === "run-progress" && event.id === current.current) {
      const { done, total } = event;
      setRunning((known) => known && { ...known, done, total });
    } else if (event.type === "run-figures" && event.id === current.current) {
      const { figures, benchmarkFigures } = event;
      setRunning((known) => known && { ...known, figures: { figures, benchmarkFigures } });
    }
  });

  const stop = useCallback((): void => {
    if (current.current) void call("stopRun", { id: current.current }).catch(() => undefined);
  }, []);

  const run = useCallback(
    async (request: Omit<RunRequestBody, "id">): Promise<RunEvidence | null> => {
      if (current.current) return null;
      const id = crypto.randomUUID().slice(0, 13);
      current.current = id;
      drafts.yieldToRun(request.planId);
      setRunning({ id, startedMs: performance.now(), done: 0, total: 0, figures: null });
      setFailure(null);
      try {
        const evidence = await call("createRun", {}, { ...request, id });
        client.setQueryData(queries.run(id).queryKey, evidence);
        client.setQueryData(queries.lastDraft(request.planId).queryKey, { runId: id });
        return evidence;
      } catch (error) {
        setFailure(error instanceof ApiFailure ? error : new ApiFailure("unavailable", String(error)));
        return null;
      } finally {
        current.current = null;
        setRunning(null);
      }
    },
    [client],
  );
  return { running, failure, run, stop };
}
