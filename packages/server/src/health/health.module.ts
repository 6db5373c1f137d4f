import { Module } from '@nestjs/common';
import { GitModule } from '../git/git.module.js';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { HealthController } from './health.controller.js';

@Module({ imports: [WorkspacesModule, GitModule, RegistryModule], controllers: [HealthController] })
export class HealthModule {}
