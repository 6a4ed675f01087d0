/** Runs in the background wait for their turn also across a restart. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class QueueSchema1764500000000 implements MigrationInterface {
  readonly name = "QueueSchema1764500000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "queued_run" ("seq" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "id" text NOT NULL, "shown" text NOT NULL, "request" text NOT NULL, "tag" text NOT NULL)`,
    );
    await runner.query(`CREATE UNIQUE INDEX "queued_run_id" ON "queued_run" ("id")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "queued_run"`);
  }
}
