import { Module } from '@nestjs/common';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { SheetController } from './sheet.controller.js';
import { SheetService } from './sheet.service.js';

@Module({
  imports: [WorkspacesModule],
  controllers: [SheetController],
  providers: [SheetService],
})
export class SheetModule {}
