/** Sources that were deleted wait in the bin, with what they have taken. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class SourcesInTheBin1797500000000 implements MigrationInterface {
  readonly name = "SourcesInTheBin1797500000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "source" ADD COLUMN "deletedMs" integer NOT NULL DEFAULT 0`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "source" DROP COLUMN "deletedMs"`);
  }
}
