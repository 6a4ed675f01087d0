/** The long parts of runs in the database: compressed, written and read in pieces with pauses between. */
import { setImmediate as breathe } from "node:timers/promises";
import type { Database } from "../../db/database.ts";
import { deflated, inflated } from "../../db/deflated.ts";
import { RunPartEntity } from "../../db/entities.ts";

/** What one statement writes or reads, bytes: a millisecond or two. */
const PIECE_BYTES = 512 * 1024;

export type StoredPart = "head" | "trades" | "orders" | "columns";

/** No piece is larger than is good for one statement. */
function* inPieces(given: readonly Uint8Array[]): Generator<Uint8Array> {
  for (const bytes of given) for (let at = 0; at < bytes.length; at += PIECE_BYTES) yield bytes.subarray(at, at + PIECE_BYTES);
}

export class RunParts {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** Each piece is a write of its own, and may take the place of one that an attempt before it left: nothing points to the parts of a run before all are there. */
  async write(runId: string, parts: Readonly<Partial<Record<StoredPart, readonly Uint8Array[]>>>): Promise<void> {
    for (const [part, given] of Object.entries(parts)) {
      let seq = 0;
      for (const piece of inPieces(given)) {
        const bytes = await deflated(piece);
        const row = { runId, part, seq: seq++, bytes };
        await this.#database.write((manager) => manager.upsert(RunPartEntity, row, ["runId", "part", "seq"]));
        await breathe();
      }
    }
  }

  /** Pieces of a part; null where the run has no such part. */
  async read(runId: string, part: StoredPart): Promise<Buffer[] | null> {
    const pieces: Buffer[] = [];
    for (let seq = 0; ; seq++) {
      const piece = await this.#database.read.findOneBy(RunPartEntity, { runId, part, seq });
      if (!piece) break;
      pieces.push(await inflated(piece.bytes));
    }
    return pieces.length > 0 ? pieces : null;
  }

  async remove(runId: string): Promise<void> {
    const rows = await this.#database.read.find(RunPartEntity, { select: { runId: true, part: true, seq: true }, where: { runId } });
    for (const { part, seq } of rows) {
      await this.#database.write((manager) => manager.delete(RunPartEntity, { runId, part, seq }));
      await breathe();
    }
  }

  /** Removes what a server that was cut off left behind: parts that neither a kept run nor a draft points to. */
  async removeOrphans(): Promise<void> {
    const orphans = await this.#database.read.query<{ runId: string }[]>(
      `SELECT DISTINCT "runId" FROM "run_part" WHERE "runId" NOT IN (SELECT "id" FROM "run" UNION SELECT "runId" FROM "draft_run")`,
    );
    for (const { runId } of orphans) await this.remove(runId);
  }
}
