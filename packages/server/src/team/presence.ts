import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import type { DataSource } from 'typeorm';
import type { Actor } from './actor.js';

/** Whether somebody who was let in a while ago, and still listens, would be let in now. */
@Injectable()
export class Presence {
  constructor(@InjectDataSource() private readonly database: DataSource) {}

  async isStillThere(actor: Actor): Promise<boolean> {
    const found = (await (actor.kind === 'account'
      ? this.database.query(
          `SELECT FROM "session" JOIN "account" ON "account"."id" = "session"."account_id"
           WHERE "hash" = $1 AND "is_active"`,
          [actor.session],
        )
      : this.database.query(
          `SELECT FROM "token" JOIN "account" ON "account"."id" = "token"."maker_id"
           WHERE "token"."id" = $1 AND "revoked_at" IS NULL AND "is_active"`,
          [actor.id],
        ))) as readonly object[];
    return found.length > 0;
  }
}
