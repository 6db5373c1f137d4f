import { Module } from '@nestjs/common';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { ProjectController } from './project.controller.js';

@Module({ imports: [WorkspacesModule], controllers: [ProjectController] })
export class ProjectsModule {}
