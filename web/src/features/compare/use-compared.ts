/** The runs that are set side by side: by their ids, or all of a batch as they get done. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQueries, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { call } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";

export const MOST_COMPARED = 8;

export interface Compared {
  readonly ids: readonly string[];
  readonly runs: readonly RunEvidence[];
  readonly errors: readonly unknown[];
  /** Runs of the batch that are still to come. */
  readonly waiting: number;
}

export function useCompared(ids: readonly string[], batch: string): Compared {
  const queue = useQuery({ ...queries.queue(), enabled: batch !== "" }).data ?? [];
  const jobs = queue.filter((job) => job.batch === batch);
  const waiting = jobs.filter(({ state }) => state === "waiting" || state === "running").length;
  const kept = useQuery({ ...queries.batch(batch, jobs.length - waiting), enabled: batch !== "" }).data?.runs ?? [];
  // A batch is set side by side in the order in which it was asked for.
  const order = (id: string): number => jobs.findIndex((job) => job.id === id);
  const wanted = batch === "" ? ids : kept.map(({ id }) => id).sort((a, b) => order(a) - order(b));
  const shown = wanted.slice(0, MOST_COMPARED);
  useNoted(shown);
  const found = useQueries({ queries: shown.map((id) => queries.run(id)) });
  return {
    ids: shown,
    runs: found.flatMap(({ data }) => (data ? [data] : [])),
    errors: found.flatMap(({ error }) => (error ? [error] : [])),
    waiting,
  };
}

/** Runs that were set side by side are worth keeping: no rule clears them. */
function useNoted(ids: readonly string[]): void {
  const several = ids.length > 1 ? JSON.stringify(ids) : "";
  useEffect(() => {
    // A note that could not be written costs nothing that is on screen.
    if (several) void call("noteCompared", {}, { ids: JSON.parse(several) as string[] }).catch(() => undefined);
  }, [several]);
}
