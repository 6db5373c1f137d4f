import { ApiExtraModels, ApiProperty, getSchemaPath } from '@nestjs/swagger';
import { NAME } from '@deep-ledger/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  Equals,
  IsArray,
  IsNotEmpty,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { PlacedProblemDto } from '../problems/problem.dto.js';
import { LockChangeDto, SetSharedDto, TakeSharedDto } from '../sheet/sheet.dto.js';

const EDIT_SCHEMA = {
  oneOf: [{ $ref: getSchemaPath(SetSharedDto) }, { $ref: getSchemaPath(TakeSharedDto) }],
  discriminator: {
    propertyName: 'kind',
    mapping: {
      'set-shared': getSchemaPath(SetSharedDto),
      'take-shared': getSchemaPath(TakeSharedDto),
    },
  },
};

/** What the two kinds of edits share; the kind decides which class checks the rest. */
abstract class EditInput {
  abstract kind: string;
  @IsString() @Matches(NAME, { message: 'package must be a package name' }) package: string;
}

class SetSharedInput extends EditInput {
  @Equals('set-shared') kind: 'set-shared';
  @IsString() @IsNotEmpty() @MaxLength(300) range: string;
}

class TakeSharedInput extends EditInput {
  @Equals('take-shared') kind: 'take-shared';
  @IsArray() @ArrayNotEmpty() @ArrayMaxSize(5000) @IsString({ each: true }) projects: string[];
}

class UnknownInput extends EditInput {
  @Matches(/^(set-shared|take-shared)$/, { message: 'kind must be set-shared or take-shared' })
  kind: string;
}

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

@ApiExtraModels(SetSharedDto, TakeSharedDto)
export class SetEditsDto {
  @ApiProperty({ type: 'array', items: EDIT_SCHEMA })
  @IsArray()
  @ArrayMaxSize(2000)
  @ValidateNested({ each: true })
  @Type(() => UnknownInput, {
    keepDiscriminatorProperty: true,
    discriminator: {
      property: 'kind',
      subTypes: [
        { value: SetSharedInput, name: 'set-shared' },
        { value: TakeSharedInput, name: 'take-shared' },
      ],
    },
  })
  edits: (SetSharedInput | TakeSharedInput)[];
}

export class LevelDto {
  @ApiProperty({ type: String, description: 'The version to level the package at' })
  @IsString()
  @MaxLength(200)
  version: string;
}

export class EditWordsDto {
  @ApiProperty({ type: String }) subject: string;
  @ApiProperty({ type: String }) verb: string;
  @ApiProperty({ type: String, nullable: true }) from: string | null;
  @ApiProperty({ type: String, nullable: true }) to: string | null;
  @ApiProperty({ type: String, nullable: true }) detail: string | null;
}

@ApiExtraModels(SetSharedDto, TakeSharedDto)
export class DraftEditDto {
  @ApiProperty({ oneOf: EDIT_SCHEMA.oneOf }) edit: SetSharedDto | TakeSharedDto;
  @ApiProperty({ type: EditWordsDto }) words: EditWordsDto;
  @ApiProperty({ type: String, nullable: true, description: 'Why it no longer applies' }) problem:
    string | null;
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

export class ConsequencesDto {
  @ApiProperty({ type: Number, description: 'Packages out of line' }) outOfLineBefore: number;
  @ApiProperty({ type: Number }) outOfLineAfter: number;
  @ApiProperty({ type: Number, nullable: true }) copiesBefore: number | null;
  @ApiProperty({ type: Number }) copiesAfter: number;
  @ApiProperty({ type: LockChangeDto }) change: LockChangeDto;
  @ApiProperty({ type: Number }) manifests: number;
  @ApiProperty({ type: [RowOutcomeDto] }) rows: RowOutcomeDto[];
  @ApiProperty({ type: String }) sum: string;
  @ApiProperty({ enum: ['true', 'stale', 'broken'] }) lockBefore: 'true' | 'stale' | 'broken';
}

export class EvaluationDto {
  @ApiProperty({ enum: ['answered', 'unanswered', 'unreadable', 'inapplicable'] }) kind:
    'answered' | 'unanswered' | 'unreadable' | 'inapplicable';
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
  @ApiProperty({ type: Number }) edits: number;
  @ApiProperty({ type: String, format: 'date-time' }) updatedAt: string;
}

export class DraftDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) name: string;
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
