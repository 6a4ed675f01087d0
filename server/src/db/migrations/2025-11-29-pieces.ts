/** Runs and bars are written in small pieces, so that no write grows with them; the last draft of each plan outlives the server. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const STATEMENTS = [
  `CREATE TABLE "run_part" ("runId" text NOT NULL, "part" text NOT NULL, "seq" integer NOT NULL, "bytes" blob NOT NULL, PRIMARY KEY ("runId", "part", "seq"))`,
  ...["evidence", "orders", "columns"].map(
    (part) => `INSERT INTO "run_part" ("runId", "part", "seq", "bytes") SELECT "runId", '${part}', 0, "${part}" FROM "run_body"`,
  ),
  `DROP TABLE "run_body"`,
  `CREATE TABLE "draft_run" ("planId" text PRIMARY KEY NOT NULL, "runId" text NOT NULL)`,
  `ALTER TABLE "trial" DROP COLUMN "sharpeVariance"`,
  `CREATE TABLE "workspace" ("name" text PRIMARY KEY NOT NULL, "value" text NOT NULL)`,
  `ALTER TABLE "bar_set" ADD COLUMN "isComplete" boolean NOT NULL DEFAULT 1`,
  `DROP INDEX "bar_set_symbol"`,
  `CREATE INDEX "bar_set_symbol" ON "bar_set" ("symbol")`,
];

export class PieceSchema1764400000000 implements MigrationInterface {
  readonly name = "PieceSchema1764400000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  /** Runs made since then have parts that the older table can't hold; they go. */
  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "run_body" ("runId" text PRIMARY KEY NOT NULL, "evidence" blob NOT NULL, "orders" blob NOT NULL, "columns" blob NOT NULL, CONSTRAINT "run_body_run" FOREIGN KEY ("runId") REFERENCES "run" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)`,
    );
    await runner.query(
      `INSERT INTO "run_body" SELECT e."runId", e."bytes", o."bytes", c."bytes" FROM "run_part" e
        JOIN "run_part" o ON o."runId" = e."runId" AND o."part" = 'orders' JOIN "run_part" c ON c."runId" = e."runId" AND c."part" = 'columns'
        WHERE e."part" = 'evidence'`,
    );
    await runner.query(`DELETE FROM "run" WHERE "id" NOT IN (SELECT "runId" FROM "run_body")`);
    await runner.query(`DELETE FROM "bar_set" WHERE NOT "isComplete"`);
    await runner.query(`DROP INDEX "bar_set_symbol"`);
    await runner.query(`CREATE UNIQUE INDEX "bar_set_symbol" ON "bar_set" ("symbol")`);
    await runner.query(`ALTER TABLE "bar_set" DROP COLUMN "isComplete"`);
    await runner.query(`DROP TABLE "run_part"`);
    await runner.query(`DROP TABLE "draft_run"`);
    await runner.query(`DROP TABLE "workspace"`);
    await runner.query(`ALTER TABLE "trial" ADD COLUMN "sharpeVariance" real`);
  }
}
