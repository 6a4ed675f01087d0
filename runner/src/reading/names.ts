/** What the names of a plan's program stand for: constants, functions, inputs. */
import type { Node } from "acorn";
import { full } from "acorn-walk";
import { argumentsOf, type Part, propertyOf } from "../syntax.ts";

export interface Names {
  /** Constants by name, with what they are set to; the last one of a name. */
  readonly constants: ReadonlyMap<string, Part>;
  readonly functions: ReadonlyMap<string, Part>;
  /** Declared inputs, with what each is where nothing else is set, in words. */
  readonly inputs: ReadonlyMap<string, string>;
  /** The function `build` of the plan. */
  readonly build: Part | null;
}

const isFunction = ({ type }: Part): boolean => type === "ArrowFunctionExpression" || type === "FunctionExpression";

export function namesOf(tree: Node): Names {
  const constants = new Map<string, Part>();
  const functions = new Map<string, Part>();
  const inputs = new Map<string, string>();
  let build: Part | null = null;
  full(tree, (node) => {
    const part = node as Part;
    if (part.type === "FunctionDeclaration" && part.id?.name) functions.set(part.id.name, part);
    if (part.type === "VariableDeclaration" && (part as unknown as { kind: string }).kind === "const")
      for (const { id, init } of part.declarations ?? []) {
        if (!init) continue;
        if (id?.name) (isFunction(init) ? functions : constants).set(id.name, init);
        // Case: const { upper, lower } = bollinger(...).
        else for (const { key, value } of id?.properties ?? []) keepPart(constants, key, value as Part, init);
      }
    if (part.type !== "CallExpression" || part.callee?.name !== "plan") return;
    const declared = argumentsOf(part)[0];
    build = propertyOf(declared, "build") ?? null;
    for (const { key, value } of propertyOf(declared, "inputs")?.properties ?? []) {
      const first = argumentsOf(value as Part)[0];
      if (key?.name && first?.type === "Literal") inputs.set(key.name, String(first.value));
    }
  });
  return { constants, functions, inputs, build };
}

/** A name taken out of an object: as if it were written `object.name`. */
function keepPart(constants: Map<string, Part>, key: Part | undefined, value: Part, object: Part): void {
  const name = value?.name;
  if (!key?.name || !name) return;
  const { start, end } = object;
  constants.set(name, { type: "MemberExpression", computed: false, object, property: key, start, end } as Part);
}
