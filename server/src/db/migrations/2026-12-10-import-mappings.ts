/** How files were read, by what they look like. */
import type { MigrationInterface, QueryRunner } from "typeorm";

export class ImportMappings1797100000000 implements MigrationInterface {
  readonly name = "ImportMappings1797100000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "import_mapping" ("shape" text PRIMARY KEY NOT NULL, "mapping" text NOT NULL, "usedMs" integer NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "import_mapping"`);
  }
}
