import type { RunEvidence } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { Button } from "../../ui/button.tsx";
import { draftDifferences } from "../drafts/draft-differences.ts";
import type { Draft } from "../drafts/use-draft.ts";

/** Says that the evidence beside was made with something else than what stands on the Bench, and offers both ways out. */
export function OlderEvidence({
  evidence,
  draft,
  onRun,
  onTake,
}: {
  readonly evidence: RunEvidence;
  readonly draft: Draft;
  readonly onRun: () => void;
  readonly onTake: (part: Pick<Draft, "inputs" | "settings">) => void;
}) {
  const differences = draftDifferences(evidence, draft);
  if (differences.length === 0) return null;
  const { symbol, alsoOn = [], timeframe } = evidence.settings;
  const canTake = differences.some((word) => word !== "program");
  return (
    <div role="note" className="flex flex-wrap items-center gap-x-3 border-rule border-b bg-warn-wash px-3 py-0.5 text-[13px] text-warn">
      <span className="min-w-0 flex-1">
        Evidence of {[symbol, ...alsoOn].join(", ")}, {timeframeLabel(timeframe)}. Changed since: {differences.join(", ")}.
      </span>
      <Button variant="quiet" onClick={onRun}>
        Run this
      </Button>
      {canTake ? (
        <Button variant="quiet" onClick={() => onTake({ inputs: evidence.inputs, settings: evidence.settings })}>
          Take these settings
        </Button>
      ) : null}
    </div>
  );
}
