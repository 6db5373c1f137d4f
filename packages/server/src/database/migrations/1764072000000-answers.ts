import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What worker processes work out for servers. */
export class Answers1764072000000 implements MigrationInterface {
  name = 'Answers1764072000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "answer" (
        "workspace_id" uuid NOT NULL,
        "key" text NOT NULL,
        "commit" text NOT NULL,
        "question" jsonb NOT NULL,
        "found" bytea,
        "asked_at" timestamptz NOT NULL,
        CONSTRAINT "answer_pk" PRIMARY KEY ("workspace_id", "key"),
        CONSTRAINT "answer_workspace_fk" FOREIGN KEY ("workspace_id")
          REFERENCES "workspace" ("id") ON DELETE CASCADE
      )`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "answer"`);
  }
}
