/**
 * Changes of plans that the server does not have yet. They are written into the browser's storage with every change, sent
 * a moment later, and kept until the server has confirmed them: through a page that is left, a tab that is closed and a
 * server that is down.
 */
import type { PlanDetail, PlanUpdate } from "@plan-tester/contract";
import { ApiFailure, messageOf } from "../../data/api.ts";

const SAVE_AFTER_MS = 500;
/** A run that begins has its figures by then. */
const AFTER_RUN_MS = 1500;
/** Pauses between tries while the server does not answer; the last one repeats. */
const RETRY_AFTER_MS = [1000, 2000, 5000, 15_000];
const PREFIX = "draft:";

/** What a plan has on the server, where it was saved elsewhere since the text here was read. */
export type Theirs = Pick<PlanDetail, "revision" | "source" | "inputs" | "settings">;

export type SaveState =
  | { readonly kind: "saved" }
  | { readonly kind: "saving" }
  | { readonly kind: "failed"; readonly message: string }
  | { readonly kind: "conflict"; readonly message: string; readonly theirs: Theirs };

const SAVED: SaveState = { kind: "saved" };
const SAVING: SaveState = { kind: "saving" };

interface Pending {
  /** Changes that no request carries yet. */
  waiting: PlanUpdate;
  /** Changes that the running request carries. */
  sending: PlanUpdate | null;
  timer: ReturnType<typeof setTimeout> | null;
  tries: number;
  state: SaveState;
  /** The revision that the changes were made from; undefined where it is not known. */
  base: number | undefined;
  /** Tells its saves, of which the last one may be sent while another is on its way, from those of others. */
  readonly draftId: string;
  saves: number;
}

/** What a refused save says that the plan has now; null for any other failure. */
function theirsOf(error: unknown): Theirs | null {
  if (!(error instanceof ApiFailure) || error.code !== "conflict" || typeof error.details.revision !== "number") return null;
  return error.details as unknown as Theirs;
}

export type Send = (planId: string, update: PlanUpdate, isLeaving: boolean) => Promise<PlanDetail>;

const isEmpty = (update: PlanUpdate): boolean => Object.keys(update).length === 0;

export class DraftStore {
  readonly #send: Send;
  readonly #storage: Storage | null;
  readonly #plans = new Map<string, Pending>();
  readonly #listeners = new Set<() => void>();
  /** The revision of each plan that this page has. */
  readonly #revisions = new Map<string, number>();
  /** Told of each plan as the server has it after a save. */
  onSaved: ((saved: PlanDetail) => void) | null = null;

  /** @param storage where changes outlive the page; null keeps them on the page only. */
  constructor(send: Send, storage: Storage | null) {
    this.#send = send;
    this.#storage = storage;
  }

  /** Sends what an earlier visit left behind. */
  resume(): void {
    const keys = this.#storage ? Array.from({ length: this.#storage.length }, (_, i) => this.#storage!.key(i)!) : [];
    for (const key of keys) {
      if (!key.startsWith(PREFIX)) continue;
      const planId = key.slice(PREFIX.length);
      const left = this.#read(key);
      if (!left || isEmpty(left)) this.#storage!.removeItem(key);
      else if (!this.#plans.has(planId)) {
        const { baseRevision, draft, ...update } = left;
        if (baseRevision !== undefined) this.#revisions.set(planId, baseRevision);
        if (draft) this.#plans.set(planId, this.#pending(planId, draft));
        this.change(planId, update);
      }
    }
  }

