import { ApiProperty } from '@nestjs/swagger';
import { LINK_KINDS, type LinkKind } from '@deep-ledger/core';
import { JobDto } from '../jobs/jobs.dto.js';
import { CommitDto, LockReasonDto } from '../workspaces/workspace.dto.js';

export class LockCopyDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: Number }) bytes: number;
  @ApiProperty({ type: Number, description: 'Projects and copies that demand it' })
  demands: number;
  @ApiProperty({
    type: Number,
    nullable: true,
    description: 'Which of `commits` brought it; null: not known yet',
  })
  since: number | null;
  @ApiProperty({ type: Boolean, description: 'The package has other copies' })
  isOneOfSeveral: boolean;
  @ApiProperty({ type: Boolean }) isDeprecated: boolean;
}

export class TargetCopiesDto {
  @ApiProperty({ type: String }) target: string;
  @ApiProperty({ type: Number }) copies: number;
  @ApiProperty({ type: Number }) bytes: number;
  @ApiProperty({ type: Number, description: 'Requirements that are skipped for it' })
  skipped: number;
}

export class LockCommitDto extends CommitDto {
  @ApiProperty({ type: String, nullable: true, description: 'Null: it cannot be read there' })
  sum: string | null;
  @ApiProperty({ type: Number }) copies: number;
  @ApiProperty({ type: Number }) entered: number;
  @ApiProperty({ type: Number }) left: number;
}

export class LockDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ enum: ['consistent', 'stale', 'broken'] }) state:
    | 'consistent'
    | 'stale'
    | 'broken';
  @ApiProperty({ type: String, nullable: true }) sum: string | null;
  @ApiProperty({ type: [LockReasonDto] }) reasons: LockReasonDto[];
  @ApiProperty({ type: Number }) bytes: number;
  @ApiProperty({ type: [LockCopyDto] }) copies: LockCopyDto[];
  @ApiProperty({ type: [TargetCopiesDto] }) targets: TargetCopiesDto[];
  @ApiProperty({ type: [LockCommitDto], description: 'That changed the lockfile, oldest first' })
  commits: LockCommitDto[];
  @ApiProperty({ type: JobDto, nullable: true, description: 'Work that reads the rest of history' })
  job: JobDto | null;
}

export class CopyDemandDto {
  @ApiProperty({ type: String, description: "A project's folder, or name and version of a copy" })
  owner: string;
  @ApiProperty({ type: Boolean }) isProject: boolean;
  @ApiProperty({ enum: LINK_KINDS }) kind: LinkKind;
  @ApiProperty({ type: String }) range: string;
}

export class CopyDetailDto {
  @ApiProperty({ type: String }) integrity: string;
  @ApiProperty({ type: String }) registry: string;
  @ApiProperty({ type: String }) archive: string;
  @ApiProperty({ type: [String] }) targets: string[];
  @ApiProperty({ type: String, nullable: true }) deprecated: string | null;
  @ApiProperty({ type: [CopyDemandDto] }) demands: CopyDemandDto[];
}
