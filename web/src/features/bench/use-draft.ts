/** The draft of a plan: what the user changes is on screen at once and saved a moment later. */
import type { PlanDetail, RunSettings } from "@plan-tester/contract";
import type { InputValue } from "@plan-tester/core";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { queries } from "../../lib/queries.ts";
import type { SaveState } from "./draft-store.ts";
import { drafts } from "./drafts.ts";

export interface Draft {
  readonly source: string;
  readonly inputs: Readonly<Record<string, InputValue>>;
  readonly settings: RunSettings;
}

export interface DraftState {
  readonly draft: Draft;
  /** Counts how often the source was replaced by something else than typing: the editor then takes the new text. */
  readonly edition: number;
  /** The draft with what was changed a moment ago, shown or not yet. */
  readonly latest: () => Draft;
  readonly change: (change: Partial<Draft>) => void;
  /** The source as the editor has it now. */
  readonly type: (source: string) => void;
  readonly saveState: SaveState;
}

const subscribe = (listener: () => void): (() => void) => drafts.subscribe(listener);

export function useDraft(plan: PlanDetail): DraftState {
  const [draft, setDraft] = useState<Draft>(() => {
    const { source, inputs, settings } = { ...plan, ...drafts.unsaved(plan.id) };
    return { source, inputs, settings };
  });
  const [edition, setEdition] = useState(0);
  const saveState = useSyncExternalStore(subscribe, () => drafts.state(plan.id));
  const current = useRef(draft);
  const latest = useCallback(() => current.current, []);
  const client = useQueryClient();

  useEffect(() => {
    drafts.onSaved = (saved) => {
      client.setQueryData(queries.plan(saved.id).queryKey, saved);
      void client.invalidateQueries({ queryKey: ["plans"], exact: true });
    };
  }, [client]);

  const take = useCallback(
    (part: Partial<Draft>): void => {
      current.current = { ...current.current, ...part };
      setDraft(current.current);
      drafts.change(plan.id, part);
    },
    [plan.id],
  );
  const change = useCallback(
    (part: Partial<Draft>): void => {
      if (part.source !== undefined && part.source !== current.current.source) setEdition((count) => count + 1);
      take(part);
    },
    [take],
  );
  const type = useCallback((source: string): void => take({ source }), [take]);

  // Leaving the page saves what is still waiting.
  useEffect(() => () => drafts.flush(), []);
  return { draft, edition, latest, change, type, saveState };
}
