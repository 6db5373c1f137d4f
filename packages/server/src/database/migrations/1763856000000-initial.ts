import type { MigrationInterface, QueryRunner } from 'typeorm';

export class Initial1763856000000 implements MigrationInterface {
  name = 'Initial1763856000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "workspace" (
        "id" uuid NOT NULL,
        "slug" text NOT NULL,
        "name" text NOT NULL,
        "address" text NOT NULL,
        "branch" text NOT NULL,
        "registry_url" text NOT NULL,
        "opened_at" timestamptz NOT NULL,
        "closed_at" timestamptz,
        CONSTRAINT "workspace_pk" PRIMARY KEY ("id")
      )`);
    await runner.query(`CREATE UNIQUE INDEX "workspace_slug_key" ON "workspace" ("slug")`);
    await runner.query(`
      CREATE TABLE "draft" (
        "id" uuid NOT NULL,
        "workspace_id" uuid NOT NULL,
        "name" text NOT NULL,
        "base_commit" text NOT NULL,
        "edits" jsonb NOT NULL,
        "state" text NOT NULL,
        "created_at" timestamptz NOT NULL,
        "updated_at" timestamptz NOT NULL,
        CONSTRAINT "draft_pk" PRIMARY KEY ("id"),
        CONSTRAINT "draft_workspace_fk" FOREIGN KEY ("workspace_id") REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
    await runner.query(`CREATE INDEX "draft_workspace_idx" ON "draft" ("workspace_id")`);
    await runner.query(`
      CREATE TABLE "post" (
        "id" uuid NOT NULL,
        "workspace_id" uuid NOT NULL,
        "draft_id" uuid NOT NULL,
        "state" text NOT NULL,
        "branch" text NOT NULL,
        "base_commit" text NOT NULL,
        "commit" text NOT NULL,
        "message" text NOT NULL,
        "author_name" text NOT NULL,
        "author_email" text NOT NULL,
        "edits" jsonb NOT NULL,
        "figures" jsonb NOT NULL,
        "lock_sum" text NOT NULL,
        "posted_at" timestamptz NOT NULL,
        CONSTRAINT "post_pk" PRIMARY KEY ("id"),
        CONSTRAINT "post_workspace_fk" FOREIGN KEY ("workspace_id") REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
    await runner.query(`CREATE INDEX "post_workspace_idx" ON "post" ("workspace_id")`);
    await runner.query(`
      CREATE TABLE "registry" (
        "url" text NOT NULL,
        "cursor" text NOT NULL,
        CONSTRAINT "registry_pk" PRIMARY KEY ("url")
      )`);
    await runner.query(`
      CREATE TABLE "package_document" (
        "registry_url" text NOT NULL,
        "name" text NOT NULL,
        "etag" text,
        "body" jsonb,
        "is_outdated" boolean NOT NULL,
        "fetched_at" timestamptz NOT NULL,
        CONSTRAINT "package_document_pk" PRIMARY KEY ("registry_url", "name")
      )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['package_document', 'registry', 'post', 'draft', 'workspace']) {
      await runner.query(`DROP TABLE "${table}"`);
    }
  }
}
