/** A plan counts its saves: one that was made from an older text than the server has is told apart. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class RevisionSchema1764800000000 implements MigrationInterface {
  readonly name = "RevisionSchema1764800000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "plan" ADD COLUMN "revision" integer NOT NULL DEFAULT 0`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "plan" DROP COLUMN "revision"`);
  }
}
