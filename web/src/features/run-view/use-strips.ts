/** The condition strips of a run, asked for when they are wanted: they come from a pass of their own. */
import type { RunEvidence, StripsMeta } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { NamedStrip } from "../../charts/strip-layers.ts";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";

export type RunStrip = NamedStrip & Pick<StripsMeta["strips"][number], "line" | "kind">;

export interface Strips {
  readonly strips: readonly RunStrip[];
  /** What to say where there are none (yet). */
  readonly note: string;
}

const NONE: readonly RunStrip[] = [];

export function useStrips(run: RunEvidence, isOn: boolean): Strips {
  const { data, error } = useQuery({ ...queries.runStrips(run.id), enabled: isOn });
  const strips = useMemo(() => {
    if (!data || !isOn) return NONE;
    const labels = new Map<string, number>();
    return data.meta.strips.map(({ text, line, kind }, i) => {
      // Case: two of one name. The second says its line.
      const times = (labels.get(text) ?? 0) + 1;
      labels.set(text, times);
      return { label: times > 1 ? `${text} (line ${line})` : text, line, kind, values: data.bytes[`strip${i}`]! };
    });
  }, [data, isOn]);
  const note = !isOn
    ? ""
    : error
      ? messageOf(error)
      : !data
        ? "looking into the run …"
        : strips.length === 0
          ? "the plan names no condition: write const up = crossesAbove(fast, slow)"
          : "";
  return { strips, note };
}
