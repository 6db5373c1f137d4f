import { Module } from '@nestjs/common';
import { CredentialsModule } from '../credentials/credentials.module.js';
import { GitClones } from './git-clones.js';
import { GitFiles } from './git-files.js';
import { GitHistory } from './git-history.js';
import { GitHosts } from './git-hosts.js';
import { GitProcesses } from './git-processes.js';
import { GitService } from './git.service.js';

@Module({
  imports: [CredentialsModule],
  providers: [GitProcesses, GitClones, GitHosts, GitFiles, GitHistory, GitService],
  exports: [GitFiles, GitHistory, GitService],
})
export class GitModule {}
