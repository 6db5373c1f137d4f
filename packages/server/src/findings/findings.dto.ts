import { ApiExtraModels, ApiProperty, ApiPropertyOptional } from '@nestjs/swagger';
import { Transform } from 'class-transformer';
import { ArrayMaxSize, IsOptional, IsString, MaxLength } from 'class-validator';
import { FINDING_KINDS, SEVERITIES, type FindingKind, type Severity } from '@deep-ledger/core';
import { EDIT_CLASSES, EDIT_SCHEMA, type EditDto } from '../drafts/edit.dto.js';
import { PlaceDto } from '../problems/problem.dto.js';

export class EvidenceDto {
  @ApiProperty({ enum: ['place', 'chain', 'demands'] }) kind: 'place' | 'chain' | 'demands';
  @ApiProperty({ type: String }) says: string;
  @ApiProperty({ type: PlaceDto, nullable: true }) place: PlaceDto | null;
  @ApiProperty({
    type: [String],
    nullable: true,
    description: "From a project's folder to name and version of a copy",
  })
  chain: string[] | null;
  @ApiProperty({ type: String, nullable: true }) package: string | null;
}

@ApiExtraModels(...EDIT_CLASSES)
export class RemedyDto {
  @ApiProperty({ type: String }) says: string;
  @ApiProperty({ type: 'array', items: EDIT_SCHEMA }) edits: EditDto[];
  @ApiProperty({ type: Boolean, description: 'It changes what the team allows or believes' })
  isDecision: boolean;
}

export class RankedRemedyDto extends RemedyDto {
  @ApiProperty({ type: [String], description: 'Names of the findings that it clears' })
  clears: string[];
  @ApiProperty({ type: [String], description: 'Names of findings that come with it' })
  raises: string[];
  @ApiProperty({ type: Number, description: 'Hand-written files that it changes' })
  touches: number;
}

export class MutedDto {
  @ApiProperty({ type: String }) reason: string;
  @ApiProperty({ type: String }) owner: string;
  @ApiProperty({ type: String }) until: string;
}

export class SinceDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) subject: string;
  @ApiProperty({ type: String }) author: string;
  @ApiProperty({ type: String }) at: string;
  @ApiProperty({ type: Boolean, description: 'It was there with the oldest known commit already' })
  isEarlier: boolean;
}

export class FindingDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ enum: FINDING_KINDS, enumName: 'FindingKind' }) kind: FindingKind;
  @ApiProperty({ enum: SEVERITIES, enumName: 'Severity' }) severity: Severity;
  @ApiProperty({ type: String }) says: string;
  @ApiProperty({ type: String, nullable: true, description: "A project's folder" })
  project: string | null;
  @ApiProperty({ type: String, nullable: true }) package: string | null;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
  @ApiProperty({ type: [EvidenceDto] }) evidence: EvidenceDto[];
  @ApiProperty({ type: [RemedyDto] }) remedies: RemedyDto[];
  @ApiProperty({ type: MutedDto, nullable: true }) muted: MutedDto | null;
  @ApiProperty({ type: SinceDto, nullable: true }) since: SinceDto | null;
}

export class CauseDto {
  @ApiProperty({ type: String }) key: string;
  @ApiProperty({ type: String }) says: string;
  @ApiProperty({ type: [String] }) findings: string[];
}

export class ScannedDto {
  @ApiProperty({ type: Number }) files: number;
  @ApiProperty({ type: Number, description: 'Places that could not be read' }) unseen: number;
}

export class FindingsDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({
    type: Boolean,
    description: 'The history is worked out far enough to tell since when findings are there',
  })
  isHistoryKnown: boolean;
  @ApiProperty({ type: [FindingDto] }) findings: FindingDto[];
  @ApiProperty({ type: [CauseDto] }) causes: CauseDto[];
  @ApiProperty({ type: [RankedRemedyDto] }) remedies: RankedRemedyDto[];
  @ApiProperty({ type: ScannedDto, nullable: true }) scanned: ScannedDto | null;
}

export class FindingCountDto {
  @ApiProperty({ type: Number }) open: number;
  @ApiProperty({ type: Number, description: 'Of those that are open' }) error: number;
  @ApiProperty({ type: Number }) warning: number;
  @ApiProperty({ type: Number }) note: number;
}

export class LeftDto {
  @ApiProperty({ type: String }) finding: string;
  @ApiProperty({ type: String }) says: string;
  @ApiProperty({ type: String, description: 'Why it stays' }) why: string;
  @ApiProperty({ type: Boolean, description: 'It is cleared too where a person ticks it' })
  isPerhaps: boolean;
}

const MOST_TICKED = 500;

export class ClearingQuery {
  @ApiPropertyOptional({
    type: [String],
    description: 'Names of findings that are perhaps so, and that a person has decided to clear',
  })
  @IsOptional()
  @Transform(({ value }: { value: unknown }) => (Array.isArray(value) ? value : [value]))
  @IsString({ each: true })
  @MaxLength(500, { each: true })
  @ArrayMaxSize(MOST_TICKED)
  ticked: string[] = [];
}

@ApiExtraModels(...EDIT_CLASSES)
export class ClearingDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, description: 'For the draft that takes the edits' }) name: string;
  @ApiProperty({ type: 'array', items: EDIT_SCHEMA }) edits: EditDto[];
  @ApiProperty({ type: [String] }) cleared: string[];
  @ApiProperty({ type: [LeftDto] }) left: LeftDto[];
}

export class KindCountDto {
  @ApiProperty({ enum: FINDING_KINDS, enumName: 'FindingKind' }) kind: FindingKind;
  @ApiProperty({ type: Number }) count: number;
}

export class FiguresDto {
  @ApiProperty({ type: Number }) projects: number;
  @ApiProperty({ type: Number }) shared: number;
  @ApiProperty({ type: Number }) outOfLine: number;
  @ApiProperty({ type: Number, description: 'Of projects on packages from a registry' })
  requirements: number;
  @ApiProperty({ type: Number, description: 'Requirements that take the agreed version' })
  taking: number;
  @ApiProperty({ type: Number }) copies: number;
  @ApiProperty({ type: Number }) several: number;
  @ApiProperty({ type: Number }) daysBehind: number;
  @ApiProperty({ type: [KindCountDto], description: 'Kinds that there are' })
  byKind: KindCountDto[];
  @ApiProperty({ type: Number }) error: number;
  @ApiProperty({ type: Number }) warning: number;
  @ApiProperty({ type: Number }) note: number;
}

export class PointDto extends FiguresDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) subject: string;
  @ApiProperty({ type: String }) author: string;
  @ApiProperty({ type: String }) at: string;
}

export class OverviewDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: FiguresDto }) now: FiguresDto;
  @ApiProperty({ enum: ['consistent', 'stale', 'broken'] }) lock: 'consistent' | 'stale' | 'broken';
  @ApiProperty({ type: Number }) muted: number;
  @ApiProperty({ type: [RankedRemedyDto], description: 'What to do first' })
  remedies: RankedRemedyDto[];
  @ApiProperty({ type: [PointDto], description: 'Oldest first' }) points: PointDto[];
  @ApiProperty({ type: Number, description: 'Commits to be looked at' }) total: number;
  @ApiProperty({ type: String, nullable: true }) trouble: string | null;
}
