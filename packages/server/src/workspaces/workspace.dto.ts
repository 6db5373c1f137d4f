import { ApiProperty } from '@nestjs/swagger';
import { IsBoolean, IsNotEmpty, IsOptional, IsString, IsUrl, MaxLength } from 'class-validator';
import { BranchName } from '../git/branch-name.js';
import { PlacedProblemDto, PlaceDto } from '../problems/problem.dto.js';

export class OpenWorkspaceDto {
  @ApiProperty({ type: String, description: 'Path on this machine or git address' })
  @IsString()
  @IsNotEmpty({ message: 'Name the repository by path or git address.' })
  @MaxLength(1000)
  address: string;

  @ApiProperty({
    type: String,
    required: false,
    description: "The repository's default branch when absent",
  })
  @IsOptional()
  @BranchName()
  branch?: string;

  @ApiProperty({ type: String, description: 'Address of the registry, http or https' })
  @IsUrl(
    { require_tld: false, protocols: ['http', 'https'], require_protocol: true },
    { message: 'Write the registry as an address such as http://127.0.0.1:4700.' },
  )
  registry: string;
}

export class WorkspaceSummaryDto {
  @ApiProperty({ type: String }) slug: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) address: string;
  @ApiProperty({ type: String }) branch: string;
  @ApiProperty({ type: String }) registry: string;
  @ApiProperty({ type: String, format: 'date-time' }) openedAt: string;
}

export class CommitDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) subject: string;
  @ApiProperty({ type: String }) author: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
}

export class LockReasonDto {
  @ApiProperty({ type: String }) code: string;
  @ApiProperty({ type: String }) message: string;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class LockStateDto {
  @ApiProperty({ enum: ['consistent', 'stale', 'broken'] }) state:
    'consistent' | 'stale' | 'broken';
  @ApiProperty({ type: String, nullable: true, description: 'SHA-256 of the canonical text' }) sum:
    string | null;
  @ApiProperty({ type: Number, nullable: true }) copies: number | null;
  @ApiProperty({ type: [LockReasonDto] }) reasons: LockReasonDto[];
}

export class RegistryStateDto {
  @ApiProperty({ enum: ['up', 'down', 'nonsense'] }) state: 'up' | 'down' | 'nonsense';
  @ApiProperty({ type: [String] }) messages: string[];
  @ApiProperty({ type: [String], description: 'Packages of which nothing is known' })
  unknown: string[];
}

export class WorkspaceSettingsDto {
  @ApiProperty({ type: Boolean, description: 'A post waits for a second person’s approval' })
  @IsBoolean()
  needsApproval: boolean;
}

export class LastPostDto {
  @ApiProperty({ type: String }) author: string;
  @ApiProperty({ type: String, description: 'The first line of its message' }) subject: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
}

export class WorkspaceStateDto extends WorkspaceSummaryDto {
  @ApiProperty({ type: Boolean, description: 'A post waits for a second person’s approval' })
  needsApproval: boolean;
  @ApiProperty({ type: CommitDto }) head: CommitDto;
  @ApiProperty({ type: String, format: 'date-time' }) readAt: string;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'Why the repository gave no answer when it was last asked',
  })
  repositoryTrouble: string | null;
  @ApiProperty({ type: Number }) projects: number;
  @ApiProperty({ type: Number, description: 'Packages that two or more projects require' })
  alignmentRows: number;
  @ApiProperty({ type: Number }) outOfLine: number;
  @ApiProperty({ type: Number, description: 'Packages that something is agreed on for' })
  agreed: number;
  @ApiProperty({ type: Number }) drafts: number;
  @ApiProperty({ type: Number }) posts: number;
  @ApiProperty({ type: Number, description: 'Machines and build runs on another lockfile' })
  machinesBehind: number;
  @ApiProperty({ type: LastPostDto, nullable: true }) lastPost: LastPostDto | null;
  @ApiProperty({ type: LockStateDto }) lock: LockStateDto;
  @ApiProperty({ type: RegistryStateDto }) registryState: RegistryStateDto;
  @ApiProperty({ type: [PlacedProblemDto] }) problems: PlacedProblemDto[];
}
