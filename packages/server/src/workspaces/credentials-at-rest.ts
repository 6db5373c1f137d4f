import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { splitAddress } from '@deep-ledger/registry-client';
import type { Repository } from 'typeorm';
import { Vault } from '../credentials/vault.js';
import { WorkspaceEntity } from './workspace.entity.js';

/** Locks credentials away that an earlier version of the product kept in addresses. */
@Injectable()
export class CredentialsAtRest implements OnModuleInit {
  constructor(
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    private readonly vault: Vault,
  ) {}

  async onModuleInit(): Promise<void> {
    const found = await this.workspaces
      .createQueryBuilder('workspace')
      .where(`workspace.address ~ '^https?://[^/]*@'`)
      .orWhere(`CAST(workspace.registries AS text) ~ '"https?://[^/"]*@'`)
      .getMany();
    for (const workspace of found) {
      const at = splitAddress(workspace.address);
      workspace.address = at.address;
      if (at.credentials !== null) workspace.credentials = await this.vault.lock(at.credentials);
      workspace.registries = Object.fromEntries(
        await Promise.all(
          Object.entries(workspace.registries).map(async ([name, { url, credentials }]) => {
            const from = splitAddress(url);
            const locked =
              from.credentials === null ? credentials : await this.vault.lock(from.credentials);
            return [name, { url: from.address.replace(/\/+$/, ''), credentials: locked }] as const;
          }),
        ),
      );
    }
    await this.workspaces.save(found);
  }
}
