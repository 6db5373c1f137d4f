import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { GitModule } from '../git/git.module.js';
import { LockModule } from '../lock/lock.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { ReportEntity } from './report.entity.js';
import { MachinesController } from './machines.controller.js';
import { MachinesService } from './machines.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([ReportEntity]), WorkspacesModule, LockModule, GitModule],
  controllers: [MachinesController],
  providers: [MachinesService, Clock],
})
export class MachinesModule {}
