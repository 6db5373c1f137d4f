import { ApiProperty } from '@nestjs/swagger';
import { VERSION_STEPS, type VersionStep } from '@deep-ledger/core';
import { IsOptional, Matches } from 'class-validator';
import { JobDto } from '../jobs/jobs.dto.js';

const DAY = /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/;
const DAY_WORDS = { message: 'Write a day as in 2026-11-16.' };

export class DriftQuery {
  @ApiProperty({ type: String, required: false, format: 'date', description: 'Today when absent' })
  @IsOptional()
  @Matches(DAY, DAY_WORDS)
  day?: string;

  @ApiProperty({
    type: String,
    required: false,
    format: 'date',
    description: 'A day to compare with; the lockfile when absent',
  })
  @IsOptional()
  @Matches(DAY, DAY_WORDS)
  from?: string;
}

export class DriftDemandDto {
  @ApiProperty({ type: String, description: "A project's folder, or name and version of a copy" })
  owner: string;
  @ApiProperty({ type: Boolean }) isProject: boolean;
  @ApiProperty({ type: String }) range: string;
}

export class DriftLineDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true, description: 'Null: it comes new' })
  from: string | null;
  @ApiProperty({ type: String, nullable: true, description: 'Null: it goes' }) to: string | null;
  @ApiProperty({ enum: VERSION_STEPS, nullable: true, description: 'How far' })
  step: VersionStep | null;
  @ApiProperty({ enum: ['up', 'down'], nullable: true }) direction: 'up' | 'down' | null;
  @ApiProperty({ type: [DriftDemandDto], description: 'The ranges that let it move' })
  demands: DriftDemandDto[];
  @ApiProperty({ type: Number, description: 'Further ones' }) more: number;
}

export class DriftDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, format: 'date' }) day: string;
  @ApiProperty({ type: String, format: 'date', nullable: true, description: 'Null: the lockfile' })
  from: string | null;
  @ApiProperty({ type: Number, description: 'Copies that stay' }) same: number;
  @ApiProperty({ type: [DriftLineDto] }) lines: DriftLineDto[];
  @ApiProperty({
    type: [String],
    description: 'Where nothing answers on one of the days: why, in sentences',
  })
  explanation: string[];
}

export class DriftPointDto {
  @ApiProperty({ type: String, format: 'date' }) day: string;
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: Number, nullable: true, description: 'Null: nothing would have answered' })
  copies: number | null;
}

export class DriftOverTimeDto {
  @ApiProperty({ type: [DriftPointDto], description: 'Oldest first, as far as they are known' })
  points: DriftPointDto[];
  @ApiProperty({ type: Number }) total: number;
  @ApiProperty({ type: JobDto, nullable: true }) job: JobDto | null;
}
