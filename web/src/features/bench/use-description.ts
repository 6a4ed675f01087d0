/** What a source declares, or what is wrong with it, a moment after each change. The last good declaration stays. */
import type { PlanDescriptionBody } from "@plan-tester/contract";
import { useEffect, useState } from "react";
import { ApiFailure, api } from "../../lib/api.ts";
import type { SourceProblem } from "./editor.tsx";

const ASK_AFTER_MS = 250;

export function useDescription(source: string): { description: PlanDescriptionBody | null; problem: SourceProblem | null } {
  const [description, setDescription] = useState<PlanDescriptionBody | null>(null);
  const [problem, setProblem] = useState<SourceProblem | null>(null);
  useEffect(() => {
    let gone = false;
    const timer = setTimeout(
      async () => {
        try {
          const answer = await api.post<PlanDescriptionBody>("/describe", { source });
          if (gone) return;
          setDescription(answer);
          setProblem(null);
        } catch (error) {
          if (!gone && error instanceof ApiFailure) setProblem(problemOf(error));
        }
      },
      description === null ? 0 : ASK_AFTER_MS,
    );
    return () => {
      gone = true;
      clearTimeout(timer);
    };
    // The first answer must not ask again.
  }, [source, description]);
  return { description, problem };
}

export function problemOf(error: ApiFailure): SourceProblem {
  const { line, column } = error.details;
  return { line: typeof line === "number" ? line : 1, column: typeof column === "number" ? column : 1, message: error.message };
}
