/** Variants of a sweep that one goes on with: kept as variants of the plan, or picked to be set side by side. */
import { runOfVariant, type SweepDetail, SYMBOL_AXIS, TIMEFRAME_AXIS } from "@plan-tester/contract";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { useChange } from "../../data/use-change.ts";
import { MOST_COMPARED } from "../compare/use-compared.ts";
import { useStartBatch } from "../queue/use-start-batch.ts";
import { type SweepViewProps, valueText } from "./sweep-view.ts";

export type Candidates = ReturnType<typeof useCandidates>;

export function useCandidates(sweep: SweepDetail, { inputs, variants }: Pick<SweepViewProps, "inputs" | "variants">) {
  const [picked, setPicked] = useState<readonly number[]>([]);
  const start = useStartBatch();
  const createVariant = useChange("createVariant");
  const navigate = useNavigate();
  const { request } = sweep;
  const wordsOf = (variant: number): string =>
    inputs.map(({ name, label }) => `${label} ${valueText(variants[variant]![name])}`).join(", ");
  const keepVariant = async (variant: number): Promise<void> => {
    const name = wordsOf(variant);
    const { inputs: own, settings } = runOfVariant(variants[variant]!, request.settings);
    // A market that was searched for belongs to what was found.
    const hasMarket = inputs.some((input) => input.name === SYMBOL_AXIS || input.name === TIMEFRAME_AXIS);
    const market = hasMarket ? { symbol: settings.symbol, timeframe: settings.timeframe } : null;
    const body = { name, inputs: own, kit: settings.kit, market };
    if (await createVariant.run({ id: sweep.planId }, body)) toast(`“${name}” is a variant of the plan now`);
  };
  /** Candidates side by side, each run unchanged on the later stretch where there is one. */
  const compare = async (): Promise<void> => {
    const settings = { ...request.settings, ...(request.outOfSample ?? {}) };
    const runs = picked.map((variant) => ({
      ...{ planId: sweep.planId, source: sweep.source, label: wordsOf(variant) },
      ...runOfVariant(variants[variant]!, settings),
    }));
    const batch = await start({ name: `${sweep.planTitle}: candidates`, runs });
    if (batch) navigate(`/compare?batch=${batch}`);
  };
  const toggle = (variant: number): void =>
    setPicked(picked.includes(variant) ? picked.filter((other) => other !== variant) : [...picked, variant].slice(-MOST_COMPARED));
  return { picked, toggle, keepVariant, compare };
}
