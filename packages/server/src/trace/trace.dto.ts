import { ApiExtraModels, ApiProperty } from '@nestjs/swagger';
import { LINK_KINDS, NAME, NAME_WORDS, type LinkKind } from '@deep-ledger/core';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsObject,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { ByEditKind, EDIT_CLASSES, EDIT_SCHEMA, type EditDto } from '../drafts/edit.dto.js';
import { EvaluationDto, SuggestedFixesDto } from '../drafts/draft.dto.js';
import { EachIs } from '../problems/each-is.js';

/** Lists come as one parameter, parted by commas. */
function List(): PropertyDecorator {
  return Transform(({ value }) =>
    typeof value === 'string' && value !== '' ? value.split(',') : value === '' ? [] : value,
  );
}

/** What is traced: a package, one copy of it, a project, or, with none of them, the projects among themselves. */
export class TraceSubjectQuery {
  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @Matches(NAME, {
    message: `Write the name of a package, such as tarn-json. ${NAME_WORDS}`,
  })
  package?: string;

  @ApiProperty({ type: String, required: false, description: 'Of one copy' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  version?: string;

  @ApiProperty({ type: String, required: false, description: "A project's folder" })
  @IsOptional()
  @IsString()
  @MaxLength(1000)
  project?: string;

  @ApiProperty({ enum: ['up', 'down'], required: false })
  @IsOptional()
  @IsIn(['up', 'down'])
  direction?: 'up' | 'down';

  @ApiProperty({ type: String, required: false, description: 'Kinds of links, parted by commas' })
  @IsOptional()
  @List()
  @IsIn(LINK_KINDS, { each: true })
  kinds?: LinkKind[];

  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @IsString()
  @MaxLength(100)
  target?: string;

  @ApiProperty({ type: String, required: false, description: 'Only chains from this project' })
  @IsOptional()
  @IsString()
  @MaxLength(1000)
  from?: string;

  @ApiProperty({
    type: String,
    required: false,
    description: "Only chains through this: a project's folder, or name and version of a copy",
  })
  @IsOptional()
  @IsString()
  @MaxLength(1000)
  through?: string;
}

export class TraceQuery extends TraceSubjectQuery {
  @ApiProperty({ type: String, required: false, description: 'Columns that are shown whole' })
  @IsOptional()
  @List()
  @IsInt({ each: true })
  @Type(() => Number)
  open?: number[];
}

export class ChainsQuery extends TraceSubjectQuery {
  @ApiProperty({ type: Number, required: false })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(100_000)
  skip?: number;

  @ApiProperty({ type: Number, required: false, description: 'At most; 50 without it' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1000)
  count?: number;

  @ApiProperty({ type: Number, required: false, description: 'Steps of a chain, at most' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(1000)
  steps?: number;
}

export class NodeQuery {
  @ApiProperty({ type: String, description: "A project's folder, or name and version of a copy" })
  @IsString()
  @MaxLength(1000)
  node: string;
}

export class TraceNodeDto {
  @ApiProperty({ type: String, nullable: true, description: 'Null: gathered' }) id: string | null;
  @ApiProperty({ enum: ['project', 'copy', 'more'] }) kind: 'project' | 'copy' | 'more';
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
  @ApiProperty({ type: Number }) column: number;
  @ApiProperty({ type: Number }) row: number;
  @ApiProperty({ type: Number }) chains: number;
  @ApiProperty({ type: Number }) count: number;
  @ApiProperty({ type: Boolean }) isThrough: boolean;
  @ApiProperty({ type: Boolean, description: 'Of projects that require each other in a cycle' })
  isInCycle: boolean;
  @ApiProperty({ type: [Number] }) leadsTo: number[];
}

export class TraceLinkDto {
  @ApiProperty({ type: Number }) from: number;
  @ApiProperty({ type: Number }) to: number;
  @ApiProperty({ type: Number }) chains: number;
  @ApiProperty({ type: Boolean }) isThrough: boolean;
  @ApiProperty({ type: [Number] }) leadsTo: number[];
}

export class TraceDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ enum: ['package', 'copy', 'project', 'workspace'] })
  subject: 'package' | 'copy' | 'project' | 'workspace';
  @ApiProperty({ enum: ['up', 'down'] }) direction: 'up' | 'down';
  @ApiProperty({ type: [String], description: "The workspace's targets" }) targets: string[];
  @ApiProperty({ type: [String], description: 'The copies or the project in question' })
  ends: string[];
  @ApiProperty({ type: Number }) columns: number;
  @ApiProperty({ type: [TraceNodeDto] }) nodes: TraceNodeDto[];
  @ApiProperty({ type: [TraceLinkDto] }) links: TraceLinkDto[];
  @ApiProperty({ type: Number, description: 'Projects and copies on it, gathered ones included' })
  size: number;
  @ApiProperty({ type: String, nullable: true, description: 'Exact; null: too many to count' })
  chains: string | null;
  @ApiProperty({ type: Number, description: 'Projects from which chains begin' }) projects: number;
  @ApiProperty({
    type: 'array',
    items: { type: 'array', items: { type: 'string' } },
    description: 'Projects that require each other in a cycle',
  })
  cycles: string[][];
}

export class ChainStepDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ enum: ['project', 'copy'] }) kind: 'project' | 'copy';
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
  @ApiProperty({ type: String, nullable: true, description: 'As the step above asks for it' })
  written: string | null;
  @ApiProperty({ enum: LINK_KINDS, nullable: true }) link: LinkKind | null;
}

