import { Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { splitAddress } from '@deep-ledger/registry-client';
import { Raw, type Repository } from 'typeorm';
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
    const open = Raw((column) => `${column} ~ '^https?://[^/]*@'`);
    const found = await this.workspaces.findBy([{ address: open }, { registryUrl: open }]);
    for (const workspace of found) {
      const at = splitAddress(workspace.address);
      const from = splitAddress(workspace.registryUrl);
      workspace.address = at.address;
      workspace.registryUrl = from.address.replace(/\/+$/, '');
      if (at.credentials !== null) workspace.credentials = await this.vault.lock(at.credentials);
      if (from.credentials !== null)
        workspace.registryCredentials = await this.vault.lock(from.credentials);
    }
    await this.workspaces.save(found);
  }
}
