/** Line evidence of a run, when the user wants to see it and the source on screen is the one that ran. */
import type { RunEvidence } from "@plan-tester/contract";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { queries } from "../../data/queries.ts";
import { useSwitch } from "../../lib/switch.ts";
import { type LineMarks, lineMarks } from "./line-marks.ts";

export function useLineMarks(run: RunEvidence | null, source: string) {
  const { isOn, toggle } = useSwitch("line-evidence");
  // A linked source has the modules behind it.
  const isSame = run !== null && (run.source === source || run.source.startsWith(source.endsWith("\n") ? source : `${source}\n`));
  const enabled = isOn && isSame;
  const lines = useQuery({ ...queries.runLines(run?.id ?? ""), enabled });
  const orders = useQuery({ ...queries.runOrders(run?.id ?? ""), enabled });
  const marks = useMemo<LineMarks | null>(
    () => (enabled && lines.data && orders.data && run ? lineMarks(lines.data, orders.data.orders, run.trades) : null),
    [enabled, lines.data, orders.data, run],
  );
  return { isOn, toggle, marks, isStale: isOn && run !== null && !isSame };
}
