/** What lists of instruments show of their bars is kept beside them: no list loads a bar. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class ThumbnailSchema1764700000000 implements MigrationInterface {
  readonly name = "ThumbnailSchema1764700000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "bar_set" ADD COLUMN "thumbnail" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "bar_set" DROP COLUMN "thumbnail"`);
  }
}
