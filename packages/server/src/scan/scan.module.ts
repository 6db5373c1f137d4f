import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { GitModule } from '../git/git.module.js';
import { KnownService } from './known.service.js';
import { ScanPool } from './scan-pool.js';
import { ScanService } from './scan.service.js';
import { SourceScanEntity } from './source-scan.entity.js';

@Module({
  imports: [TypeOrmModule.forFeature([SourceScanEntity]), GitModule],
  providers: [ScanPool, ScanService, KnownService],
  exports: [ScanService, KnownService],
})
export class ScanModule {}
