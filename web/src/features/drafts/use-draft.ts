/** The draft of a plan: what the user changes is on screen at once and saved a moment later. */
import type { PlanDetail, RunSettings } from "@plan-tester/contract";
import type { InputValue } from "@plan-tester/core";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { queries } from "../../data/queries.ts";
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
  /** Of two texts, the one on screen is saved, or the one that was saved elsewhere is taken. */
  readonly settle: (choice: "mine" | "theirs") => void;
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
    // The list is read again when the server tells every page of the save.
    drafts.onSaved = (saved) => client.setQueryData(queries.plan(saved.id).queryKey, saved);
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

  /** Shows what the server has, which needs no saving. */
  const follow = useCallback(({ source, inputs, settings }: Draft): void => {
    if (source !== current.current.source) setEdition((count) => count + 1);
    current.current = { source, inputs, settings };
    setDraft(current.current);
  }, []);
  // Read anew, because it was saved elsewhere: shown where nothing here would be lost by it.
  useEffect(() => {
    const mayFollow = drafts.mayFollow(plan.id, plan.revision);
    drafts.read(plan);
    if (mayFollow) follow(plan);
  }, [plan, follow]);
  const settle = useCallback(
    (choice: "mine" | "theirs"): void => {
      const state = drafts.state(plan.id);
      if (state.kind !== "conflict") return;
      if (choice === "mine") return drafts.overwrite(plan.id, state.theirs);
      drafts.drop(plan.id);
      drafts.read({ id: plan.id, revision: state.theirs.revision });
      follow(state.theirs);
      void client.invalidateQueries({ queryKey: queries.plan(plan.id).queryKey });
    },
    [client, plan.id, follow],
  );

  // Leaving the page saves what is still waiting.
  useEffect(() => () => drafts.flush(), []);
  return { draft, edition, latest, change, type, saveState, settle };
}
