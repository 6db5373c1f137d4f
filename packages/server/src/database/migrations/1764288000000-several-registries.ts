import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Workspaces may use several registries. The one that there was stands under no name, for whichever is the only one. */
export class SeveralRegistries1764288000000 implements MigrationInterface {
  name = 'SeveralRegistries1764288000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "workspace" ADD COLUMN "registries" jsonb`);
    await runner.query(`UPDATE "workspace" SET "registries" = jsonb_build_object('',
      jsonb_build_object('url', "registry_url", 'credentials', "registry_credentials"))`);
    await runner.query(`ALTER TABLE "workspace"
      ALTER COLUMN "registries" SET NOT NULL,
      DROP COLUMN "registry_url", DROP COLUMN "registry_credentials"`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "workspace"
      ADD COLUMN "registry_url" text, ADD COLUMN "registry_credentials" text`);
    await runner.query(`UPDATE "workspace" SET
      "registry_url" = coalesce((SELECT value->>'url' FROM jsonb_each("registries") LIMIT 1), ''),
      "registry_credentials" =
        (SELECT value->>'credentials' FROM jsonb_each("registries") LIMIT 1)`);
    await runner.query(`ALTER TABLE "workspace" ALTER COLUMN "registry_url" SET NOT NULL`);
    await runner.query(`ALTER TABLE "workspace" DROP COLUMN "registries"`);
  }
}
