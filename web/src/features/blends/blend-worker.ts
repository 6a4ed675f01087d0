/** The work on a blend beside the page. Of several questions that wait only the last is answered. */
import type { BlendDays, BlendSetup } from "@plan-tester/contract";
import { BlendWork, type BlendWorld, type QuickAnswer, type SlowAnswer } from "./blend-work.ts";

export type ToBlendWorker =
  | { readonly type: "load"; readonly world: BlendWorld }
  | { readonly type: "ask"; readonly id: number; readonly setup: BlendSetup };

export type FromBlendWorker =
  | { readonly type: "quick"; readonly id: number; readonly answer: QuickAnswer }
  | { readonly type: "slow"; readonly id: number; readonly answer: SlowAnswer }
  | { readonly type: "failed"; readonly id: number; readonly message: string };

let world: BlendWorld | null = null;
/** Curves are laid out once for each choice of days. */
const works = new Map<BlendDays, BlendWork>();
let waiting: { readonly id: number; readonly setup: BlendSetup } | null = null;

const post = (message: FromBlendWorker): void => self.postMessage(message);

/** What comes in meanwhile is taken in first. */
const later = (act: () => void): void => void setTimeout(act, 0);

function guarded(id: number, act: () => void): void {
  try {
    act();
  } catch (error) {
    post({ type: "failed", id, message: error instanceof Error ? error.message : String(error) });
  }
}

function workOn(days: BlendDays, of: BlendWorld): BlendWork {
  const found = works.get(days) ?? new BlendWork(of, days);
  works.set(days, found);
  return found;
}

function answer(): void {
  if (!world || !waiting) return;
  const { id, setup } = waiting;
  const of = world;
  waiting = null;
  guarded(id, () => {
    const work = workOn(setup.days, of);
    const quick = work.quick(setup);
    post({ type: "quick", id, answer: quick });
    later(() => {
      if (waiting) return;
      guarded(id, () => post({ type: "slow", id, answer: work.slow(setup, quick.units) }));
    });
  });
}

self.onmessage = ({ data }: MessageEvent<ToBlendWorker>) => {
  if (data.type === "load") world = data.world;
  else waiting = data;
  later(answer);
};
