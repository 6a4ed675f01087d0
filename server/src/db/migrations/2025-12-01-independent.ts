/** How many independent settings those of a sweep amount to is noted beside how many there were. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class IndependentSchema1764600000000 implements MigrationInterface {
  readonly name = "IndependentSchema1764600000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "trial" ADD COLUMN "independent" real`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "trial" DROP COLUMN "independent"`);
  }
}
