import { ApiProperty } from '@nestjs/swagger';
import { REQUIREMENT_KINDS, type RequirementKind } from '@deep-ledger/core';
import { IsString, MaxLength } from 'class-validator';
import { CopyNameDto } from '../lock/lock-change.dto.js';
import { PlaceDto } from '../problems/problem.dto.js';
import { BehindDto, ExceptionDto, ProjectNameDto, STANDINGS } from '../alignment/alignment.dto.js';

export class ProjectQuery {
  @ApiProperty({ type: String, description: 'Folder of the project' })
  @IsString()
  @MaxLength(1000)
  folder: string;
}

export class ProjectRequirementDto {
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) summary: string;
  @ApiProperty({ type: String, description: 'As the manifest has it' }) written: string;
  @ApiProperty({ type: String, nullable: true, description: 'Null: another project answers it' })
  range: string | null;
  @ApiProperty({ type: [String] }) when: string[];
  @ApiProperty({ type: Boolean, description: 'Every project has it' }) isEverywhere: boolean;
  @ApiProperty({ type: ProjectNameDto, nullable: true, description: 'The project that answers it' })
  project: ProjectNameDto | null;
  @ApiProperty({ type: String, nullable: true, description: 'The version that answers it' }) copy:
    | string
    | null;
  @ApiProperty({ enum: STANDINGS, nullable: true }) standing: (typeof STANDINGS)[number] | null;
  @ApiProperty({ type: Boolean }) isOff: boolean;
  @ApiProperty({ type: String, nullable: true }) agreed: string | null;
  @ApiProperty({ type: ExceptionDto, nullable: true }) exception: ExceptionDto | null;
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: BehindDto, nullable: true, description: 'How far its copy is behind' })
  behind: BehindDto | null;
  @ApiProperty({ type: String, nullable: true }) deprecated: string | null;
  @ApiProperty({
    type: [CopyNameDto],
    description: 'Copies that only this requirement brings, its own answer first',
  })
  bringsAlone: CopyNameDto[];
  @ApiProperty({ type: Number, description: 'Of their archives' }) bytesAlone: number;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class UnresolvedRequirementDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, description: 'As it is written' }) text: string;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class ProjectDto extends ProjectNameDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
  @ApiProperty({ enum: ['app', 'library'] }) ships: 'app' | 'library';
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ type: [String] }) implicit: string[];
  @ApiProperty({ type: [ProjectRequirementDto] }) requirements: ProjectRequirementDto[];
  @ApiProperty({
    type: [UnresolvedRequirementDto],
    description: 'What is no range: it is left as it is, and never resolved',
  })
  unresolved: UnresolvedRequirementDto[];
  @ApiProperty({ type: [ProjectNameDto] }) requiredBy: ProjectNameDto[];
  @ApiProperty({ type: Number, description: 'Copies that it reaches' }) copies: number;
}
