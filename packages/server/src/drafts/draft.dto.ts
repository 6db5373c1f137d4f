import { ApiExtraModels, ApiProperty, ApiPropertyOptional } from '@nestjs/swagger';
import { NAME } from '@deep-ledger/core';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsObject,
  IsBoolean,
  IsInt,
  IsNotEmpty,
  IsIn,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { PlacedProblemDto } from '../problems/problem.dto.js';
import { CopyNameDto, ExplainedChangeDto } from '../lock/lock-change.dto.js';
import {
  ByEditKind,
  EDIT_CLASSES,
  EDIT_SCHEMA,
  type EditDto,
  PACKAGE_NAME_WORDS,
} from './edit.dto.js';
import { EachIs } from '../problems/each-is.js';

export class NewDraftDto {
  @ApiProperty({ type: String, required: false, description: 'Numbered when absent' })
  @IsOptional()
  @IsString()
  @IsNotEmpty()
  @MaxLength(120)
  name?: string;
}

export class ChangeDraftDto {
  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @IsString()
  @IsNotEmpty({ message: 'A draft has a name.' })
  @MaxLength(120)
  name?: string;

  @ApiProperty({
    type: String,
    required: false,
    description: 'The head on which the person has seen it evaluated',
  })
  @IsOptional()
  @Matches(/^[0-9a-f]{40,64}$/)
  base?: string;
}

/** An edit of a draft; one that is out stays in its place and does not count. */
@ApiExtraModels(...EDIT_CLASSES)
export class EntryDto {
  @ApiProperty({ ...EDIT_SCHEMA })
  @IsObject()
  @ValidateNested()
  @ByEditKind()
  edit: EditDto;
  @ApiProperty({ type: Boolean }) @IsBoolean() isOut: boolean;
}

export class SetEntriesDto {
  @ApiProperty({ type: Number, description: 'The revision that the person has seen' })
  @IsInt()
  revision: number;

  @ApiProperty({ type: [EntryDto] })
  @IsArray()
  @ArrayMaxSize(2000)
  @EachIs(() => EntryDto)
  entries: EntryDto[];
}

@ApiExtraModels(...EDIT_CLASSES)
export class AddEditsDto {
  @ApiProperty({ type: 'array', items: EDIT_SCHEMA })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(2000)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @ByEditKind()
  edits: EditDto[];
}

export class LevelDto {
  @ApiProperty({ type: String, description: 'The version to level the package at' })
  @IsString()
  @MaxLength(200)
  version: string;
}

export class LevelManyDto {
  @ApiProperty({
    type: [String],
    description: 'Packages to level at what is agreed, or at the newest in use',
  })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(1000)
  @Matches(NAME, { each: true, message: PACKAGE_NAME_WORDS })
  packages: string[];

  @ApiPropertyOptional({
    enum: ['in-use', 'newest'],
    description: 'Newest: the newest release for which no project takes a major step',
  })
  @IsOptional()
  @IsIn(['in-use', 'newest'])
  to: 'in-use' | 'newest' = 'in-use';
}

export class EditWordsDto {
  @ApiProperty({ type: String }) subject: string;
  @ApiProperty({ type: String }) verb: string;
  @ApiProperty({ type: String, nullable: true }) from: string | null;
  @ApiProperty({ type: String, nullable: true }) to: string | null;
  @ApiProperty({ type: String, nullable: true }) detail: string | null;
}

@ApiExtraModels(...EDIT_CLASSES)
export class DraftEditDto {
  @ApiProperty({ ...EDIT_SCHEMA }) edit: EditDto;
  @ApiProperty({ type: Boolean, description: 'Taken out: it stays listed and does not count' })
  isOut: boolean;
  @ApiProperty({ type: EditWordsDto }) words: EditWordsDto;
  @ApiProperty({ type: String, nullable: true, description: 'Why it no longer applies' }) problem:
    | string
    | null;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'Projects in which it has nothing left to do',
  })
  leftOut: string | null;
  @ApiProperty({ type: Boolean, description: 'From this edit on the draft has no answer' })
  endsAnswer: boolean;
}

