import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger';
import {
  REQUIREMENT_KINDS,
  VERSION_STEPS,
  type RequirementKind,
  type VersionStep,
} from '@deep-ledger/core';
import { IsIn, IsOptional } from 'class-validator';
import { PlaceDto } from '../problems/problem.dto.js';

export const STANDINGS = ['takes', 'equals', 'off', 'excepted', 'nothing-agreed'] as const;

export class RailReleaseDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ enum: ['plain', 'deprecated', 'withdrawn', 'prerelease'] }) state:
    | 'plain'
    | 'deprecated'
    | 'withdrawn'
    | 'prerelease';
}

export class RailMarkDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: Number }) inLine: number;
  @ApiProperty({ type: Number }) off: number;
}

/** Indices of releases on the rail. */
export class SpanDto {
  @ApiProperty({ type: Number }) first: number;
  @ApiProperty({ type: Number }) last: number;
}

export class RailReachDto {
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({
    type: SpanDto,
    nullable: true,
    description: 'The releases that it admits; null: none',
  })
  span: SpanDto | null;
  @ApiProperty({ type: Number }) requirements: number;
  @ApiProperty({ type: Boolean }) isOff: boolean;
}

export class BehindDto {
  @ApiProperty({ enum: VERSION_STEPS }) step: VersionStep;
  @ApiProperty({ type: String }) newest: string;
  @ApiProperty({ type: Number }) releases: number;
}

/** One project's requirement on the row's package. */
export class AlignmentCellDto {
  @ApiProperty({ type: Number, description: 'Index among the projects' }) project: number;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: String, nullable: true }) copy: string | null;
  @ApiProperty({ enum: STANDINGS }) standing: (typeof STANDINGS)[number];
  @ApiProperty({ type: Boolean }) isOff: boolean;
}

export class AlignmentRowDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) summary: string;
  @ApiProperty({ type: String, nullable: true, description: 'Lockstep set' }) set: string | null;
  @ApiProperty({ type: String, nullable: true }) agreed: string | null;
  @ApiProperty({ type: String, nullable: true }) pin: string | null;
  @ApiProperty({ type: [RailReleaseDto] }) releases: RailReleaseDto[];
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: [RailMarkDto] }) marks: RailMarkDto[];
  @ApiProperty({ type: [RailReachDto] }) reaches: RailReachDto[];
  @ApiProperty({ type: Number }) usedBy: number;
  @ApiProperty({ type: Number }) off: number;
  @ApiProperty({ type: Number }) copies: number;
  @ApiProperty({ type: Number }) exceptions: number;
  @ApiProperty({
    type: BehindDto,
    nullable: true,
    description: 'How far the lowest in use is behind',
  })
  behind: BehindDto | null;
  @ApiProperty({ type: [AlignmentCellDto], description: 'Empty where they are left out' })
  cells: AlignmentCellDto[];
}

export class ProjectNameDto {
  @ApiProperty({ type: String }) folder: string;
  @ApiProperty({ type: String }) name: string;
}

export const SCOPES = ['shared', 'direct', 'all'] as const;
export type Scope = (typeof SCOPES)[number];
const YES_OR_NO = ['true', 'false'] as const;

export class AlignmentQuery {
  @ApiPropertyOptional({
    enum: SCOPES,
    default: 'all',
    description:
      'Packages that two or more projects require, that any does, or every one with a copy',
  })
  @IsOptional()
  @IsIn(SCOPES)
  scope: Scope = 'all';

  @ApiPropertyOptional({
    enum: YES_OR_NO,
    default: 'true',
    description: 'Whether rows have a cell for each project that requires the package',
  })
  @IsOptional()
  @IsIn(YES_OR_NO)
  cells: (typeof YES_OR_NO)[number] = 'true';
}

export class AlignmentDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ enum: SCOPES }) scope: Scope;
  @ApiProperty({ type: Boolean }) hasCells: boolean;
  @ApiProperty({ type: Number, description: 'In all scopes' }) packages: number;
  @ApiProperty({ type: [ProjectNameDto] }) projects: ProjectNameDto[];
  @ApiProperty({ type: [AlignmentRowDto] }) rows: AlignmentRowDto[];
}

export class PackageNameDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) summary: string;
  @ApiProperty({ type: String, nullable: true }) agreed: string | null;
  @ApiProperty({ type: Number, description: 'Projects out of line' }) off: number;
}

export class ProjectSumDto extends ProjectNameDto {
  @ApiProperty({ type: Number, description: 'On packages' }) requirements: number;
  @ApiProperty({ type: Number, description: 'That take the shared version' }) takes: number;
  @ApiProperty({ type: Number }) off: number;
  @ApiProperty({ type: Number }) exceptions: number;
}

export class NamesDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [ProjectSumDto] }) projects: ProjectSumDto[];
  @ApiProperty({ type: [PackageNameDto] }) packages: PackageNameDto[];
}

export class ExceptionDto {
  @ApiProperty({ type: String }) reason: string;
  @ApiProperty({ type: String }) owner: string;
  @ApiProperty({ type: String, format: 'date' }) until: string;
}

export class PanelRequirementDto {
  @ApiProperty({ type: String }) folder: string;
  @ApiProperty({ type: String }) project: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: String, description: 'As the manifest has it' }) written: string;
  @ApiProperty({ type: String, description: 'The range it stands for' }) range: string;
  @ApiProperty({
    type: SpanDto,
    nullable: true,
    description: 'The releases that it admits; null: none',
  })
  span: SpanDto | null;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'The version that the lockfile answers',
  })
  copy: string | null;
  @ApiProperty({ enum: STANDINGS }) standing: (typeof STANDINGS)[number];
  @ApiProperty({ type: Boolean }) isOff: boolean;
  @ApiProperty({ type: ExceptionDto, nullable: true }) exception: ExceptionDto | null;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class PanelDemandDto {
  @ApiProperty({ type: String, description: 'The copy that asks, name and version' }) owner: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'What it asks for itself, where that is answered otherwise',
  })
  asked: string | null;
  @ApiProperty({
    type: SpanDto,
    nullable: true,
    description: 'The releases that it admits; null: none',
  })
  span: SpanDto | null;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'The version that the lockfile answers',
  })
  copy: string | null;
}

export class PackagePanelDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, description: 'Changes whenever the model of /model does' })
  modelKey: string;
  @ApiProperty({ type: AlignmentRowDto }) row: AlignmentRowDto;
  @ApiProperty({ type: [PanelRequirementDto] }) requirements: PanelRequirementDto[];
  @ApiProperty({ type: [PanelDemandDto], description: 'What copies in the lockfile ask of it' })
  demands: PanelDemandDto[];
}
