/** Luck tests: what a sweep's search found on markets without memory. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class LuckTests1796800000000 implements MigrationInterface {
  readonly name = "LuckTests1796800000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "luck_test" ("sweepId" text PRIMARY KEY NOT NULL, "status" text NOT NULL, "asked" integer NOT NULL, "best" real NOT NULL, "ratios" text NOT NULL, "elapsedMs" integer NOT NULL, "error" text NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "luck_test"`);
  }
}
