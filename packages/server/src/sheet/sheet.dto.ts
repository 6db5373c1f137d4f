import { ApiProperty } from '@nestjs/swagger';
import { PlaceDto } from '../problems/problem.dto.js';

export class RailReleaseDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String, format: 'date-time' }) published: string;
  @ApiProperty({ enum: ['plain', 'deprecated', 'withdrawn', 'prerelease'] }) state:
    'plain' | 'deprecated' | 'withdrawn' | 'prerelease';
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

export class SheetRowDto {
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
}

export class SheetDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [SheetRowDto] }) rows: SheetRowDto[];
}

export class ExceptionDto {
  @ApiProperty({ type: String }) reason: string;
  @ApiProperty({ type: String }) owner: string;
  @ApiProperty({ type: String, format: 'date' }) until: string;
}

export class BenchRequirementDto {
  @ApiProperty({ type: String }) folder: string;
  @ApiProperty({ type: String }) project: string;
  @ApiProperty({ enum: ['runtime', 'dev', 'peer', 'optional'] }) kind:
    'runtime' | 'dev' | 'peer' | 'optional';
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
  @ApiProperty({ enum: ['takes', 'equals', 'off', 'excepted', 'nothing-agreed'] }) standing:
    'takes' | 'equals' | 'off' | 'excepted' | 'nothing-agreed';
  @ApiProperty({ type: Boolean }) isOff: boolean;
  @ApiProperty({ type: ExceptionDto, nullable: true }) exception: ExceptionDto | null;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class BenchDemandDto {
  @ApiProperty({ type: String, description: 'The copy that asks, name and version' }) owner: string;
  @ApiProperty({ type: String }) range: string;
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

export class CopyNameDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
}

export class MovedCopyDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) from: string;
  @ApiProperty({ type: String }) to: string;
  @ApiProperty({ enum: ['none', 'prerelease', 'patch', 'minor', 'major'] }) step:
    'none' | 'prerelease' | 'patch' | 'minor' | 'major';
  @ApiProperty({ enum: ['up', 'down'] }) direction: 'up' | 'down';
}

export class LockChangeDto {
  @ApiProperty({ type: [CopyNameDto] }) entered: CopyNameDto[];
  @ApiProperty({ type: [CopyNameDto] }) left: CopyNameDto[];
  @ApiProperty({ type: [MovedCopyDto] }) moved: MovedCopyDto[];
}

export class SetSharedDto {
  @ApiProperty({ enum: ['set-shared'] }) kind: 'set-shared';
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String }) range: string;
}

export class TakeSharedDto {
  @ApiProperty({ enum: ['take-shared'] }) kind: 'take-shared';
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: [String] }) projects: string[];
}

export class CandidateDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String, description: 'The shared version that would be agreed on' })
  range: string;
  @ApiProperty({ type: Number, description: 'Projects whose range admits it as it is' })
  allowedBy: number;
  @ApiProperty({ type: Number, description: 'Hand-written files that would change' })
  manifests: number;
  @ApiProperty({ type: Boolean, description: 'Whether the workspace resolves' })
  isAnswered: boolean;
  @ApiProperty({ type: Number, nullable: true, description: 'Copies of the package' }) copies:
    number | null;
  @ApiProperty({ type: Number, nullable: true, description: 'Projects still out of line' }) off:
    number | null;
  @ApiProperty({ type: LockChangeDto, nullable: true }) change: LockChangeDto | null;
  @ApiProperty({ type: [String], description: 'Why it does not resolve' }) sentences: string[];
  @ApiProperty({ type: Boolean }) isNewest: boolean;
  @ApiProperty({ type: Boolean, description: 'The one to begin with' }) isSuggested: boolean;
  @ApiProperty({ type: Boolean }) isAgreed: boolean;
  @ApiProperty({ type: String, nullable: true }) deprecated: string | null;
}

export class BenchDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: SheetRowDto }) row: SheetRowDto;
  @ApiProperty({ type: [BenchRequirementDto] }) requirements: BenchRequirementDto[];
  @ApiProperty({ type: [BenchDemandDto], description: 'What copies in the lockfile ask of it' })
  demands: BenchDemandDto[];
  @ApiProperty({ type: [CandidateDto], description: 'Newest first' }) candidates: CandidateDto[];
}
