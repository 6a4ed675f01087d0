/** What a source declares, or what is wrong with it, a moment after each change. The last good declaration stays. */
import type { PlanDescriptionBody } from "@plan-tester/contract";
import { useEffect, useRef, useState } from "react";
import { ApiFailure, call } from "../../data/api.ts";
import type { SourceProblem } from "./source-problem.ts";

const ASK_AFTER_MS = 250;

export function useDescription(source: string): { description: PlanDescriptionBody | null; problem: SourceProblem | null } {
  const [description, setDescription] = useState<PlanDescriptionBody | null>(null);
  const [problem, setProblem] = useState<SourceProblem | null>(null);
  /** The first text is asked about at once. An answer asks nothing again: it is no change of the text. */
  const hasAsked = useRef(false);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(
      async () => {
        try {
          const answer = await call("describePlan", {}, { source });
          if (gone) return;
          setDescription(answer);
          setProblem(null);
        } catch (error) {
          // A server that does not answer says nothing about the text.
          if (!gone && error instanceof ApiFailure && error.code !== "unavailable") setProblem(problemOf(error));
        }
      },
      hasAsked.current ? ASK_AFTER_MS : 0,
    );
    hasAsked.current = true;
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [source]);
  return { description, problem };
}

export function problemOf(error: ApiFailure): SourceProblem {
  const { line, column } = error.details;
  return { line: typeof line === "number" ? line : 1, column: typeof column === "number" ? column : 1, message: error.message };
}
