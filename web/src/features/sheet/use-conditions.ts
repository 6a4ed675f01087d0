/** When each rule of a sheet holds, by the name of its condition; a moment after each change. */
import type { ConditionEvidence, ConditionsRequest } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { queries } from "../../data/queries.ts";
import { useSettled } from "../../lib/use-settled.ts";

export interface Conditions {
  readonly bars: number;
  readonly byName: ReadonlyMap<string, ConditionEvidence>;
}

export function useConditions(draft: ConditionsRequest): { readonly conditions: Conditions | null; readonly error: Error | null } {
  const { data, error } = useQuery(queries.conditions(useSettled(draft)));
  const conditions = useMemo(
    () => (data ? { bars: data.bars, byName: new Map(data.conditions.map((one) => [one.text, one])) } : null),
    [data],
  );
  return { conditions, error };
}
