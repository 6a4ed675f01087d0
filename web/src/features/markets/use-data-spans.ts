/** Stretches of an instrument's bars that are doubtful, or repaired, as its chart marks them. */
import { repairWords, spanOf } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { ChartSpan } from "../../charts/span-layer.ts";
import { queries } from "../../data/queries.ts";

export function useDataSpans(symbol: string): readonly ChartSpan[] {
  const quality = useQuery(queries.quality(symbol)).data;
  const repairs = useQuery(queries.repairs(symbol)).data;
  return useMemo(
    () => [
      ...(quality?.meta.findings ?? []).map(({ kind, fromMs, toMs }): ChartSpan => ({ fromMs, toMs, words: kind, color: "loss" })),
      ...(repairs ?? []).flatMap(({ repair, undoneMs }): ChartSpan[] =>
        undoneMs === 0 ? [{ ...spanOf(repair), words: repairWords(repair), color: "accent" }] : [],
      ),
    ],
    [quality, repairs],
  );
}
