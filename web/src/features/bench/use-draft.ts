/** The draft of a plan: what the user changes is on screen at once and saved a moment later. */
import type { PlanDetail, PlanUpdate, RunSettings } from "@plan-tester/contract";
import type { InputValue } from "@plan-tester/core";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, messageOf } from "../../lib/api.ts";
import { queries } from "../../lib/queries.ts";

const SAVE_AFTER_MS = 500;

export interface Draft {
  readonly source: string;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly settings: RunSettings;
}

export type SaveState = { readonly kind: "saved" } | { readonly kind: "saving" } | { readonly kind: "failed"; readonly message: string };

export interface DraftState {
  readonly draft: Draft;
  /** The draft with what was changed a moment ago, shown or not yet. */
  readonly latest: () => Draft;
  readonly change: (change: Partial<Draft>) => void;
  readonly saveState: SaveState;
}

export function useDraft(plan: PlanDetail): DraftState {
  const [draft, setDraft] = useState<Draft>({ source: plan.source, inputs: plan.inputs, settings: plan.settings });
  const [saveState, setSaveState] = useState<SaveState>({ kind: "saved" });
  const current = useRef(draft);
  const latest = useCallback(() => current.current, []);
  const client = useQueryClient();
  const waiting = useRef<PlanUpdate>({});
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);

  const save = useCallback(async (): Promise<void> => {
    const update = waiting.current;
    if (Object.keys(update).length === 0) return;
    waiting.current = {};
    try {
      const saved = await api.put<PlanDetail>(`/plans/${plan.id}`, update);
      client.setQueryData(queries.plan(plan.id).queryKey, saved);
      void client.invalidateQueries({ queryKey: ["plans"], exact: true });
      if (Object.keys(waiting.current).length === 0) setSaveState({ kind: "saved" });
    } catch (error) {
      // Case: not saved. It is kept and tried again with the next change.
      waiting.current = { ...update, ...waiting.current };
      setSaveState({ kind: "failed", message: messageOf(error) });
    }
  }, [client, plan.id]);

  const change = useCallback(
    (part: Partial<Draft>): void => {
      current.current = { ...current.current, ...part };
      setDraft(current.current);
      waiting.current = { ...waiting.current, ...part };
      setSaveState({ kind: "saving" });
      if (timer.current) clearTimeout(timer.current);
      timer.current = setTimeout(() => void save(), SAVE_AFTER_MS);
    },
    [save],
  );

  // Leaving the page saves what is still waiting.
  useEffect(
    () => () => {
      if (timer.current) clearTimeout(timer.current);
      void save();
    },
    [save],
  );
  return { draft, latest, change, saveState };
}
