import { ApiProperty } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsNotEmpty,
  IsString,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { FileDiffDto } from '../drafts/draft.dto.js';
import { ExplainedChangeDto } from '../lock/lock-change.dto.js';
import { PlacedProblemDto } from '../problems/problem.dto.js';
import { CommitDto } from '../workspaces/workspace.dto.js';

export const SIDES = ['base', 'ours', 'theirs'] as const;
export type Side = (typeof SIDES)[number];

/** What is to stand where both sides changed one thing. */
export class DecisionDto {
  @ApiProperty({ type: String }) @IsString() @MaxLength(1000) file: string;
  @ApiProperty({ type: [String], description: 'Keys that lead to it' })
  @IsArray()
  @ArrayMaxSize(10)
  @IsString({ each: true })
  path: string[];
  @ApiProperty({ enum: SIDES }) @IsIn(SIDES) side: Side;
}

export class MergeTermsDto {
  @ApiProperty({ type: String, description: 'The branch that is merged into the workspace’s own' })
  @IsString()
  @IsNotEmpty({ message: 'Choose a branch to merge.' })
  @MaxLength(200)
  from: string;

  @ApiProperty({ type: [DecisionDto] })
  @IsArray()
  @ArrayMaxSize(2000)
  @ValidateNested({ each: true })
  @Type(() => DecisionDto)
  decisions: DecisionDto[];
}

export class PostMergeDto extends MergeTermsDto {
  @ApiProperty({ type: String, description: 'Where the person saw our branch' })
  @Matches(/^[0-9a-f]{40,64}$/)
  ours: string;
  @ApiProperty({ type: String, description: 'Where the person saw their branch' })
  @Matches(/^[0-9a-f]{40,64}$/)
  theirs: string;
  @ApiProperty({ type: String })
  @IsNotEmpty({ message: 'A commit needs a message.' })
  @MaxLength(20000)
  message: string;
}

export class MergeConflictDto {
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ type: [String], description: 'Keys that lead to it; none: the whole file' })
  path: string[];
  @ApiProperty({ type: String, nullable: true, description: 'As written; null: not there' })
  base: string | null;
  @ApiProperty({ type: String, nullable: true }) ours: string | null;
  @ApiProperty({ type: String, nullable: true }) theirs: string | null;
  @ApiProperty({ enum: SIDES, nullable: true }) decided: Side | null;
  @ApiProperty({ type: String, nullable: true, description: 'The package that it is about' })
  package: string | null;
  @ApiProperty({
    type: 'array',
    items: { type: 'array', items: { type: 'string' } },
    description: 'Chains of our lockfile that it concerns, the shortest first',
  })
  chains: string[][];
}

export class MergePreviewDto {
  @ApiProperty({ enum: ['merged', 'conflicts', 'unanswered', 'unreadable', 'nothing'] }) kind:
    'merged' | 'conflicts' | 'unanswered' | 'unreadable' | 'nothing';
  @ApiProperty({ type: CommitDto }) ours: CommitDto;
  @ApiProperty({ type: CommitDto }) theirs: CommitDto;
  @ApiProperty({ type: CommitDto, nullable: true }) base: CommitDto | null;
  @ApiProperty({ type: [MergeConflictDto], description: 'Decided ones too' })
  conflicts: MergeConflictDto[];
  @ApiProperty({ type: [FileDiffDto], description: 'Against our branch' }) files: FileDiffDto[];
  @ApiProperty({ type: ExplainedChangeDto, nullable: true }) change: ExplainedChangeDto | null;
  @ApiProperty({ type: String, nullable: true }) sum: string | null;
  @ApiProperty({ type: [String], description: 'Other files that git cannot merge' })
  otherConflicts: string[];
  @ApiProperty({
    type: 'array',
    items: { type: 'array', items: { type: 'string' } },
    description: 'Why nothing answers',
  })
  explanations: string[][];
  @ApiProperty({ type: [PlacedProblemDto] }) problems: PlacedProblemDto[];
  @ApiProperty({ type: String, description: 'A commit message' }) message: string;
}

export class BranchDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: CommitDto }) head: CommitDto;
  @ApiProperty({ type: Boolean, description: 'All of it is in the workspace’s branch already' })
  isMerged: boolean;
}
