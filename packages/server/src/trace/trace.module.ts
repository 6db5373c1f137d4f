import { Module } from '@nestjs/common';
import { AnswersModule } from '../answers/answers.module.js';
import { DraftsModule } from '../drafts/drafts.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { TraceController } from './trace.controller.js';
import { TraceService } from './trace.service.js';
import { TracedGraphs } from './traced-graphs.js';
import { WhatIfService } from './what-if.service.js';

@Module({
  imports: [WorkspacesModule, DraftsModule, AnswersModule],
  controllers: [TraceController],
  exports: [TracedGraphs],
  providers: [TraceService, TracedGraphs, WhatIfService],
})
export class TraceModule {}