export class DiffLineDto {
  @ApiProperty({ enum: ['same', 'added', 'removed'] }) mark: 'same' | 'added' | 'removed';
  @ApiProperty({ type: String }) text: string;
  @ApiProperty({ type: Number, nullable: true }) before: number | null;
  @ApiProperty({ type: Number, nullable: true }) after: number | null;
}

export class DiffHunkDto {
  @ApiProperty({ type: [DiffLineDto] }) lines: DiffLineDto[];
}

export class FileDiffDto {
  @ApiProperty({ type: String }) path: string;
  @ApiProperty({ type: Boolean }) isNew: boolean;
  @ApiProperty({ type: Number }) added: number;
  @ApiProperty({ type: Number }) removed: number;
  @ApiProperty({ type: [DiffHunkDto] }) hunks: DiffHunkDto[];
}

export class RowOutcomeDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true }) agreed: string | null;
  @ApiProperty({ type: Number }) off: number;
  @ApiProperty({ type: Number }) copies: number;
}

export class UnmetPeerDto {
  @ApiProperty({ type: String, description: 'Name and version of the copy that asks' })
  copy: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: String, description: 'What provides it' }) provider: string;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
}

export class RefusedLicenceDto extends CopyNameDto {
  @ApiProperty({ type: String, nullable: true, description: 'Null: the release names none' })
  licence: string | null;
}

export class DisputedCopyDto extends CopyNameDto {
  @ApiProperty({ type: String, description: 'The integrity that the lockfile has' }) locked: string;
  @ApiProperty({ type: String, description: 'The integrity that the registry says' })
  offered: string;
}

export class FindingNameDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ type: String }) says: string;
}

export class FindingsChangeDto {
  @ApiProperty({ type: [FindingNameDto] }) cleared: FindingNameDto[];
  @ApiProperty({ type: [FindingNameDto] }) raised: FindingNameDto[];
  @ApiProperty({ type: Number }) left: number;
}

export class NewOwnRangeDto {
  @ApiProperty({ type: String, description: "The project's folder" }) project: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: String, description: 'The shared version' }) agreed: string;
  @ApiProperty({ type: Boolean, description: 'It was refused before the draft already' })
  isAdded: boolean;
}

export class EarlierAcceptanceDto {
  @ApiProperty({ type: String, description: 'As the terms were called then' }) title: string;
  @ApiProperty({ type: String }) by: string;
  @ApiProperty({ type: String, format: 'date' }) on: string;
}

export class OpenTermsDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ type: String }) title: string;
  @ApiProperty({ type: String, description: 'Where they can be read' }) url: string;
  @ApiProperty({ type: [CopyNameDto], description: 'Copies that are under them' })
  copies: CopyNameDto[];
  @ApiProperty({
    type: EarlierAcceptanceDto,
    nullable: true,
    description: 'What was accepted before they changed',
  })
  earlier: EarlierAcceptanceDto | null;
}

export class RegistryMoveDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) from: string;
  @ApiProperty({ type: String }) to: string;
}

export class AdoptedChangeDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) from: string;
  @ApiProperty({ type: [String], description: 'None: nothing requires the package' }) to: string[];
  @ApiProperty({ type: String }) why: string;
}

export class AdoptedDto {
  @ApiProperty({ type: Number }) kept: number;
  @ApiProperty({ type: [AdoptedChangeDto] }) changed: AdoptedChangeDto[];
}

