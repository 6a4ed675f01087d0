/** A blend of runs, begun from wherever they are chosen. */
import { type BlendSetup, MAX_BLEND_MEMBERS, type Market, type RunEvidence } from "@plan-tester/contract";
import { entrySizes } from "@plan-tester/core";
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { messageOf } from "../../data/api.ts";
import { accountCurrency } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { useChange } from "../../data/use-change.ts";

/** The size at which a run went in: units of its entries, or the run itself where they vary. */
export function sizeOfRun({ trades, settings }: Pick<RunEvidence, "trades" | "settings">): number {
  const { least, most } = entrySizes(trades);
  return least > 0 && least === most && settings.alsoOn.length === 0 ? most : 1;
}

const TERMS: Omit<BlendSetup, "cash" | "currency" | "members"> = {
  ...{ rates: {}, tolerated: 20, allowance: 0, fall: "measured", weighting: "by hand", chosenBy: 60, days: "shared" },
};

/** Keeps a blend of kept runs, each at the size it ran at, and opens it. */
export function useNewBlend(): (runIds: readonly string[]) => Promise<void> {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { run: create } = useChange("createBlend");
  return async (runIds) => {
    const ids = runIds.slice(0, MAX_BLEND_MEMBERS);
    let runs: RunEvidence[];
    let markets: readonly Market[];
    try {
      runs = await Promise.all(ids.map((id) => client.fetchQuery(queries.run(id))));
      markets = await client.fetchQuery(queries.markets());
    } catch (error) {
      toast.error(messageOf(error));
      return;
    }
    const [first] = runs;
    const members = runs.map((run) => ({ runId: run.id, size: sizeOfRun(run) }));
    const setup: BlendSetup = {
      ...TERMS,
      cash: first?.settings.cash ?? 100_000,
      currency: first ? accountCurrency(first.settings, markets) : "XSC",
      members,
    };
    const symbols = [...new Set(runs.map(({ settings }) => settings.symbol))];
    const made = await create(
      {},
      { name: symbols.length > 0 ? `Blend of ${symbols.join(", ")}`.slice(0, 120) : "New blend", note: "", setup },
    );
    if (made) void navigate(`/blends/${made.reply.id}`);
  };
}