  /**
   * The page has read a plan as it was at a revision: changes from now on are made from that. What was asked for before a
   * save and comes after it is older than what the page has.
   */
  read({ id, revision }: Pick<PlanDetail, "id" | "revision">): void {
    if (!this.#plans.has(id)) this.#revisions.set(id, Math.max(revision, this.#revisions.get(id) ?? revision));
  }

  /** Whether a plan that was saved somewhere is newer than what this page has, and nothing here would be lost by taking it. */
  mayFollow(planId: string, revision: number): boolean {
    return !this.#plans.has(planId) && revision > (this.#revisions.get(planId) ?? -1);
  }

  /** What is here is saved over what was saved elsewhere, which stays a version. */
  overwrite(planId: string, { revision }: Theirs): void {
    const plan = this.#plans.get(planId);
    if (!plan) return;
    plan.base = revision;
    this.#say(plan, SAVING);
    this.#schedule(planId, plan, 0);
  }

  #read(key: string): PlanUpdate | null {
    try {
      const value: unknown = JSON.parse(this.#storage!.getItem(key) ?? "null");
      return typeof value === "object" && value !== null && !Array.isArray(value) ? (value as PlanUpdate) : null;
    } catch {
      return null;
    }
  }

  /** What the server does not have yet; an empty object when it has everything. */
  unsaved(planId: string): PlanUpdate {
    const plan = this.#plans.get(planId);
    return plan ? { ...plan.sending, ...plan.waiting } : {};
  }

  state(planId: string): SaveState {
    return this.#plans.get(planId)?.state ?? SAVED;
  }

  subscribe(listener: () => void): () => void {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  }

  change(planId: string, part: PlanUpdate): void {
    const plan = this.#plans.get(planId) ?? this.#pending(planId, { id: crypto.randomUUID(), save: 0 });
    this.#plans.set(planId, plan);
    plan.waiting = { ...plan.waiting, ...part };
    this.#store(planId);
    // Case: somebody has to decide between two texts first.
    if (plan.state.kind === "conflict") return;
    this.#say(plan, SAVING);
    this.#schedule(planId, plan, SAVE_AFTER_MS);
  }

  #pending(planId: string, { id, save }: { readonly id: string; readonly save: number }): Pending {
    return {
      ...{ waiting: {}, sending: null, timer: null, tries: 0, state: SAVED },
      ...{ base: this.#revisions.get(planId), draftId: id, saves: save },
    };
  }

  /** Forgets a plan's changes: it was deleted. */
  drop(planId: string): void {
    const plan = this.#plans.get(planId);
    if (plan?.timer) clearTimeout(plan.timer);
    this.#plans.delete(planId);
    this.#storage?.removeItem(PREFIX + planId);
    for (const listener of this.#listeners) listener();
  }

  /** Sends everything now. `isLeaving`: the page is about to go, and what is sent must outlive it. */
  flush(isLeaving = false): void {
    for (const planId of this.#plans.keys()) void this.#save(planId, isLeaving);
  }

  /** A run begins: what waits to be saved, and is kept in the browser until then, lets it go first. */
  yieldToRun(planId: string): void {
    const plan = this.#plans.get(planId);
    if (plan?.timer) this.#schedule(planId, plan, AFTER_RUN_MS);
  }

  #schedule(planId: string, plan: Pending, afterMs: number): void {
    if (plan.timer) clearTimeout(plan.timer);
    plan.timer = setTimeout(() => void this.#save(planId, false), afterMs);
  }

  #store(planId: string): void {
    const unsaved = this.unsaved(planId);
    try {
      if (isEmpty(unsaved)) this.#storage?.removeItem(PREFIX + planId);
      else this.#storage?.setItem(PREFIX + planId, JSON.stringify(this.#based(planId, unsaved)));
    } catch {
      // Case: the browser's storage is full or switched off. The page still holds the change, and the save state tells.
    }
  }

  #based(planId: string, update: PlanUpdate): PlanUpdate {
    const plan = this.#plans.get(planId);
    if (plan?.base === undefined) return update;
    return { ...update, baseRevision: plan.base, ...(plan.saves > 0 && { draft: { id: plan.draftId, save: plan.saves } }) };
  }

  #say(plan: Pending, state: SaveState): void {
    plan.state = state;
    for (const listener of this.#listeners) listener();
  }

  async #save(planId: string, isLeaving: boolean): Promise<void> {
    const plan = this.#plans.get(planId);
    if (plan?.timer) clearTimeout(plan.timer);
    if (plan) plan.timer = null;
    // One request at a time: a later change must not be overtaken by an earlier one. A page that goes can't wait.
    if (!plan || plan.state.kind === "conflict" || (plan.sending && !isLeaving)) return;
    const update = this.unsaved(planId);
    if (isEmpty(update)) return;
    plan.sending = update;
    plan.waiting = {};
    plan.saves++;
    this.#store(planId);
    try {
      const saved = await this.#send(planId, this.#based(planId, update), isLeaving);
      this.#revisions.set(planId, saved.revision);
      plan.base = saved.revision;
      plan.tries = 0;
      plan.sending = null;
      this.#store(planId);
      this.onSaved?.(saved);
      if (isEmpty(plan.waiting)) {
        this.#plans.delete(planId);
        this.#say(plan, SAVED);
      } else if (!plan.timer) this.#schedule(planId, plan, SAVE_AFTER_MS);
    } catch (error) {
      plan.waiting = { ...update, ...plan.waiting };
      plan.sending = null;
      const theirs = theirsOf(error);
      this.#store(planId);
      this.#say(plan, theirs ? { kind: "conflict", message: messageOf(error), theirs } : { kind: "failed", message: messageOf(error) });
      // Only a server that does not answer may take the same change later.
      if (error instanceof ApiFailure && error.code !== "unavailable") return;
      const pause = RETRY_AFTER_MS[Math.min(plan.tries++, RETRY_AFTER_MS.length - 1)]!;
      this.#schedule(planId, plan, pause);
    }
  }
}
