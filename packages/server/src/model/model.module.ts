import { Module } from '@nestjs/common';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { ModelController } from './model.controller.js';

@Module({
  imports: [WorkspacesModule, RegistryModule],
  controllers: [ModelController],
})
export class ModelModule {}
