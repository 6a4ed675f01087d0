/** Documents as columns: written as JSON text with their version, read as what they are. */
import { configure } from "safe-stable-stringify";
import type { EntityManager, EntitySchemaColumnOptions } from "typeorm";
import { type Document, type DocumentKind, STEPS } from "./steps.ts";

/** Name under which a stored document carries its version; one without it is of version 0. */
const VERSION = "documentVersion";

export const currentVersion = (kind: DocumentKind): number => STEPS[kind].length;

/** A stored document as the present version has it. */
export function broughtUp(kind: DocumentKind, stored: Document): Document {
  const { [VERSION]: version = 0, ...document } = stored;
  return STEPS[kind].slice(Number(version)).reduce<Document>((before, step) => step(before), document);
}

const stringify = configure({ deterministic: true });

/** A document as it is stored: with its version, its fields in one order, so that the same document is the same text. */
export const writtenDown = (kind: DocumentKind, document: object): string => stringify({ ...document, [VERSION]: currentVersion(kind) })!;

export const readBack = <T>(kind: DocumentKind, text: string): T => broughtUp(kind, JSON.parse(text) as Document) as T;

/** Written as JSON text, read as what it was. */
export const json = { type: "simple-json" } as const;

/** As that, where null is a value too. */
export const jsonOrNull = {
  type: "text",
  transformer: { to: JSON.stringify, from: JSON.parse },
} as const satisfies EntitySchemaColumnOptions;

/** A column of documents of one kind. */
export const documents = (kind: DocumentKind) =>
  ({
    type: "text",
    transformer: {
      // Conditions of a query are given as they are.
      to: (value: unknown) => (value !== null && typeof value === "object" ? writtenDown(kind, value) : value),
      from: (text: string | null) => (text === null ? null : readBack(kind, text)),
    },
  }) as const satisfies EntitySchemaColumnOptions;

interface Place {
  readonly table: string;
  readonly column: string;
  readonly kind: DocumentKind;
}

/** Every column that holds documents. */
export const PLACES: readonly Place[] = [
  { table: "instrument", column: "facts", kind: "instrument" },
  { table: "instrument_version", column: "facts", kind: "instrument" },
  { table: "plan", column: "settings", kind: "settings" },
  { table: "plan_version", column: "settings", kind: "settings" },
  { table: "run", column: "settings", kind: "settings" },
  { table: "trial", column: "settings", kind: "settings" },
  { table: "watch", column: "settings", kind: "settings" },
  { table: "sweep", column: "request", kind: "sweep request" },
  { table: "walk_forward", column: "request", kind: "walk-forward request" },
];

/** The steps of all kinds: what the file says as its version when all of its documents have taken them. */
const ALL_STEPS = Object.values(STEPS).reduce((sum, steps) => sum + steps.length, 0);

/**
 * Brings every document of a file up to the present version, so that the same settings are the same text: the journal counts
 * them by that. Done once after a change of version.
 * @returns how many were brought up.
 */
export async function bringUpAll(manager: EntityManager): Promise<number> {
  const [file] = await manager.query<{ user_version: number }[]>("PRAGMA user_version");
  if (file?.user_version === ALL_STEPS) return 0;
  let count = 0;
  for (const { table, column, kind } of PLACES) {
    const rows = await manager.query<{ rowid: number; text: string }[]>(
      `SELECT rowid, "${column}" AS "text" FROM "${table}" WHERE coalesce(json_extract("${column}", '$.${VERSION}'), 0) <> ?`,
      [currentVersion(kind)],
    );
    for (const { rowid, text } of rows) {
      const document = writtenDown(kind, readBack<Document>(kind, text));
      await manager.query(`UPDATE "${table}" SET "${column}" = ? WHERE rowid = ?`, [document, rowid]);
    }
    count += rows.length;
  }
  await manager.query(`PRAGMA user_version = ${ALL_STEPS}`);
  return count;
}
