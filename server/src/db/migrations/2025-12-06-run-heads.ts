/** Runs of the first version have head and trades in one part; from here on every run has them apart. */
import { deflateRawSync, inflateRawSync } from "node:zlib";
import type { MigrationInterface, QueryRunner } from "typeorm";

const PIECE_BYTES = 512 * 1024;

export class RunHeads1765100000000 implements MigrationInterface {
  readonly name = "RunHeads1765100000000";

  async up(runner: QueryRunner): Promise<void> {
    const runs: { runId: string }[] = await runner.query(`SELECT DISTINCT "runId" FROM "run_part" WHERE "part" = 'evidence'`);
    for (const { runId } of runs) {
      const pieces: { bytes: Buffer }[] = await runner.query(
        `SELECT "bytes" FROM "run_part" WHERE "runId" = ? AND "part" = 'evidence' ORDER BY "seq"`,
        [runId],
      );
      const { trades, ...head } = JSON.parse(Buffer.concat(pieces.map(({ bytes }) => inflateRawSync(bytes))).toString());
      for (const [part, value] of Object.entries({ head, trades })) {
        const whole = Buffer.from(JSON.stringify(value));
        for (let seq = 0; seq * PIECE_BYTES < whole.length; seq++)
          await runner.query(`INSERT INTO "run_part" ("runId", "part", "seq", "bytes") VALUES (?, ?, ?, ?)`, [
            ...[runId, part, seq],
            deflateRawSync(whole.subarray(seq * PIECE_BYTES, (seq + 1) * PIECE_BYTES), { level: 1 }),
          ]);
      }
    }
    await runner.query(`DELETE FROM "run_part" WHERE "part" = 'evidence'`);
  }

  /** The version before reads runs with head and trades apart too. */
  async down(): Promise<void> {}
}
