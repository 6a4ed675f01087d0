/** What is deleted waits in a bin, so that it can come back; runs say whether their name was given by hand and when they were compared. */
import type { MigrationInterface, QueryRunner } from "typeorm";

const TABLES = ["plan", "run", "sweep", "walk_forward", "instrument"];

export class BinSchema1765000000000 implements MigrationInterface {
  readonly name = "BinSchema1765000000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(`ALTER TABLE "${table}" ADD COLUMN "deletedMs" integer NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "run" ADD COLUMN "isNamed" boolean NOT NULL DEFAULT 1`);
    // Runs of a batch were kept under a name that nobody gave them; which of them were renamed since nobody can say.
    await runner.query(`UPDATE "run" SET "isNamed" = 0 WHERE "batch" <> ''`);
    await runner.query(`ALTER TABLE "run" ADD COLUMN "comparedMs" integer NOT NULL DEFAULT 0`);
  }

  /** What is in the bin goes. */
  async down(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) {
      await runner.query(`DELETE FROM "${table}" WHERE "deletedMs" > 0`);
      await runner.query(`ALTER TABLE "${table}" DROP COLUMN "deletedMs"`);
    }
    for (const column of ["isNamed", "comparedMs"]) await runner.query(`ALTER TABLE "run" DROP COLUMN "${column}"`);
  }
}
