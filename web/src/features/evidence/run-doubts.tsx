/** Two questions to put to a run: can it be reproduced, and does it know only what it could? */
import type { LookAheadAnswer, RunEvidence, VerifyAnswer } from "@plan-tester/contract";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { useServerEvents } from "../../lib/events.ts";
import { number, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Popover } from "../../ui/popover.tsx";
import { Progress } from "../../ui/progress.tsx";

export interface RunDoubtsProps {
  readonly run: RunEvidence;
  readonly zone: string;
  readonly onLine: (line: number) => void;
}

export function RunDoubts({ run, zone, onLine }: RunDoubtsProps) {
  const verify = useMutation({ mutationFn: () => api.post<VerifyAnswer>(`/runs/${run.id}/verify`) });
  const [places, setPlaces] = useState({ done: 0, total: 0 });
  const look = useMutation({
    mutationFn: () => api.post<LookAheadAnswer>(`/runs/${run.id}/look-ahead`),
    onMutate: () => setPlaces({ done: 0, total: 0 }),
  });
  const stop = useMutation({
    mutationFn: () => api.post(`/runs/${run.id}/look-ahead/stop`),
    onError: (error) => toast.error(messageOf(error)),
  });
  useServerEvents((event) => {
    if (event.type === "run-progress" && event.id === run.id && look.isPending && event.total > 0)
      setPlaces({ done: event.done, total: event.total });
  });
  return (
    <Popover
      align="end"
      label="Checks of this run"
      className="flex w-96 flex-col gap-3"
      trigger={
        <Button variant="quiet" className="px-1.5 text-accent">
          Check
        </Button>
      }
    >
      <section className="flex flex-col gap-1">
        <div className="flex items-center justify-between">
          <h3 className="font-semibold">Verify</h3>
          <Button onClick={() => verify.mutate()} disabled={verify.isPending}>
            {verify.isPending ? "Running again …" : "Run again and compare"}
          </Button>
        </div>
        <p className="text-[13px] text-soft">Same plan, inputs, bars, settings and seed must give the same result to the last bit.</p>
        {verify.data ? <Verdict good={verify.data.same}>{verify.data.text}</Verdict> : null}
        {verify.error ? <Verdict good={false}>{messageOf(verify.error)}</Verdict> : null}
      </section>
      <section className="flex flex-col gap-1 border-rule border-t pt-3">
        <div className="flex items-center justify-between">
          <h3 className="font-semibold">Look-ahead</h3>
          {look.isPending ? (
            <Button onClick={() => stop.mutate()} disabled={stop.isPending}>
              Stop
            </Button>
          ) : (
            <Button onClick={() => look.mutate()}>Check look-ahead</Button>
          )}
        </div>
        <p className="text-[13px] text-soft">
          Runs again with other bars from some place on, at many places: nothing it did before may change.
        </p>
        {look.isPending ? (
          <div role="status" className="text-[13px] text-soft">
            {places.total > 0 ? `${number(places.done)} of ${number(places.total)} places` : "Running once to find where orders are sent …"}
            <Progress done={places.done} total={places.total} label="Look-ahead check" />
          </div>
        ) : null}
        {look.data ? <LookVerdict answer={look.data} zone={zone} onLine={onLine} /> : null}
        {look.error ? <Verdict good={false}>{messageOf(look.error)}</Verdict> : null}
      </section>
    </Popover>
  );
}

function Verdict({ good, children }: { readonly good: boolean; readonly children: ReactNode }) {
  return (
    <div role="status" className={`border-l-3 px-2 py-1 text-[13px] ${good ? "border-gain bg-gain-wash" : "border-loss bg-loss-wash"}`}>
      {children}
    </div>
  );
}

function LookVerdict({
  answer: { cuts, wanted, difference },
  zone,
  onLine,
}: { readonly answer: LookAheadAnswer } & Omit<RunDoubtsProps, "run">) {
  if (!difference && cuts.length < wanted)
    return (
      <Verdict good={false}>
        Stopped: compared at {number(cuts.length)} of {number(wanted)} places, the same so far. Later bars have not been looked at.
      </Verdict>
    );
  if (!difference)
    return <Verdict good>No look-ahead: compared at {number(cuts.length)} places, the same whatever comes after them.</Verdict>;
  const { what, timeMs, line, bars, whole, other } = difference;
  return (
    <Verdict good={false}>
      It sees ahead. The first {what} that differs is at {Number.isFinite(timeMs) ? timeAt(timeMs, zone) : `bar ${difference.barIndex}`}
      {line > 0 ? (
        <>
          , from{" "}
          <button type="button" className="underline underline-offset-3" onClick={() => onLine(line)}>
            line {line}
          </button>
        </>
      ) : null}
      .<span className="mt-1 block font-mono text-[11px] [overflow-wrap:anywhere]">as it is: {whole || "nothing"}</span>
      <span className="block font-mono text-[11px] [overflow-wrap:anywhere]">
        with another future after bar {(bars - 1).toLocaleString("en-GB")}: {other || "nothing"}
      </span>
    </Verdict>
  );
}
