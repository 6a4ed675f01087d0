import { Square } from "lucide-react";
import { duration, number } from "../../lib/format.ts";
import { Button, Key } from "../../ui/button.tsx";
import { Progress } from "../../ui/progress.tsx";
import type { Running } from "../drafts/use-runner.ts";
import type { AutoRun } from "./use-auto-run.ts";

/** Run, or while running: how far, how fast, how long still, and stop. */
export function RunButton({
  running,
  autoRun,
  onRun,
  onStop,
}: {
  readonly running: Running | null;
  readonly autoRun: AutoRun;
  readonly onRun: () => void;
  readonly onStop: () => void;
}) {
  if (!running)
    return (
      <div className="flex items-center gap-2">
        <label className="flex items-center gap-1 text-[12px] text-soft" title="Run on each pause in typing">
          <input type="checkbox" checked={autoRun.isOn} onChange={autoRun.toggle} /> run as I type
        </label>
        <Button variant="primary" onClick={onRun} className="h-8 px-3 text-[14px]">
          Run <Key>Ctrl ↵</Key>
        </Button>
      </div>
    );
  const seconds = (performance.now() - running.startedMs) / 1000;
  const rate = running.done / Math.max(seconds, 0.001);
  return (
    <div className="flex items-center gap-2">
      <div className="w-44 text-[12px] text-soft" role="status">
        {running.total > 0 ? (
          <>
            {number(running.done)} of {number(running.total)} bars · {duration(((running.total - running.done) / Math.max(rate, 1)) * 1000)}{" "}
            left
            <Progress done={running.done} total={running.total} label="Run" />
          </>
        ) : (
          "Running …"
        )}
      </div>
      <Button variant="danger" onClick={onStop}>
        <Square size={11} aria-hidden /> Stop
      </Button>
    </div>
  );
}
