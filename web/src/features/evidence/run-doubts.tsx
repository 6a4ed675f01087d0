/** Two questions to put to a run: can it be reproduced, and does it know only what it could? */
import type { LookAheadAnswer, RunEvidence } from "@plan-tester/contract";
import { type ReactNode, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { useServerEvents } from "../../data/events.ts";
import { useChange } from "../../data/use-change.ts";
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
  const { id } = run;
  const verify = useChange("verifyRun", { shows: true });
  const [places, setPlaces] = useState({ done: 0, total: 0 });
  const look = useChange("checkLookAhead", { shows: true });
  const stop = useChange("stopLookAhead");
  const startLook = (): void => {
    setPlaces({ done: 0, total: 0 });
    void look.run({ id });
  };
  useServerEvents((event) => {
    if (event.type === "run-progress" && event.id === run.id && look.isRunning && event.total > 0)
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
          <Button onClick={() => void verify.run({ id })} disabled={verify.isRunning}>
            {verify.isRunning ? "Running again …" : "Run again and compare"}
          </Button>
        </div>
        <p className="text-[13px] text-soft">Same plan, inputs, bars, settings and seed must give the same result to the last bit.</p>
        {verify.reply ? <Verdict good={verify.reply.same}>{verify.reply.text}</Verdict> : null}
        {verify.error ? <Verdict good={false}>{messageOf(verify.error)}</Verdict> : null}
      </section>
      <section className="flex flex-col gap-1 border-rule border-t pt-3">
        <div className="flex items-center justify-between">
          <h3 className="font-semibold">Look-ahead</h3>
          {look.isRunning ? (
            <Button onClick={() => void stop.run({ id })} disabled={stop.isRunning}>
              Stop
            </Button>
          ) : (
            <Button onClick={() => startLook()}>Check look-ahead</Button>
          )}
        </div>
        <p className="text-[13px] text-soft">
          Runs again with other bars from some place on, at many places: nothing it did before may change.
        </p>
        {look.isRunning ? (
          <div role="status" className="text-[13px] text-soft">
            {places.total > 0 ? `${number(places.done)} of ${number(places.total)} places` : "Running once to find where orders are sent …"}
            <Progress done={places.done} total={places.total} label="Look-ahead check" />
          </div>
        ) : null}
        {look.reply ? <LookVerdict answer={look.reply} zone={zone} onLine={onLine} /> : null}
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
