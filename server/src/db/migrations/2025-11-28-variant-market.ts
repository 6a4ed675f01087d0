/** Variants may belong to a market; those from before go with any. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class VariantMarketSchema1764300000000 implements MigrationInterface {
  readonly name = "VariantMarketSchema1764300000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "variant" ADD COLUMN "market" text NOT NULL DEFAULT 'null'`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "variant" DROP COLUMN "market"`);
  }
}
