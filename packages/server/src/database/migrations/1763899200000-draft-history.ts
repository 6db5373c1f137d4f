import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Drafts get an author, edits that can be taken out, and every state that they went through. */
export class DraftHistory1763899200000 implements MigrationInterface {
  name = 'DraftHistory1763899200000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "draft" ADD "author" text NOT NULL DEFAULT ''`);
    await runner.query(`ALTER TABLE "draft" ALTER COLUMN "author" DROP DEFAULT`);
    await runner.query(`ALTER TABLE "draft" ADD "entries" jsonb`);
    await runner.query(`
      UPDATE "draft" SET "entries" = coalesce(
        (SELECT jsonb_agg(jsonb_build_object('edit', one, 'isOut', false) ORDER BY place)
         FROM jsonb_array_elements("edits") WITH ORDINALITY AS list(one, place)), '[]')`);
    await runner.query(`ALTER TABLE "draft" ALTER COLUMN "entries" SET NOT NULL`);
    await runner.query(`ALTER TABLE "draft" DROP COLUMN "edits"`);
    await runner.query(`ALTER TABLE "draft" ADD "revision" integer NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "draft" ALTER COLUMN "revision" DROP DEFAULT`);
    await runner.query(`ALTER TABLE "draft" ADD "position" integer NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "draft" ALTER COLUMN "position" DROP DEFAULT`);
    await runner.query(`
      CREATE TABLE "draft_state" (
        "draft_id" uuid NOT NULL,
        "position" integer NOT NULL,
        "entries" jsonb NOT NULL,
        CONSTRAINT "draft_state_pk" PRIMARY KEY ("draft_id", "position"),
        CONSTRAINT "draft_state_draft_fk" FOREIGN KEY ("draft_id") REFERENCES "draft" ("id") ON DELETE CASCADE
      )`);
    await runner.query(`
      INSERT INTO "draft_state" ("draft_id", "position", "entries")
      SELECT "id", 0, "entries" FROM "draft"`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "draft_state"`);
    await runner.query(`ALTER TABLE "draft" ADD "edits" jsonb`);
    await runner.query(`
      UPDATE "draft" SET "edits" = coalesce(
        (SELECT jsonb_agg(one->'edit' ORDER BY place)
         FROM jsonb_array_elements("entries") WITH ORDINALITY AS list(one, place)
         WHERE NOT (one->>'isOut')::boolean), '[]')`);
    await runner.query(`ALTER TABLE "draft" ALTER COLUMN "edits" SET NOT NULL`);
    for (const column of ['author', 'entries', 'revision', 'position'])
      await runner.query(`ALTER TABLE "draft" DROP COLUMN "${column}"`);
  }
}
