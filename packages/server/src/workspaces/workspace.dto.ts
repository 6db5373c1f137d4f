import { applyDecorators } from '@nestjs/common';
import { ApiProperty } from '@nestjs/swagger';
import { NAME, NAME_WORDS } from '@deep-ledger/core';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsNotEmpty,
  IsOptional,
  IsString,
  IsUrl,
  Matches,
  MaxLength,
} from 'class-validator';
import { BranchName } from '../git/branch-name.js';
import { PlacedProblemDto, PlaceDto } from '../problems/problem.dto.js';
import { EachIs } from '../problems/each-is.js';

export function RegistryUrl(): PropertyDecorator {
  return applyDecorators(
    IsUrl(
      { require_tld: false, protocols: ['http', 'https'], require_protocol: true },
      { message: 'Write the registry as an address such as http://127.0.0.1:4700.' },
    ),
    MaxLength(2000),
  );
}

export function AccessToken(): PropertyDecorator {
  return applyDecorators(
    ApiProperty({ type: String, required: false, description: 'Sent as a bearer token' }),
    IsOptional(),
    IsString(),
    Matches(/^[\x21-\x7e]*$/, {
      message: 'A token has letters, digits and signs, and no blanks.',
    }),
    MaxLength(4000),
  );
}

export class NamedRegistryDto {
  @ApiProperty({ type: String, description: 'As ledger.toml has it' })
  @IsString()
  @MaxLength(300)
  name: string;
  @ApiProperty({ type: String, description: 'http or https' }) @RegistryUrl() address: string;
  @AccessToken() token?: string;
}

/** Where a registry is and how one is let in; what is left out of the credentials stays as it is. */
export class SetRegistryDto {
  @ApiProperty({
    type: String,
    description: 'http or https; user and password in it are taken out',
  })
  @RegistryUrl()
  address: string;
  @AccessToken() token?: string;
  @ApiProperty({ type: Boolean, required: false, description: 'Forget the credentials' })
  @IsOptional()
  @IsBoolean()
  forget?: boolean;
  @ApiProperty({
    type: String,
    required: false,
    description: 'A package whose document is asked for, to see whether all is right',
  })
  @IsOptional()
  @Matches(NAME, { message: NAME_WORDS })
  package?: string;
}

export class TriedPackageDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({
    type: Number,
    nullable: true,
    description: 'Null: the registry has no such package',
  })
  releases: number | null;
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
}

export class TriedRegistryDto {
  @ApiProperty({ type: TriedPackageDto, nullable: true }) package: TriedPackageDto | null;
}

export class RegistryLineDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({
    type: [String],
    description: 'Of package names; the first registry with one that matches is asked',
  })
  patterns: string[];
  @ApiProperty({ type: String, nullable: true, description: 'Null: nobody has said where it is' })
  url: string | null;
  @ApiProperty({ type: Boolean }) hasCredentials: boolean;
  @ApiProperty({ type: Number, description: 'Packages in use that belong to it' }) packages: number;
}

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

  @ApiProperty({
    type: String,
    required: false,
    description: 'Address of its registry, http or https, where it has one alone',
  })
  @IsOptional()
  @RegistryUrl()
  registry?: string;

  @ApiProperty({
    type: [NamedRegistryDto],
    required: false,
    description: 'Where each of its registries is',
  })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(100)
  @EachIs(() => NamedRegistryDto)
  registries?: NamedRegistryDto[];
}

export class RegistryPlaceDto {
  @ApiProperty({ type: String, description: 'Empty: whichever is the only one' }) name: string;
  @ApiProperty({ type: String, description: 'Without credentials' }) url: string;
}

export class WorkspaceSummaryDto {
  @ApiProperty({ type: String }) slug: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) address: string;
  @ApiProperty({ type: String }) branch: string;
  @ApiProperty({ type: [RegistryPlaceDto] }) registries: RegistryPlaceDto[];
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
    | 'consistent'
    | 'stale'
    | 'broken';
  @ApiProperty({ type: String, nullable: true, description: 'SHA-256 of the canonical text' }) sum:
    | string
    | null;
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

/** Whether a repository has the files that make it a workspace. */
export const BRING_IN_STATES = ['done', 'prepared', 'needed'] as const;

export class WorkspaceStateDto extends WorkspaceSummaryDto {
  @ApiProperty({
    enum: BRING_IN_STATES,
    description:
      'Whether the repository has our files; prepared: it is read with files that it does not have yet',
  })
  bringIn: (typeof BRING_IN_STATES)[number];
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
  @ApiProperty({ type: Number, description: 'Archives that the mirror could not get' })
  archivesMissing: number;
  @ApiProperty({ type: LastPostDto, nullable: true }) lastPost: LastPostDto | null;
  @ApiProperty({ type: LockStateDto }) lock: LockStateDto;
  @ApiProperty({ type: RegistryStateDto }) registryState: RegistryStateDto;
  @ApiProperty({ type: [PlacedProblemDto] }) problems: PlacedProblemDto[];
}
