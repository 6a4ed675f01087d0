/**
 * Saves a blend a moment after each change, against the revision that was read. What the server does not have yet is in the
 * browser's storage, so that neither a closed page nor a server that is away loses it.
 */
import type { Blend, BlendBody } from "@plan-tester/contract";
import { ApiFailure, call, callLeaving } from "../../data/api.ts";

export type SaveState = "saved" | "waiting" | "saving" | "failed" | "conflict";

export interface SaverView {
  readonly body: BlendBody;
  readonly state: SaveState;
  readonly error: Error | null;
  readonly canUndo: boolean;
}

const SETTLE_MS = 600;
const MOST_STEPS_BACK = 100;

const bodyOf = ({ name, note, setup }: BlendBody): BlendBody => ({ name, note, setup });
const placeOf = (id: string): string => `blend ${id}`;

/** What a page left unsaved of this revision. */
function leftOf({ id, revision }: Blend): BlendBody | null {
  try {
    const left = JSON.parse(localStorage.getItem(placeOf(id)) ?? "null") as { revision: number; body: BlendBody } | null;
    return left?.revision === revision ? left.body : null;
  } catch {
    return null;
  }
}

export class BlendSaver {
  readonly #id: string;
  readonly #onSaved: (blend: Blend) => void;
  #revision: number;
  #view: SaverView;
  #past: BlendBody[] = [];
  #unsaved = false;
  /** A save is on its way: what changes meanwhile is saved after it, against the revision that it makes. */
  #isSaving = false;
  #timer: ReturnType<typeof setTimeout> | null = null;
  #listener: () => void = () => undefined;

  constructor(blend: Blend, onSaved: (blend: Blend) => void) {
    this.#id = blend.id;
    this.#revision = blend.revision;
    this.#onSaved = onSaved;
    this.#view = { body: bodyOf(blend), state: "saved", error: null, canUndo: false };
    const left = leftOf(blend);
    if (left) this.change(left);
  }

  readonly view = (): SaverView => this.#view;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listener = listener;
    return () => {
      this.#listener = () => undefined;
      this.leave();
    };
  };

  change(part: Partial<BlendBody>): void {
    this.#past = [...this.#past.slice(1 - MOST_STEPS_BACK), this.#view.body];
    this.#take({ ...this.#view.body, ...part });
  }

  undo(): void {
    const before = this.#past.pop();
    if (before) this.#take(before);
  }

  #take(body: BlendBody): void {
    this.#unsaved = true;
    // A conflict stays until it is dealt with: saving would lose what is there.
    const isConflict = this.#view.state === "conflict";
    this.#show({ body, canUndo: this.#past.length > 0, ...(isConflict ? {} : { state: "waiting", error: null }) });
    try {
      localStorage.setItem(placeOf(this.#id), JSON.stringify({ revision: this.#revision, body }));
    } catch {
      // A full storage keeps nothing; the server still gets it in a moment.
    }
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = isConflict ? null : setTimeout(() => void this.save(), SETTLE_MS);
  }

  async save(): Promise<void> {
    if (!this.#unsaved || this.#isSaving) return;
    const { body } = this.#view;
    this.#show({ state: "saving", error: null });
    this.#unsaved = false;
    this.#isSaving = true;
    try {
      const saved = await call("replaceBlend", { id: this.#id }, { ...body, revision: this.#revision });
      this.#revision = saved.revision;
      this.#isSaving = false;
      if (this.#view.body !== body) return this.#take(this.#view.body);
      localStorage.removeItem(placeOf(this.#id));
      this.#show({ state: "saved" });
      this.#onSaved(saved);
    } catch (error) {
      this.#isSaving = false;
      this.#unsaved = true;
      const isConflict = error instanceof ApiFailure && error.code === "conflict";
      this.#show({ state: isConflict ? "conflict" : "failed", error: error instanceof Error ? error : new Error(String(error)) });
    }
  }

  /** The page goes: what is unsaved is sent along. */
  leave(): void {
    if (this.#timer) clearTimeout(this.#timer);
    // What changed during a save is taken up when that is over.
    if (!this.#unsaved || this.#isSaving || this.#view.state === "conflict") return;
    this.#unsaved = false;
    // Where it does not arrive the browser still has it.
    void callLeaving("replaceBlend", { id: this.#id }, { ...this.#view.body, revision: this.#revision }).then(
      (saved) => {
        localStorage.removeItem(placeOf(this.#id));
        this.#onSaved(saved);
      },
      () => undefined,
    );
  }

  /** Lets go of what this page has, for what the server has. */
  forget(): void {
    this.#unsaved = false;
    localStorage.removeItem(placeOf(this.#id));
  }

  #show(part: Partial<SaverView>): void {
    this.#view = { ...this.#view, ...part };
    this.#listener();
  }
}
