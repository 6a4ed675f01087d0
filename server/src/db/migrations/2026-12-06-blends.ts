/** Blends: kept runs on one account, with sizes. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class Blends1796700000000 implements MigrationInterface {
  readonly name = "Blends1796700000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "blend" ("deletedMs" integer NOT NULL DEFAULT (0), "id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "note" text NOT NULL, "setup" text NOT NULL, "revision" integer NOT NULL, "createdMs" integer NOT NULL, "updatedMs" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "blend"`);
  }
}
