/** The luck test: begun, paused and gone on with; what luck found as a strip of ticks with the sweep's own best. */
import type { LuckTest } from "@plan-tester/contract";
import { luckOf } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useServerEvents } from "../../data/events.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, duration, number } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { LuckStrip } from "../../ui/luck-strip.tsx";
import { Progress } from "../../ui/progress.tsx";
import { LEAST_MARKETS } from "./trust-words.ts";

const MANY = 99;

export function LuckPart({ sweepId, test }: { readonly sweepId: string; readonly test: LuckTest | null }) {
  const start = useChange("startLuck");
  const pause = useChange("pauseLuck");
  const [share, setShare] = useState(0);
  useServerEvents((event) => {
    if (event.type === "luck" && event.id === sweepId) setShare(event.share);
  });
  const id = sweepId;
  const done = test?.ratios.length ?? 0;
  const isRunning = test?.status === "running";
  const left = test && isRunning && done > 0 ? ((test.asked - done - share) * test.elapsedMs) / done : null;
  return (
    <div className="flex flex-col gap-2">
      {test && done > 0 ? <LuckStrip best={test.best} ratios={test.ratios} of="this sweep" /> : null}
      {test?.error ? <p className="text-loss">{test.error}</p> : null}
      <div className="flex flex-wrap items-center gap-3">
        {isRunning ? (
          <>
            <div className="w-80 text-[13px] text-soft" role="status" data-testid="luck-progress">
              market {Math.min(test.asked, done + 1)} of {test.asked}
              {left === null ? "" : ` · ${duration(left)} left`}
              <Progress done={done + share} total={test.asked} label="Luck test" />
            </div>
            <Button onClick={() => void pause.run({ id })}>Pause</Button>
          </>
        ) : (
          <>
            {done < LEAST_MARKETS || test?.status === "paused" || test?.status === "failed" ? (
              <Button
                variant={done === 0 ? "primary" : "plain"}
                disabled={start.isRunning}
                onClick={() => void start.run({ id }, { markets: done < LEAST_MARKETS ? LEAST_MARKETS : MANY })}
              >
                {done === 0 ? `Run the luck test on ${LEAST_MARKETS} markets` : "Go on"}
              </Button>
            ) : null}
            {done >= LEAST_MARKETS && done < MANY && test?.status === "complete" ? (
              <Button disabled={start.isRunning} onClick={() => void start.run({ id }, { markets: MANY })}>
                Make it {MANY}
              </Button>
            ) : null}
            {done > 0 && test ? (
              <span className="text-[13px] text-soft" data-testid="luck-state">
                {test.status} · {count(done, "market")} in {duration(test.elapsedMs)}
              </span>
            ) : (
              <span className="max-w-xl text-[13px] text-soft">
                The whole search again on markets made from these bars by coins: sizes of moves, hours and costs stay, every dependence of
                direction on the past goes. Each takes as long as the sweep.
              </span>
            )}
          </>
        )}
      </div>
    </div>
  );
}

/** In the sweep's head: what is left of the best ratio when what luck finds is taken off; nothing before a test was made. */
export function RatioToExpect({ sweepId, isDone }: { readonly sweepId: string; readonly isDone: boolean }) {
  const { data } = useQuery({ ...queries.luck(sweepId), enabled: isDone });
  const found = data && luckOf(data.best, data.ratios);
  if (!found || !data) return null;
  return (
    <span className="ml-auto text-[13px] text-soft" data-testid="ratio-to-expect">
      best ratio {number(data.best, 1)}, of which luck finds {number(found.luck, 1)}: expect <strong>{number(found.expected, 1)}</strong>
    </span>
  );
}