export class ConsequencesDto {
  @ApiProperty({ type: FindingsChangeDto }) findings: FindingsChangeDto;
  @ApiProperty({ type: Number, description: 'Packages out of line' }) outOfLineBefore: number;
  @ApiProperty({ type: Number }) outOfLineAfter: number;
  @ApiProperty({ type: Number, nullable: true }) copiesBefore: number | null;
  @ApiProperty({ type: Number }) copiesAfter: number;
  @ApiProperty({ type: ExplainedChangeDto }) change: ExplainedChangeDto;
  @ApiProperty({ type: Number }) manifests: number;
  @ApiProperty({ type: [String], description: 'Folders of projects whose manifest changes' })
  projects: string[];
  @ApiProperty({ type: [String], description: 'Packages that come into line' }) levelled: string[];
  @ApiProperty({ type: [String], description: 'Packages that go out of line' })
  unlevelled: string[];
  @ApiProperty({ type: [UnmetPeerDto] }) peersMet: UnmetPeerDto[];
  @ApiProperty({ type: [UnmetPeerDto] }) peersBroken: UnmetPeerDto[];
  @ApiProperty({ type: Number, description: 'Copies under a licence that is not allowed, now' })
  refusedLicencesBefore: number;
  @ApiProperty({ type: [RefusedLicenceDto] }) refusedLicences: RefusedLicenceDto[];
  @ApiProperty({
    type: [DisputedCopyDto],
    description:
      'Copies that it touches while lockfile and registry say different integrities of them: with any it cannot be posted',
  })
  disputed: DisputedCopyDto[];
  @ApiProperty({
    type: [NewOwnRangeDto],
    description:
      'Ranges of their own that projects newly write where that is refused; with one that isAdded it cannot be posted',
  })
  ownRanges: NewOwnRangeDto[];
  @ApiProperty({
    type: [OpenTermsDto],
    description:
      'Terms of copies that it brings which nobody has accepted: with any it cannot be posted',
  })
  openTerms: OpenTermsDto[];
  @ApiProperty({
    type: [RegistryMoveDto],
    description: 'Packages that come from another registry than before',
  })
  otherRegistries: RegistryMoveDto[];
  @ApiProperty({ type: [RowOutcomeDto] }) rows: RowOutcomeDto[];
  @ApiProperty({
    type: AdoptedDto,
    nullable: true,
    description: 'What became of the versions that the first lockfile was to start from',
  })
  adopted: AdoptedDto | null;
  @ApiProperty({ type: String }) sum: string;
  @ApiProperty({ enum: ['consistent', 'stale', 'broken'] }) lockBefore:
    | 'consistent'
    | 'stale'
    | 'broken';
}

export class SuggestedFixDto {
  @ApiProperty({ type: String }) sentence: string;
  @ApiProperty({ type: 'array', items: EDIT_SCHEMA }) edits: EditDto[];
}

export class SuggestedFixesDto {
  @ApiProperty({ type: [String], description: 'The requirements without an answer, in words' })
  about: string[];
  @ApiProperty({ type: [SuggestedFixDto] }) ways: SuggestedFixDto[];
}

export class EvaluationDto {
  @ApiProperty({ enum: ['answered', 'unanswered', 'unreadable', 'inapplicable'] }) kind:
    | 'answered'
    | 'unanswered'
    | 'unreadable'
    | 'inapplicable';
  @ApiProperty({ type: ConsequencesDto, nullable: true }) consequences: ConsequencesDto | null;
  @ApiProperty({ type: [FileDiffDto] }) files: FileDiffDto[];
  @ApiProperty({
    type: 'array',
    items: { type: 'array', items: { type: 'string' } },
    description: 'For each requirement without an answer, why',
  })
  explanations: string[][];
  @ApiProperty({ type: [PlacedProblemDto] }) problems: PlacedProblemDto[];
}

export class DraftSummaryDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, description: 'Who began it' })
  author: string;
  @ApiProperty({ type: Boolean, description: 'Whoever asks began it' }) isMine: boolean;
  @ApiProperty({ type: Number }) edits: number;
  @ApiProperty({ type: String, format: 'date-time' }) updatedAt: string;
}

export class DraftDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, description: 'Who began it' })
  author: string;
  @ApiProperty({ type: Boolean, description: 'Whoever asks began it' }) isMine: boolean;
  @ApiProperty({ type: Number, description: 'Grows with each change' }) revision: number;
  @ApiProperty({ type: Boolean }) canUndo: boolean;
  @ApiProperty({ type: Boolean }) canRedo: boolean;
  @ApiProperty({ type: String, description: 'The commit on which it is evaluated' }) base: string;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'The commit on which it was last seen, if the branch has moved since',
  })
  carriedFrom: string | null;
  @ApiProperty({ type: String, format: 'date-time' }) updatedAt: string;
  @ApiProperty({ type: [DraftEditDto] }) edits: DraftEditDto[];
  @ApiProperty({ type: EvaluationDto }) evaluation: EvaluationDto;
  @ApiProperty({ type: String, description: 'A commit message made from the edits' })
  message: string;
}
