/** Columns of studies beside an instrument's bars: each is asked for once, by its text. */
import type { Market, Packed, StudyMeta } from "@plan-tester/contract";
import { type UseQueryResult, useQueries } from "@tanstack/react-query";
import { useCallback } from "react";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";

export interface StudyColumn {
  readonly study: string;
  /** null while it is computed, and where it can't be. */
  readonly kind: StudyMeta["kind"] | null;
  readonly values: Float64Array | null;
  /** Why there is none; "" where there is, or will be. */
  readonly problem: string;
}

/** The same objects as long as they say the same. */
export function useStudyColumns(market: Market, timeframe: string, studies: readonly string[]): readonly StudyColumn[] {
  const { instrument, firstDate, lastDate } = market;
  const combine = useCallback(
    (answers: UseQueryResult<Packed<StudyMeta>>[]): StudyColumn[] =>
      answers.map(({ data, error }, k) => ({
        study: studies[k]!,
        kind: data?.meta.kind ?? null,
        values: data?.columns.values ?? null,
        problem: error ? messageOf(error) : "",
      })),
    [studies],
  );
  return useQueries({
    queries: studies.map((study) => queries.study(instrument.symbol, timeframe, firstDate, lastDate, study)),
    combine,
  });
}
