/** What a sweep is doing: how far it is, how fast, how long it will take; or how it ended. */
import type { SweepDetail } from "@plan-tester/contract";
import { Square } from "lucide-react";
import { bytes, duration, number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { Progress } from "../../ui/progress.tsx";

/** What the server tells while a sweep is running. */
export interface LiveProgress {
  readonly done: number;
  readonly perSecond: number;
  readonly secondsLeft: number;
  readonly memoryBytes: number;
}

export interface SweepProgressProps {
  readonly sweep: SweepDetail;
  readonly live: LiveProgress | null;
  readonly onAct: (what: "pause" | "resume" | "stop") => void;
}

export function SweepProgress({ sweep, live, onAct }: SweepProgressProps) {
  if (sweep.status === "running")
    return (
      <>
        <div className="w-80 text-[13px] text-soft" role="status">
          {number(live?.done ?? sweep.done)} of {number(sweep.variants)}
          {live
            ? ` · ${number(live.perSecond, live.perSecond < 10 ? 1 : 0)} a second · ${duration(live.secondsLeft * 1000)} left · ${bytes(live.memoryBytes)}`
            : ""}
          <Progress done={live?.done ?? sweep.done} total={sweep.variants} label="Sweep" />
        </div>
        <Button onClick={() => onAct("pause")}>Pause</Button>
        <Button variant="danger" onClick={() => onAct("stop")}>
          <Square size={11} aria-hidden /> Stop
        </Button>
      </>
    );
  return (
    <span className="text-[13px] text-soft" data-testid="sweep-state">
      {sweep.status} · {number(sweep.done)} of {number(sweep.variants)} variants in {duration(sweep.elapsedMs)}
      {sweep.failed > 0 ? ` · ${number(sweep.failed)} failed` : ""}{" "}
      {sweep.status === "paused" ? (
        <Button variant="primary" onClick={() => onAct("resume")}>
          Go on
        </Button>
      ) : null}
    </span>
  );
}
