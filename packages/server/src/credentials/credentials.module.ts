import { Module } from '@nestjs/common';
import { Vault } from './vault.js';

@Module({ providers: [Vault], exports: [Vault] })
export class CredentialsModule {}
