/** Variants of a sweep that one goes on with: kept as variants of the plan, or picked to be set side by side. */
import type { SweepDetail } from "@plan-tester/contract";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toast } from "sonner";
import { api, messageOf } from "../../lib/api.ts";
import { MOST_COMPARED } from "../compare/use-compared.ts";
import { useStartBatch } from "../queue/use-start-batch.ts";
import type { SweepInput, SweepViewProps } from "./sweep-view.ts";

export function useCandidates(sweep: SweepDetail, inputs: readonly SweepInput[], variants: SweepViewProps["variants"]) {
  const [picked, setPicked] = useState<readonly number[]>([]);
  const start = useStartBatch();
  const navigate = useNavigate();
  const { request } = sweep;
  const wordsOf = (variant: number): string => inputs.map(({ name, label }) => `${label} ${String(variants[variant]![name])}`).join(", ");
  const keepVariant = async (variant: number): Promise<void> => {
    try {
      const name = wordsOf(variant);
      await api.post(`/plans/${sweep.planId}/variants`, { name, inputs: variants[variant], kit: request.settings.kit });
      toast(`“${name}” is a variant of the plan now`);
    } catch (error) {
      toast.error(messageOf(error));
    }
  };
  /** Candidates side by side, each run unchanged on the later stretch where there is one. */
  const compare = async (): Promise<void> => {
    const settings = { ...request.settings, ...(request.outOfSample ?? {}) };
    const runs = picked.map((variant) => ({
      planId: sweep.planId,
      source: sweep.source,
      inputs: variants[variant]!,
      settings,
      label: wordsOf(variant),
    }));
    const batch = await start({ name: `${sweep.planTitle}: candidates`, runs });
    if (batch) navigate(`/compare?batch=${batch}`);
  };
  const toggle = (variant: number): void =>
    setPicked(picked.includes(variant) ? picked.filter((other) => other !== variant) : [...picked, variant].slice(-MOST_COMPARED));
  return { picked, toggle, keepVariant, compare };
}
