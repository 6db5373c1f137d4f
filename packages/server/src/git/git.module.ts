import { Module } from '@nestjs/common';
import { GitClones } from './git-clones.js';
import { GitHistory } from './git-history.js';
import { GitService } from './git.service.js';

@Module({
  providers: [GitClones, GitHistory, GitService],
  exports: [GitHistory, GitService],
})
export class GitModule {}
