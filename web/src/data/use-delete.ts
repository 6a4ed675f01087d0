/** Deleting, with a way back: what was deleted waits in the bin. */
import type { BinKind } from "@plan-tester/contract";
import { toast } from "sonner";
import { useChange } from "./use-change.ts";

/** For as long the way back is offered, milliseconds; after that it is on the page about storage. */
const OFFER_MS = 12_000;

/** @returns whether it was deleted; a refusal has been said then. */
export type Delete = (kind: BinKind, id: string, name: string) => Promise<boolean>;

export function useDelete(): Delete {
  const plan = useChange("deletePlan");
  const run = useChange("deleteRun");
  const sweep = useChange("deleteSweep");
  const walk = useChange("deleteWalkForward");
  const blend = useChange("deleteBlend");
  const market = useChange("deleteMarket");
  const source = useChange("deleteSource");
  const restore = useChange("restoreDeleted");
  const remove = {
    plan: (id: string) => plan.run({ id }),
    run: (id: string) => run.run({ id }),
    sweep: (id: string) => sweep.run({ id }),
    "walk-forward": (id: string) => walk.run({ id }),
    blend: (id: string) => blend.run({ id }),
    market: (symbol: string) => market.run({ symbol }),
    source: (id: string) => source.run({ id }),
  } as const satisfies Readonly<Record<BinKind, (id: string) => Promise<object | null>>>;
  return async (kind, id, name) => {
    if (!(await remove[kind](id))) return false;
    const undo = (): void => void restore.run({}, { kind, id });
    toast(`“${name}” was deleted`, { duration: OFFER_MS, action: { label: "Undo", onClick: undo } });
    return true;
  };
}
