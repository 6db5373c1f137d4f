import { Module } from '@nestjs/common';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { RegistryPageController } from './registry-page.controller.js';
import { RegistryPageService } from './registry-page.service.js';

@Module({
  imports: [RegistryModule, WorkspacesModule],
  controllers: [RegistryPageController],
  providers: [RegistryPageService],
})
export class RegistryPageModule {}
