/** Runs in the background: how many, how far, and where each has gone. A finished one says so and takes nothing away. */
import type { QueuedRun } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import { useServerEvents } from "../../data/events.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, number, signedMoney } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Popover } from "../../ui/popover.tsx";
import { Progress } from "../../ui/progress.tsx";

export function QueueButton() {
  const clearQueue = useChange("clearQueue");
  const stopRun = useChange("stopQueuedRun");
  const jobs = useQuery(queries.queue()).data ?? [];
  const known = useRef(new Map<string, string>());
  /** How far the active run is. */
  const [progress, setProgress] = useState({ id: "", done: 0, total: 0 });
  useServerEvents((event) => {
    if (event.type === "run-progress" && known.current.get(event.id) === "running") setProgress(event);
    if (event.type !== "queue") return;
    tellOfBatches(event.queue, known.current);
    for (const { id, state } of event.queue) known.current.set(id, state);
  });
  if (jobs.length === 0) return null;
  const open = jobs.filter(({ state }) => state === "waiting" || state === "running");
  return (
    <Popover
      align="end"
      label="Runs in the background"
      className="w-96"
      trigger={
        <button type="button" className="text-soft hover:text-ink">
          {open.length > 0 ? (
            <>
              Background: <strong className="text-ink">{count(open.length, "run")}</strong> left
            </>
          ) : (
            "Background: done"
          )}
        </button>
      }
    >
      <div className="flex items-center justify-between pb-1">
        <h2 className="font-semibold">Runs in the background</h2>
        <Button variant="quiet" onClick={() => void clearQueue.run()}>
          Clear what is done
        </Button>
      </div>
      <ul className="max-h-80 overflow-auto">
        {jobs.map((job) => (
          <li key={job.id} className="flex items-center gap-2 border-rule border-t py-1">
            <span className="min-w-0 flex-1">
              {job.state === "kept" || job.state === "stopped" ? (
                <Link to={`/runs/${job.id}`} className="block truncate font-semibold hover:underline">
                  {job.name}
                </Link>
              ) : (
                <span className="block truncate">{job.name}</span>
              )}
              {job.state === "running" && progress.id === job.id ? (
                <Progress done={progress.done} total={progress.total} label={job.name} />
              ) : null}
              {job.message ? <span className="block text-loss">{job.message}</span> : null}
            </span>
            <span className="text-soft">{job.netProfit === null ? job.state : signedMoney(job.netProfit)}</span>
            {job.state === "waiting" || job.state === "running" ? (
              <Button variant="danger" className="h-6" onClick={() => void stopRun.run({ id: job.id })}>
                Stop
              </Button>
            ) : null}
          </li>
        ))}
      </ul>
    </Popover>
  );
}

/** Says once of each batch, or of a run by itself, that it is over. */
function tellOfBatches(queue: readonly QueuedRun[], known: ReadonlyMap<string, string>): void {
  const isOpen = (state: string | undefined): boolean => state === "waiting" || state === "running";
  for (const batch of new Set(queue.map((job) => job.batch))) {
    const jobs = queue.filter((job) => job.batch === batch);
    if (jobs.some(({ state }) => isOpen(state)) || !jobs.some(({ id }) => isOpen(known.get(id)))) continue;
    const bad = jobs.filter(({ state }) => state === "failed").length;
    const text = jobs.length === 1 ? `“${jobs[0]!.name}” is done` : `${number(jobs.length)} runs are done`;
    toast(bad > 0 ? `${text}; ${number(bad)} failed` : text);
  }
}
