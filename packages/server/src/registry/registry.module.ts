import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { PackageDocumentEntity } from './package-document.entity.js';
import { RegistryEntity } from './registry.entity.js';
import { RegistryService } from './registry.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([RegistryEntity, PackageDocumentEntity])],
  providers: [RegistryService, Clock],
  exports: [RegistryService],
})
export class RegistryModule {}
