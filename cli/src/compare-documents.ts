/** Two run documents, field by field. */

/** Where two values first differ: the path of the field, and what each says. */
export interface FieldDifference {
  readonly path: string;
  readonly document: unknown;
  readonly again: unknown;
}

/** Facts of when and how a document was made, which say nothing of the run. */
const NOT_COMPARED = new Set(["elapsedMs", "notices"]);

const isBranch = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null;

/** The first difference of two JSON values in the order of the fields of both; null where they are the same. */
export function firstFieldDifference(document: unknown, again: unknown, path = ""): FieldDifference | null {
  if (!isBranch(document) || !isBranch(again)) return Object.is(document, again) ? null : { path, document, again };
  if (Array.isArray(document) !== Array.isArray(again)) return { path, document, again };
  for (const name of new Set([...Object.keys(again), ...Object.keys(document)])) {
    if (path === "" && NOT_COMPARED.has(name)) continue;
    const below = Array.isArray(again) ? `${path}[${name}]` : path ? `${path}.${name}` : name;
    const found = firstFieldDifference(document[name], again[name], below);
    if (found) return found;
  }
  return null;
}
