import { Module } from '@nestjs/common';
import { GitModule } from '../git/git.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { FileController } from './file.controller.js';

@Module({ imports: [GitModule, WorkspacesModule], controllers: [FileController] })
export class FilesModule {}
