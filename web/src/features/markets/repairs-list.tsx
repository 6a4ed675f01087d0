/** Repairs that are in force, each of which can be undone. */
import { repairWords, spanOf } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";
import { count, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";

export function RepairsList({ symbol, zone }: { readonly symbol: string; readonly zone: string }) {
  const { data = [] } = useQuery(queries.repairs(symbol));
  const undo = useChange("undoRepair");
  const inForce = data.filter(({ undoneMs }) => undoneMs === 0);
  if (inForce.length === 0) return null;
  return (
    <section aria-label="Repairs" className="max-h-40 shrink-0 overflow-auto border-rule border-t px-4 py-2 text-[13px]">
      <h2 className="font-semibold">{count(inForce.length, "repair")} over these bars</h2>
      <ul>
        {inForce.map(({ id, repair, reason }) => (
          <li key={id} className="flex items-baseline gap-2 py-0.5">
            <span className="shrink-0">{timeAt(spanOf(repair).fromMs, zone)}</span>
            <span className="shrink-0">{repairWords(repair)}</span>
            <span className="min-w-0 flex-1 truncate text-soft">{reason}</span>
            <Button variant="quiet" disabled={undo.isRunning} onClick={() => void undo.run({ symbol, id: String(id) })}>
              Undo
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
