/** When each rule of a sheet holds, by the name of its condition; a moment after each change, the last answer staying until then. */
import type { ConditionEvidence, RunSettings } from "@plan-tester/contract";
import type { InputValue } from "@plan-tester/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { call } from "../../data/api.ts";

const ASK_AFTER_MS = 200;

export interface Conditions {
  readonly bars: number;
  readonly byName: ReadonlyMap<string, ConditionEvidence>;
}

export interface ConditionsDraft {
  readonly source: string;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly settings: RunSettings;
}

export function useConditions(draft: ConditionsDraft): { readonly conditions: Conditions | null; readonly error: Error | null } {
  const [asked, setAsked] = useState(draft);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(draft), ASK_AFTER_MS);
    return () => clearTimeout(timer);
  }, [draft]);
  const { source, inputs, settings } = asked;
  const { data, error } = useQuery({
    queryKey: ["conditions", source, inputs, settings],
    queryFn: () => call("findConditions", {}, { source, inputs, settings }),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  });
  const conditions = useMemo(
    () => (data ? { bars: data.bars, byName: new Map(data.conditions.map((one) => [one.text, one])) } : null),
    [data],
  );
  return { conditions, error };
}
