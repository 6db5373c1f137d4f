import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Whose drafts and posts are, and what approvals were given to. Approvals from before named neither head nor lockfile
 * and are given again; a token whose maker cannot be told by name is revoked.
 */
export class SeenAndSigned1764201600000 implements MigrationInterface {
  name = 'SeenAndSigned1764201600000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "draft" ADD COLUMN "author_email" text`);
    await runner.query(`DELETE FROM "draft_approval"`);
    await runner.query(`ALTER TABLE "draft_approval"
      ADD COLUMN "email" text NOT NULL,
      ADD COLUMN "base_commit" text NOT NULL,
      ADD COLUMN "lock_sum" text NOT NULL`);
    await runner.query(`ALTER TABLE "post"
      ADD COLUMN "committer_name" text,
      ADD COLUMN "committer_email" text,
      ADD COLUMN "approved_by" text[] NOT NULL DEFAULT '{}',
      ADD COLUMN "draft_revision" integer,
      ADD COLUMN "entries" jsonb NOT NULL DEFAULT '[]'`);
    await runner.query(
      `UPDATE "post" SET "committer_name" = "author_name", "committer_email" = "author_email"`,
    );
    await runner.query(`ALTER TABLE "post"
      ALTER COLUMN "committer_name" SET NOT NULL, ALTER COLUMN "committer_email" SET NOT NULL`);
    await runner.query(`ALTER TABLE "token" ADD COLUMN "maker_id" uuid`);
    await runner.query(`ALTER TABLE "token" ADD CONSTRAINT "token_maker_fk"
      FOREIGN KEY ("maker_id") REFERENCES "account" ("id") ON DELETE CASCADE`);
    await runner.query(`UPDATE "token" SET "maker_id" = "account"."id" FROM "account"
      WHERE "account"."shown_name" = "token"."made_by" AND NOT EXISTS (
        SELECT FROM "account" "other"
        WHERE "other"."shown_name" = "token"."made_by" AND "other"."id" <> "account"."id")`);
    await runner.query(
      `UPDATE "token" SET "revoked_at" = now() WHERE "maker_id" IS NULL AND "revoked_at" IS NULL`,
    );
    await runner.query(`ALTER TABLE "workspace"
      ADD COLUMN "credentials" text, ADD COLUMN "registry_credentials" text`);
    // Documents can be fetched again. Addresses with credentials in them were part of the key.
    await runner.query(`DELETE FROM "package_document" WHERE "registry_url" ~ '^https?://[^/]*@'`);
    await runner.query(`DELETE FROM "registry" WHERE "url" ~ '^https?://[^/]*@'`);
    await runner.query(`ALTER TABLE "package_document" ADD COLUMN "sum" text`);
    await runner.query(`UPDATE "package_document"
      SET "sum" = CASE WHEN "body" IS NULL THEN '' ELSE md5("body"::text) END`);
    await runner.query(`ALTER TABLE "package_document" ALTER COLUMN "sum" SET NOT NULL`);
    await runner.query(`ALTER TABLE "source_scan"
      ADD COLUMN "found_at" timestamptz NOT NULL DEFAULT now()`);
    await runner.query(`CREATE INDEX "source_scan_found_idx" ON "source_scan" ("found_at")`);
    await runner.query(`ALTER TABLE "job"
      ADD COLUMN "claimed_by" uuid, ADD COLUMN "lease_until" timestamptz`);
    await runner.query(`CREATE TABLE "merge_approval" (
      "workspace_id" uuid NOT NULL,
      "account_id" uuid NOT NULL,
      "name" text NOT NULL,
      "email" text NOT NULL,
      "ours" text NOT NULL,
      "theirs" text NOT NULL,
      "result" text NOT NULL,
      "at" timestamptz NOT NULL,
      CONSTRAINT "merge_approval_pk" PRIMARY KEY ("workspace_id", "account_id", "ours", "theirs"),
      CONSTRAINT "merge_approval_workspace_fk" FOREIGN KEY ("workspace_id")
        REFERENCES "workspace" ("id") ON DELETE CASCADE,
      CONSTRAINT "merge_approval_account_fk" FOREIGN KEY ("account_id")
        REFERENCES "account" ("id") ON DELETE CASCADE)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "merge_approval"`);
    await runner.query(`ALTER TABLE "source_scan" DROP COLUMN "found_at"`);
    await runner.query(`ALTER TABLE "job" DROP COLUMN "claimed_by", DROP COLUMN "lease_until"`);
    await runner.query(`ALTER TABLE "package_document" DROP COLUMN "sum"`);
    await runner.query(`ALTER TABLE "workspace"
      DROP COLUMN "credentials", DROP COLUMN "registry_credentials"`);
    await runner.query(`ALTER TABLE "token" DROP COLUMN "maker_id"`);
    await runner.query(`ALTER TABLE "post"
      DROP COLUMN "committer_name", DROP COLUMN "committer_email", DROP COLUMN "approved_by",
      DROP COLUMN "draft_revision", DROP COLUMN "entries"`);
    await runner.query(`ALTER TABLE "draft_approval"
      DROP COLUMN "email", DROP COLUMN "base_commit", DROP COLUMN "lock_sum"`);
    await runner.query(`ALTER TABLE "draft" DROP COLUMN "author_email"`);
  }
}
