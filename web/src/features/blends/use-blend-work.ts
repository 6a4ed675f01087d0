/** Asks the worker of a blend again whenever its members or its setup change. */
import type { BlendSetup } from "@plan-tester/contract";
import { useEffect, useRef, useState } from "react";
import type { BlendWorld, QuickAnswer, SlowAnswer } from "./blend-work.ts";
import type { FromBlendWorker, ToBlendWorker } from "./blend-worker.ts";

export interface BlendWorkState {
  /** Of the last question that was answered: it stays until the next answer is there. */
  readonly quick: QuickAnswer | null;
  /** null while it is worked out. */
  readonly slow: SlowAnswer | null;
  readonly error: Error | null;
}

const NOTHING: BlendWorkState = { quick: null, slow: null, error: null };

/** @param world null until every member is there */
export function useBlendWork(world: BlendWorld | null, setup: BlendSetup): BlendWorkState {
  const [state, setState] = useState(NOTHING);
  const worker = useRef<Worker | null>(null);
  const asked = useRef(0);
  useEffect(() => {
    setState(NOTHING);
    if (!world) return;
    const made = new Worker(new URL("./blend-worker.ts", import.meta.url), { type: "module" });
    worker.current = made;
    made.onmessage = ({ data }: MessageEvent<FromBlendWorker>) => {
      if (data.type === "failed") setState({ ...NOTHING, error: new Error(data.message) });
      else if (data.type === "quick")
        setState(({ slow }) => ({ quick: data.answer, slow: data.id === asked.current ? null : slow, error: null }));
      else if (data.id === asked.current) setState(({ quick }) => ({ quick, slow: data.answer, error: null }));
    };
    made.onerror = (event) => setState({ ...NOTHING, error: new Error(event.message || "The worker did not start.") });
    made.postMessage({ type: "load", world } satisfies ToBlendWorker);
    return () => {
      made.terminate();
      worker.current = null;
    };
  }, [world]);
  useEffect(() => {
    if (!world || !worker.current) return;
    asked.current++;
    worker.current.postMessage({ type: "ask", id: asked.current, setup } satisfies ToBlendWorker);
  }, [world, setup]);
  // An answer of other members than there are now is of no use.
  return state.quick && state.quick.units.length !== setup.members.length ? NOTHING : state;
}
