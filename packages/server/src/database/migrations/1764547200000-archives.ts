import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Archives that the mirror keeps, who names them, and how far it is with each workspace. */
export class Archives1764547200000 implements MigrationInterface {
  name = 'Archives1764547200000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "archive" (
      "digest" text NOT NULL, "name" text NOT NULL, "version" text NOT NULL, "integrity" text NOT NULL, "bytes" bigint NOT NULL,
      "kept_at" timestamptz NOT NULL, "checked_at" timestamptz NOT NULL, "sent_at" timestamptz, "unused_since" timestamptz,
      CONSTRAINT "archive_pk" PRIMARY KEY ("digest"))`);
    await runner.query(`CREATE TABLE "archive_use" (
      "workspace_id" uuid NOT NULL, "digest" text NOT NULL, "name" text NOT NULL, "version" text NOT NULL,
      "registry" text NOT NULL, "branches" text[] NOT NULL, "is_gone" boolean NOT NULL, "trouble" text,
      CONSTRAINT "archive_use_pk" PRIMARY KEY ("workspace_id", "digest"),
      CONSTRAINT "archive_use_workspace_fk" FOREIGN KEY ("workspace_id") REFERENCES "workspace" ("id") ON DELETE CASCADE)`);
    await runner.query(`CREATE INDEX "archive_use_digest_idx" ON "archive_use" ("digest")`);
    await runner.query(`CREATE TABLE "archive_round" (
      "workspace_id" uuid NOT NULL, "sum" text NOT NULL, "at" timestamptz NOT NULL, "branches" integer NOT NULL,
      "unsound" integer NOT NULL, CONSTRAINT "archive_round_pk" PRIMARY KEY ("workspace_id"),
      CONSTRAINT "archive_round_workspace_fk" FOREIGN KEY ("workspace_id") REFERENCES "workspace" ("id") ON DELETE CASCADE)`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "archive_round"`);
    await runner.query(`DROP TABLE "archive_use"`);
    await runner.query(`DROP TABLE "archive"`);
  }
}
