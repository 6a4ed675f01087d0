/** What a watch did against the backtest of what it has seen since it began, in the process of a pool. */
import { driftOf, legOf, legsAt, replay, resolveInputs, specsOf } from "@plan-tester/core";
import type { ReplayMessage, Send } from "../protocol.ts";
import { signsOfLife } from "./run.ts";
import { guard, loadPlan } from "./sandbox.ts";

export function replayPlan(message: ReplayMessage, send: Send): void {
  const { id, source, inputs, settings, feeds, startMs, endMs, traded, marks, barMs } = message;
  const loaded = loadPlan(source);
  guard.restart();
  const { closed, open, untilMs } = replay({
    ...{ plan: loaded.instantiate, settings, feeds, startMs, endMs },
    inputs: resolveInputs(specsOf(loaded.instantiate().inputs), inputs),
    onWork: signsOfLife(id, send),
  });
  const drift = driftOf({
    watch: legsAt(traded, untilMs),
    backtest: legsAt([...closed.map((trade) => legOf(trade)), ...open.map((trade) => legOf(trade, true))], untilMs),
    ...{ marks, barMs },
  });
  void send({ type: "replayed", id, compared: { ...drift, untilMs } });
}
