/** What takes space in the data folder's file, read beside the server: lengths are looked up, contents are not read. */
import Sqlite from "better-sqlite3";

export interface StorageFacts {
  readonly fileBytes: number;
  /** Of pages that hold nothing: what compacting gives back. */
  readonly emptyBytes: number;
  readonly bars: { readonly count: number; readonly bytes: number };
  readonly runs: { readonly count: number; readonly bytes: number };
  readonly drafts: { readonly count: number; readonly bytes: number };
  readonly sweeps: { readonly count: number; readonly bytes: number };
  readonly versions: { readonly count: number; readonly bytes: number };
  readonly deleted: { readonly count: number; readonly bytes: number };
}

type Part = StorageFacts["bars"];

const PARTS: Readonly<Record<"bars" | "runs" | "drafts" | "sweeps" | "versions" | "deleted", string>> = {
  bars: `SELECT count(DISTINCT "set"."symbol") AS "count", coalesce(sum(length("chunk"."data")), 0) AS "bytes" FROM "bar_chunk" "chunk"
    JOIN "bar_set" "set" ON "set"."id" = "chunk"."barSetId" JOIN "instrument" USING ("symbol") WHERE "deletedMs" = 0`,
  runs: `SELECT count(DISTINCT "runId") AS "count", coalesce(sum(length("bytes")), 0) AS "bytes" FROM "run_part" JOIN "run" ON "run"."id" = "runId" WHERE "deletedMs" = 0`,
  drafts: `SELECT count(DISTINCT "runId") AS "count", coalesce(sum(length("bytes")), 0) AS "bytes" FROM "run_part" WHERE "runId" NOT IN (SELECT "id" FROM "run")`,
  sweeps: `SELECT count(DISTINCT "sweepId") AS "count", coalesce(sum(length("bytes")), 0) AS "bytes" FROM "sweep_piece" JOIN "sweep" ON "sweep"."id" = "sweepId" WHERE "deletedMs" = 0`,
  versions: `SELECT count(*) AS "count", coalesce(sum(length("source")), 0) AS "bytes" FROM "plan_version"`,
  deleted: `SELECT (SELECT count(*) FROM "plan" WHERE "deletedMs" > 0) + (SELECT count(*) FROM "run" WHERE "deletedMs" > 0) + (SELECT count(*) FROM "sweep" WHERE "deletedMs" > 0)
    + (SELECT count(*) FROM "walk_forward" WHERE "deletedMs" > 0) + (SELECT count(*) FROM "instrument" WHERE "deletedMs" > 0) AS "count",
    (SELECT coalesce(sum(length("bytes")), 0) FROM "run_part" JOIN "run" ON "run"."id" = "runId" WHERE "deletedMs" > 0)
    + (SELECT coalesce(sum(length("bytes")), 0) FROM "sweep_piece" JOIN "sweep" ON "sweep"."id" = "sweepId" WHERE "deletedMs" > 0)
    + (SELECT coalesce(sum(length("chunk"."data")), 0) FROM "bar_chunk" "chunk" JOIN "bar_set" "set" ON "set"."id" = "chunk"."barSetId" JOIN "instrument" USING ("symbol") WHERE "deletedMs" > 0) AS "bytes"`,
};

export function storageFacts(file: string): StorageFacts {
  const database = new Sqlite(file, { readonly: true });
  try {
    const pragma = (name: string): number => database.pragma(name, { simple: true }) as number;
    const pageBytes = pragma("page_size");
    const part = (sql: string): Part => database.prepare(sql).get() as Part;
    return {
      fileBytes: pragma("page_count") * pageBytes,
      emptyBytes: pragma("freelist_count") * pageBytes,
      ...{ bars: part(PARTS.bars), runs: part(PARTS.runs), drafts: part(PARTS.drafts) },
      ...{ sweeps: part(PARTS.sweeps), versions: part(PARTS.versions), deleted: part(PARTS.deleted) },
    };
  } finally {
    database.close();
  }
}

/** Writes the file anew without its empty pages. Nobody may be writing meanwhile. */
export function compact(file: string): void {
  const database = new Sqlite(file);
  try {
    database.exec("VACUUM");
    database.pragma("wal_checkpoint(TRUNCATE)");
  } finally {
    database.close();
  }
}
