/** What makes an order impossible: the reason names the field, the value and the rule (R3.9, R3.10). */
import type { Instrument } from "../market/instrument.ts";
import type { Distance, Lock, Order, Trail } from "./orders.ts";

export function requestProblem(order: Order, instrument: Instrument): string {
  if (order.expiresTime <= order.submittedTime) return "its time in force is over already (R3.4)";
  if (order.kind !== "market" && !isPrice(order.price)) return `price ${order.price} is not a number above 0 (R3.9)`;
  if (order.kind === "stop-limit" && !isPrice(order.limitPrice)) return `limit price ${order.limitPrice} is not a number above 0 (R3.9)`;
  if (order.intent === "exit") return order.quantity > 0 ? "" : `quantity ${order.quantity} is not a number above 0 (R3.9)`;
  if (!(order.quantity > 0) || !Number.isFinite(order.quantity)) return `quantity ${order.quantity} is not a number above 0 (R3.9)`;
  if (order.quantity < instrument.minQuantity)
    return `quantity ${order.quantity} is below the minimum of ${instrument.minQuantity} (R3.10)`;
  return order.stopLoss || order.target || order.moves ? exitsProblem(order) : "";
}

const isPrice = (price: number): boolean => price > 0 && Number.isFinite(price);

function exitsProblem({ stopLoss, target, moves }: Order): string {
  const hasRisk = stopLoss !== null;
  if (stopLoss?.unit === "R") return "stopLoss in R: R is the distance to the stop loss itself, so give it another unit (R3.6)";
  const problem = distanceProblem("stopLoss", stopLoss, true) || distanceProblem("target", target, hasRisk);
  if (problem || !moves) return problem;
  const { trail, locks, timeLimit } = moves;
  if (trail) {
    const wrong = trailProblem(trail, hasRisk);
    if (wrong) return wrong;
  }
  for (const lock of locks) {
    const wrong = lockProblem(lock, hasRisk);
    if (wrong) return wrong;
  }
  if (!timeLimit) return "";
  const value = "bars" in timeLimit ? timeLimit.bars : timeLimit.milliseconds;
  return value > 0 && Number.isFinite(value) ? "" : `timeLimit ${value} is not above 0 (R3.6)`;
}

function trailProblem({ distance, after, step }: Trail, hasRisk: boolean): string {
  for (const [name, given] of [
    ["trail distance", distance],
    ["trail step", step],
  ] as const)
    if (given?.unit === "price") return `${name} is an absolute price; give it as a distance (R3.7)`;
  return (
    distanceProblem("trail distance", distance, hasRisk) ||
    distanceProblem("trail after", after, hasRisk) ||
    distanceProblem("trail step", step, hasRisk)
  );
}

function lockProblem({ after, keep, reason }: Lock, hasRisk: boolean): string {
  if (!Number.isFinite(keep.value)) return `${reason} keep of ${keep.value} ${keep.unit} is not a number (R3.8)`;
  if (keep.unit === "R" && !hasRisk) return `${reason} keep in R needs a stop loss on the same order (R3.6)`;
  return distanceProblem(`${reason} after`, after, hasRisk);
}

function distanceProblem(name: string, distance: Distance | null, hasRisk: boolean): string {
  if (!distance) return "";
  if (!(distance.value > 0 && Number.isFinite(distance.value)))
    return `${name} of ${distance.value} ${distance.unit} is not above 0 (R3.6)`;
  return distance.unit === "R" && !hasRisk ? `${name} in R needs a stop loss on the same order (R3.6)` : "";
}
