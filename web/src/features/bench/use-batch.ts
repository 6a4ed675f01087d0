/** Several runs of a plan at once, in the background: one by itself, one for each variant, one for each instrument. */
import { type RunSettings, settingsOfVariant, type Variant } from "@plan-tester/contract";
import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { call, messageOf } from "../../data/api.ts";
import { keyOf } from "../../data/keys.ts";
import { queries } from "../../data/queries.ts";
import type { Draft } from "../drafts/use-draft.ts";
import { useStartBatch } from "../queue/use-start-batch.ts";
import type { StudiedKit } from "../variants/stop-study-dialog.tsx";

export function useBatch(planId: string, title: string, draft: Draft) {
  const client = useQueryClient();
  const start = useStartBatch();
  const navigate = useNavigate();
  const { source, inputs, settings } = draft;
  const one = (): void => {
    const label = `${title}, ${settings.symbol} ${settings.timeframe}`;
    void start({ name: "background", runs: [{ planId, source, inputs, settings, label }] }).then(
      (batch) => batch && toast("Running in the background. It will be kept."),
    );
  };
  const variants = async (): Promise<void> => {
    const list = await client.fetchQuery(queries.variants(planId)).catch((error) => void toast.error(messageOf(error)));
    if (!list) return;
    const runs = list.map((variant: Variant) => ({
      ...{ planId, source, inputs: variant.inputs, label: variant.name },
      settings: settingsOfVariant(settings, variant),
    }));
    const batch = await start({ name: `${title}: variants`, runs });
    if (batch) navigate(`/compare?batch=${batch}`);
  };
  /** Each kit becomes a variant, one of its name is replaced; then they are run and compared. */
  const study = async (kits: readonly StudiedKit[]): Promise<void> => {
    try {
      const known = await client.fetchQuery(queries.variants(planId));
      for (const { name, kit } of kits) {
        const body = { name, inputs, kit, market: null };
        const before = known.find((variant) => variant.name === name);
        await (before ? call("replaceVariant", { id: before.id }, body) : call("createVariant", { id: planId }, body));
      }
    } catch (error) {
      return void toast.error(messageOf(error));
    } finally {
      void client.invalidateQueries({ queryKey: keyOf("listVariants", { id: planId }) });
    }
    const runs = kits.map(({ name, kit }) => ({ planId, source, inputs, label: name, settings: { ...settings, kit } }));
    const batch = await start({ name: `${title}: stop study`, runs });
    if (batch) navigate(`/compare?batch=${batch}`);
  };
  const basket = async (symbols: readonly string[]): Promise<void> => {
    const on = (symbol: string): RunSettings => ({ ...settings, symbol, alsoOn: settings.alsoOn.filter((other) => other !== symbol) });
    const runs = symbols.map((symbol) => ({ planId, source, inputs, settings: on(symbol), label: `${title}, ${symbol}` }));
    const batch = await start({ name: `${title}: basket`, runs });
    if (batch) navigate(`/batches/${batch}`);
  };
  return { one, variants, study, basket };
}
