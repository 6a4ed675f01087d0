/** The backtest of what a watch has seen since it began, in the process of a pool. */
import { replay, resolveInputs, specsOf } from "@plan-tester/core";
import type { ReplayMessage, Send } from "../protocol.ts";
import { signsOfLife } from "./run.ts";
import { guard, loadPlan } from "./sandbox.ts";

export function replayPlan({ id, source, inputs, settings, feeds, startMs, endMs }: ReplayMessage, send: Send): void {
  const loaded = loadPlan(source);
  guard.restart();
  const replayed = replay({
    ...{ plan: loaded.instantiate, settings, feeds, startMs, endMs },
    inputs: resolveInputs(specsOf(loaded.instantiate().inputs), inputs),
    onWork: signsOfLife(id, send),
  });
  void send({ type: "replayed", id, ...replayed });
}