export class ChainDto {
  @ApiProperty({ type: [ChainStepDto] }) steps: ChainStepDto[];
}

export class ChainsDto {
  @ApiProperty({ type: [ChainDto] }) chains: ChainDto[];
  @ApiProperty({ type: String, nullable: true, description: 'Exact; null: not counted' })
  total: string | null;
  @ApiProperty({ type: Boolean }) hasMore: boolean;
}

export class LeavingDto {
  @ApiProperty({ type: String }) node: string;
  @ApiProperty({ type: [String], description: 'Copies that nothing else brings' }) copies: string[];
  @ApiProperty({ type: Number }) bytes: number;
}

export class WeightDto {
  @ApiProperty({ type: String, description: 'Folder' }) project: string;
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String }) written: string;
  @ApiProperty({ enum: LINK_KINDS }) link: LinkKind;
  @ApiProperty({ type: Number, description: 'Copies that leave with this requirement' })
  copies: number;
  @ApiProperty({ type: Number }) bytes: number;
}

export class WeightsDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [WeightDto], description: 'Heaviest first' }) requirements: WeightDto[];
}

export class ForcedDemandDto {
  @ApiProperty({ type: String }) owner: string;
  @ApiProperty({ type: String }) range: string;
}

export class NeedlessPickDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) from: string;
  @ApiProperty({ type: String }) to: string;
}

export class NeedlessDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: [NeedlessPickDto] }) rePicks: NeedlessPickDto[];
  @ApiProperty({ type: Number, description: 'Copies in the lockfile after it' })
  copiesAfter: number;
}

export class CopyOfDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String, nullable: true }) chains: string | null;
  @ApiProperty({ type: Number }) projects: number;
  @ApiProperty({ type: Number }) bytes: number;
  @ApiProperty({ type: [ForcedDemandDto], description: 'All demands that it answers' })
  demands: ForcedDemandDto[];
}

export class WhySeveralDto {
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: Number, description: 'Copies in the lockfile' }) copiesNow: number;
  @ApiProperty({ type: [CopyOfDto] }) copies: CopyOfDto[];
  @ApiProperty({ type: Number, description: 'It cannot do with fewer as demands stand' })
  least: number;
  @ApiProperty({ type: [ForcedDemandDto], description: 'Demands that prove it' })
  forcedBy: ForcedDemandDto[];
  @ApiProperty({ type: [NeedlessDto] }) needless: NeedlessDto[];
}

/** A link by its ends: a project's folder, or name and version of a copy. */
export class NamedLinkDto {
  @ApiProperty({ type: String }) @IsString() @MaxLength(1000) from: string;
  @ApiProperty({ type: String }) @IsString() @MaxLength(1000) to: string;
}

export class WithoutDto {
  @ApiProperty({ type: [NamedLinkDto], description: 'Links that are struck out' })
  @IsArray()
  @ArrayMaxSize(200)
  @EachIs(() => NamedLinkDto)
  links: NamedLinkDto[];
}

export class WithoutAnswerDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [String], description: 'Copies that nothing brings any more' })
  copies: string[];
  @ApiProperty({ type: Number }) bytes: number;
}

@ApiExtraModels(...EDIT_CLASSES)
export class WhatIfDto {
  @ApiProperty({ type: 'array', items: EDIT_SCHEMA })
  @IsArray()
  @ArrayMaxSize(200)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @ByEditKind()
  edits: EditDto[];

  @ApiProperty({ type: Boolean, required: false, description: 'Look for suggested fixes as well' })
  @IsOptional()
  @IsBoolean()
  suggestedFixes?: boolean;
}

export class WhatIfAnswerDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: EvaluationDto }) evaluation: EvaluationDto;
  @ApiProperty({ type: [String], nullable: true, description: 'Why an edit cannot be made' })
  problems: (string | null)[] | null;
  @ApiProperty({ type: [SuggestedFixesDto] }) suggestedFixes: SuggestedFixesDto[];
  @ApiProperty({ type: [NamedLinkDto], description: 'Who would newly require what' })
  gained: NamedLinkDto[];
  @ApiProperty({ type: [NamedLinkDto], description: 'Who would no longer require what' })
  lost: NamedLinkDto[];
  @ApiProperty({ type: Number, description: 'Bytes of the copies that come, less those that go' })
  bytes: number;
}
