import { ApiProperty } from '@nestjs/swagger';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsNotEmpty,
  IsString,
  Matches,
  MaxLength,
} from 'class-validator';
import { DisputedCopyDto, FileDiffDto, OpenTermsDto } from '../drafts/draft.dto.js';
import { ExplainedChangeDto } from '../lock/lock-change.dto.js';
import { PlacedProblemDto } from '../problems/problem.dto.js';
import { CommitDto } from '../workspaces/workspace.dto.js';
import { EachIs } from '../problems/each-is.js';

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
  @EachIs(() => DecisionDto)
  decisions: DecisionDto[];
}

/** A merge as a person has seen it. */
export class SeenMergeDto extends MergeTermsDto {
  @ApiProperty({ type: String, description: 'Where the person saw our branch' })
  @Matches(/^[0-9a-f]{40,64}$/)
  ours: string;
  @ApiProperty({ type: String, description: 'Where the person saw their branch' })
  @Matches(/^[0-9a-f]{40,64}$/)
  theirs: string;
  @ApiProperty({ type: String, description: 'The sum over all files that the person saw' })
  @Matches(/^[0-9a-f]{64}$/, { message: 'The sum of a result has 64 digits from 0 to f.' })
  result: string;
}

export class PostMergeDto extends SeenMergeDto {
  @ApiProperty({ type: String })
  @Matches(/\S/, { message: 'A commit needs a message.' })
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

export class MergeApprovalDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
  @ApiProperty({ type: Boolean }) isMine: boolean;
}

export class MergeReviewDto {
  @ApiProperty({ type: Boolean, description: 'A post waits for a second person' })
  needsApproval: boolean;
  @ApiProperty({
    type: Boolean,
    description: 'Whoever asks could post it: another has approved it',
  })
  isApproved: boolean;
  @ApiProperty({ type: [MergeApprovalDto] }) approvals: MergeApprovalDto[];
}

export class MergePreviewDto {
  @ApiProperty({ enum: ['merged', 'conflicts', 'unanswered', 'unreadable', 'nothing'] }) kind:
    | 'merged'
    | 'conflicts'
    | 'unanswered'
    | 'unreadable'
    | 'nothing';
  @ApiProperty({ type: CommitDto }) ours: CommitDto;
  @ApiProperty({ type: CommitDto }) theirs: CommitDto;
  @ApiProperty({ type: CommitDto, nullable: true }) base: CommitDto | null;
  @ApiProperty({ type: [MergeConflictDto], description: 'Decided ones too' })
  conflicts: MergeConflictDto[];
  @ApiProperty({ type: [FileDiffDto], description: 'Against our branch' }) files: FileDiffDto[];
  @ApiProperty({ type: ExplainedChangeDto, nullable: true }) change: ExplainedChangeDto | null;
  @ApiProperty({ type: String, nullable: true }) sum: string | null;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'A sum over all files; null: no result',
  })
  result: string | null;
  @ApiProperty({ type: [DisputedCopyDto] }) disputed: DisputedCopyDto[];
  @ApiProperty({
    type: [OpenTermsDto],
    description:
      'Terms of copies that it brings which nobody has accepted: with any it cannot be posted',
  })
  openTerms: OpenTermsDto[];
  @ApiProperty({
    type: MergeReviewDto,
    nullable: true,
    description: 'Null: there is no result yet',
  })
  review: MergeReviewDto | null;
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
