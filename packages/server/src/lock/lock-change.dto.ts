import { ApiProperty } from '@nestjs/swagger';
import {
  REQUIREMENT_KINDS,
  VERSION_STEPS,
  type RequirementKind,
  type VersionStep,
} from '@deep-ledger/core';

export class CopyNameDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
}

export class MovedCopyDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) from: string;
  @ApiProperty({ type: String }) to: string;
  @ApiProperty({ enum: VERSION_STEPS }) step: VersionStep;
  @ApiProperty({ enum: ['up', 'down'] }) direction: 'up' | 'down';
}

export class LockChangeDto {
  @ApiProperty({ type: [CopyNameDto] }) entered: CopyNameDto[];
  @ApiProperty({ type: [CopyNameDto] }) left: CopyNameDto[];
  @ApiProperty({ type: [MovedCopyDto] }) moved: MovedCopyDto[];
}

export class ChangedRequirementDto {
  @ApiProperty({ type: String, description: 'Folder' }) project: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true, description: 'Null: there was none' }) from:
    | string
    | null;
  @ApiProperty({ type: String, nullable: true, description: 'Null: there is none any more' }) to:
    | string
    | null;
}

export class CopyCausesDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true }) from: string | null;
  @ApiProperty({ type: String, nullable: true }) to: string | null;
  @ApiProperty({ type: [String], description: 'Why, in words' }) causes: string[];
}

export class ExplainedChangeDto extends LockChangeDto {
  @ApiProperty({ type: [ChangedRequirementDto] }) requirements: ChangedRequirementDto[];
  @ApiProperty({ type: Number, description: 'Requirements that stayed and are answered otherwise' })
  reanswered: number;
  @ApiProperty({ type: [CopyCausesDto] }) because: CopyCausesDto[];
}
