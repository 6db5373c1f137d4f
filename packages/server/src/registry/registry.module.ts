import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { CredentialsModule } from '../credentials/credentials.module.js';
import { PackageDocumentEntity } from './package-document.entity.js';
import { RegistryEntity } from './registry.entity.js';
import { RegistryService } from './registry.service.js';

@Module({
  imports: [CredentialsModule, TypeOrmModule.forFeature([RegistryEntity, PackageDocumentEntity])],
  providers: [RegistryService, Clock],
  exports: [RegistryService],
})
export class RegistryModule {}
