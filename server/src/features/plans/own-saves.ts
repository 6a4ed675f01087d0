/**
 * Saves of one draft that run side by side: a page that is left sends everything at once, whether an earlier save is still on
 * its way or its answer got lost. They are no conflict with each other, in whatever order they come.
 */
import type { PlanUpdate } from "@plan-tester/contract";
import { changesText } from "./plan-repository.ts";

interface OwnSave {
  readonly draftId: string;
  /** The latest that was taken. */
  readonly save: number;
  /** The revision that the first of them was made from, and the one that the latest made. */
  readonly from: number;
  readonly revision: number;
}

export class OwnSaves {
  /** The last save of each plan that was told as one of a draft. */
  readonly #last = new Map<string, OwnSave>();

  /** A change was taken, made from a revision. */
  note(planId: string, change: PlanUpdate, baseRevision: number | undefined): void {
    const { draft } = change;
    const last = this.#last.get(planId);
    this.#last.delete(planId);
    if (!draft || baseRevision === undefined) return;
    const isNext = last?.draftId === draft.id && last.revision === baseRevision;
    this.#last.set(planId, {
      ...{ draftId: draft.id, save: draft.save },
      ...{ from: isNext ? last.from : baseRevision, revision: baseRevision + (changesText(change) ? 1 : 0) },
    });
  }

  /** The revision that an earlier save of the same draft has made of the one that a change was made from; null where none has. */
  revisionBefore(planId: string, { draft, baseRevision = -1 }: PlanUpdate): number | null {
    const last = this.#last.get(planId);
    const isLater = draft !== undefined && last?.draftId === draft.id && draft.save > last.save && baseRevision >= last.from;
    return isLater ? last.revision : null;
  }

  /** Whether a later save of the same draft, which has everything that is in this one, was taken before it. */
  isOvertaken(planId: string, { draft }: PlanUpdate): boolean {
    const last = this.#last.get(planId);
    return draft !== undefined && last?.draftId === draft.id && draft.save <= last.save;
  }
}
