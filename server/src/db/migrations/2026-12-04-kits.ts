/** Exit kits of the workspace, each under a name of its own. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class Kits1796500000000 implements MigrationInterface {
  readonly name = "Kits1796500000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "kit" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "description" text NOT NULL, "kit" text NOT NULL, "createdMs" integer NOT NULL, "updatedMs" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "kit"`);
  }
}
