/** What readers of a plan's program ask of its syntax tree. */
import type { Node } from "acorn";

/** A node with the fields that are asked for here; which it has depends on its type. */
export interface Part extends Node {
  readonly name?: string;
  readonly computed?: boolean;
  readonly callee?: Part;
  readonly object?: Part;
  readonly property?: Part;
  readonly properties?: readonly Part[];
  readonly elements?: readonly (Part | null)[];
  readonly arguments?: readonly Part[];
  readonly argument?: Part | null;
  readonly operator?: string;
  readonly left?: Part;
  readonly right?: Part;
  readonly key?: Part;
  readonly value?: unknown;
  readonly id?: Part;
  readonly init?: Part | null;
  readonly test?: Part;
  readonly body?: Part | readonly Part[];
  readonly params?: readonly Part[];
  readonly declarations?: readonly Part[];
  readonly expression?: Part | boolean;
  readonly consequent?: Part;
  readonly alternate?: Part | null;
}

export const lineOf = (node: Node): number => node.loc?.start.line ?? 0;
export const argumentsOf = (call: Part): readonly Part[] => call.arguments ?? [];

/** Value of a property of an object written out in the source. */
export const propertyOf = (object: Part | undefined, name: string): Part | undefined =>
  object?.properties?.find((property) => property.key?.name === name)?.value as Part | undefined;

/** `enter.long`, `exit.short` and the like, of any market: which verb and side a call is about, or null. */
export function sideOf(call: Part): { readonly verb: "enter" | "exit"; readonly side: "long" | "short" } | null {
  let node: Part | undefined = call.callee;
  while (node?.type === "MemberExpression") {
    const side = node.property?.name;
    const verb = node.object?.name ?? node.object?.property?.name;
    if ((side === "long" || side === "short") && (verb === "enter" || verb === "exit")) return { verb, side };
    node = node.object;
  }
  return null;
}
