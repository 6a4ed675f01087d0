/** What stood in the way of a trade where one was marked: on the mark's bar, and on the bar before it, at whose close an entry at its open is decided. */
import type { RunEvidence } from "@plan-tester/contract";
import { lowerBound, type Mark } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { useStrips } from "../run-view/use-strips.ts";
import type { EvidenceData } from "../run-view/view.ts";
import { whyNoTrade } from "../stepper/why.ts";

export interface MissedMarkProps {
  readonly run: RunEvidence;
  readonly data: EvidenceData;
  readonly mark: Mark;
  readonly onStep: (bar: number) => void;
}

export function MissedMark({ run, data, mark, onStep }: MissedMarkProps) {
  const { time, high, low } = data.bars;
  const bar = Math.max(0, lowerBound(time, mark.entryMs + 1) - 1);
  const from = Math.max(0, bar - 1);
  const { strips } = useStrips(run, true);
  const steps = useQuery(queries.runSteps(run.id, from, bar));
  if (steps.error) return <p className="text-loss">{messageOf(steps.error)}</p>;
  if (!steps.data) return <p className="text-soft">looking into the run …</p>;
  const looked = from === bar ? [bar] : [from, bar];
  return (
    <div className="flex flex-col gap-1 border-accent border-l-3 py-1 pl-3">
      {looked.map((barIndex) => (
        <div key={barIndex}>
          <p className="text-soft">
            {timeAt(time[barIndex]!, data.zone)}
            {barIndex === bar ? ", the mark's bar" : ", the bar before"}
          </p>
          <ul>
            {whyNoTrade({ barIndex, firstBar: run.firstBar, high: high[barIndex]!, low: low[barIndex]!, steps: steps.data, strips }).map(
              ({ text, line }) => (
                <li key={`${line} ${text}`}>{text}</li>
              ),
            )}
          </ul>
        </div>
      ))}
      <p>
        <Button variant="quiet" onClick={() => onStep(bar)}>
          Step through the run here
        </Button>
      </p>
    </div>
  );
}
