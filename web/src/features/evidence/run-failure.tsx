/** Why a run did not come to its end, and where in the plan that was. */
import type { RunEvidence } from "@plan-tester/contract";
import { timeAt } from "../../lib/format.ts";

export interface RunFailureProps {
  readonly run: RunEvidence;
  readonly zone: string;
  readonly onLine: (line: number) => void;
}

export function RunFailure({ run: { failure }, zone, onLine }: RunFailureProps) {
  if (!failure) return null;
  return (
    <div role="alert" className="mx-3 mt-2 border-loss border-l-3 bg-loss-wash px-2.5 py-1.5">
      <strong className="font-semibold">
        The plan stopped{failure.barTimeMs === null ? "" : ` at ${timeAt(failure.barTimeMs, zone)}`}:
      </strong>{" "}
      {failure.message}{" "}
      {failure.line ? (
        <button type="button" className="underline underline-offset-3" onClick={() => onLine(failure.line!)}>
          line {failure.line}
        </button>
      ) : null}
    </div>
  );
}
