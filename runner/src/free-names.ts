/** Names that a script uses and nowhere declares: the usual reason why something is "undefined". */
import type { AnyNode } from "acorn";
import { full } from "acorn-walk";

interface Pattern {
  readonly type: string;
  readonly name?: string;
  readonly [part: string]: unknown;
}

/** Names that a pattern binds: `a`, `{ b, c: [d] }`, `e = 1`, `...f`. */
function boundBy(pattern: Pattern | null, into: Set<string>): void {
  if (!pattern) return;
  switch (pattern.type) {
    case "Identifier":
      into.add(pattern.name!);
      return;
    case "ObjectPattern":
      for (const part of pattern.properties as Pattern[]) boundBy((part.type === "RestElement" ? part : part.value) as Pattern, into);
      return;
    case "ArrayPattern":
      for (const part of pattern.elements as (Pattern | null)[]) boundBy(part, into);
      return;
    case "AssignmentPattern":
      return boundBy(pattern.left as Pattern, into);
    case "RestElement":
      return boundBy(pattern.argument as Pattern, into);
  }
}

/** A name, and the offset in the script at which it is used. */
export interface FreeName {
  readonly name: string;
  readonly at: number;
}

/** Every use of a name that is declared nowhere in the script, in whichever scope: what is found is missing for sure. */
export function freeNames(tree: AnyNode): FreeName[] {
  const declared = new Set<string>(["arguments", "exports", "require"]);
  const used: FreeName[] = [];
  full(tree, (node) => {
    const part = node as unknown as Pattern & { readonly start: number };
    switch (part.type) {
      case "VariableDeclarator":
        return boundBy(part.id as Pattern, declared);
      case "FunctionDeclaration":
      case "FunctionExpression":
      case "ArrowFunctionExpression":
        boundBy((part.id ?? null) as Pattern | null, declared);
        for (const parameter of part.params as Pattern[]) boundBy(parameter, declared);
        return;
      case "ClassDeclaration":
      case "ClassExpression":
        return boundBy((part.id ?? null) as Pattern | null, declared);
      case "CatchClause":
        return boundBy((part.param ?? null) as Pattern | null, declared);
      case "Identifier":
        used.push({ name: part.name!, at: part.start });
    }
  });
  return used.filter(({ name }) => !declared.has(name));
}
