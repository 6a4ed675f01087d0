/**
 * A condition put in the place of one that a plan names, to see what that one earns: always, never, or the condition as it
 * stood some bars ago, which holds as often and as long at a time but knows nothing of the bar.
 */
import { newBits, startAt } from "../studies/growth.ts";
import { Condition, Crossing, deriveFlags, flagsOf, State, scopeOfCondition } from "./columns.ts";
import { bitsOf, type FlagEntry, ONE_RUN } from "./study-store.ts";

export type Alteration =
  | { readonly as: "always" | "never" }
  /** As it stood n bars ago. `share`, from 0 to 1, says where n lies between a session and a third of its bars. */
  | { readonly as: "earlier"; readonly share: number };

/**
 * What stands in for a condition; another value stays what it is. It is known from the same bar on, and a crossing stays a
 * crossing. What stood too early to be known is taken from the end of the bars, as on a circle, so that the whole period counts.
 */
export const altered = (value: unknown, alteration: Alteration): unknown =>
  value instanceof Condition ? alteredCondition(value, alteration) : value;

function alteredCondition(condition: Condition, alteration: Alteration): Condition {
  const from = flagsOf(condition);
  const kind = condition instanceof Crossing ? Crossing : State;
  const scope = scopeOfCondition(condition);
  if (alteration.as !== "earlier") {
    const bit = alteration.as === "always" ? 1 : 0;
    return deriveFlags(scope, `${ONE_RUN}${alteration.as}(${from.key})`, kind, 0, [from], (_bars, parts) => {
      const part = parts[0] as FlagEntry;
      const bits = newBits(part.length);
      bits.fill(bit, startAt(part.first));
      return { bits, first: part.first };
    });
  }
  const back = barsBack(scope.store.bars, from.first, alteration.share);
  return deriveFlags(scope, `${ONE_RUN}${back}(${from.key})`, kind, back, [from], (_bars, parts) => {
    const part = parts[0] as FlagEntry;
    const source = bitsOf(part);
    const { length: n, first } = part;
    const bits = newBits(n);
    const known = n - first;
    for (let i = startAt(first); i < n; i++) bits[i] = source[i - back >= first ? i - back : i - back + known]!;
    return { bits, first };
  });
}

function barsBack({ length, session }: { readonly length: number; readonly session: Int32Array }, first: number, share: number): number {
  const known = Math.max(1, length - first);
  const sessions = length === 0 ? 1 : session[length - 1]! - session[0]! + 1;
  const least = Math.min(Math.ceil(length / sessions), known - 1);
  const most = Math.max(least, Math.floor(known / 3));
  return Math.min(most, least + Math.floor(share * (most - least + 1)));
}
