/** Sweeps that search: the points they tried. Rows of figures take in the years that ended in profit. Stitched runs name their walk-forward. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const FIGURES_BEFORE = 10;
const FIGURES_NOW = 11;
const BYTES = 8;

interface StoredFigures {
  readonly id: string;
  readonly figures: Buffer;
}

/** Rows with one more column, which is not known of old sweeps. */
export function widened(figures: Buffer, before = FIGURES_BEFORE, now = FIGURES_NOW): Buffer {
  const rows = figures.byteLength / (before * BYTES);
  const wide = new Float64Array(rows * now).fill(Number.NaN);
  const old = new Float64Array(figures.buffer.slice(figures.byteOffset, figures.byteOffset + figures.byteLength));
  for (let row = 0; row < rows; row++) wide.set(old.subarray(row * before, (row + 1) * before), row * now);
  return Buffer.from(wide.buffer);
}

export class SearchSchema1764200000000 implements MigrationInterface {
  readonly name = "SearchSchema1764200000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run" ADD COLUMN "walkForwardId" text NOT NULL DEFAULT ''`);
    await runner.query(
      `UPDATE "run" SET "walkForwardId" = "walk"."id" FROM "walk_forward" AS "walk" WHERE json_extract("walk"."windows", '$.runId') = "run"."id"`,
    );
    for (const column of ["done", "result"]) await runner.query(`ALTER TABLE "walk_forward" DROP COLUMN "${column}"`);
    await runner.query(`ALTER TABLE "sweep" ADD COLUMN "points" blob`);
    const rows = (await runner.query(`SELECT "id", "figures" FROM "sweep"`)) as StoredFigures[];
    for (const { id, figures } of rows) await runner.query(`UPDATE "sweep" SET "figures" = ? WHERE "id" = ?`, [widened(figures), id]);
    await runner.query(
      `UPDATE "sweep" SET "request" = json_set("request", '$.search.method', 'spread') WHERE json_type("request", '$.search') = 'object'`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "sweep" DROP COLUMN "points"`);
    await runner.query(`ALTER TABLE "walk_forward" ADD COLUMN "done" integer NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "walk_forward" ADD COLUMN "result" blob`);
    await runner.query(`ALTER TABLE "run" DROP COLUMN "walkForwardId"`);
  }
}
