import { ApiProperty } from '@nestjs/swagger';
import { JOB_KINDS, type JobKind, type JobState } from './job.entity.js';

export class JobDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ enum: JOB_KINDS }) kind: JobKind;
  @ApiProperty({ enum: ['waiting', 'running', 'done', 'failed', 'stopped'] }) state: JobState;
  @ApiProperty({ type: Number }) done: number;
  @ApiProperty({ type: Number, description: '0: not known yet' }) total: number;
  @ApiProperty({ type: String, nullable: true, description: 'Why it failed' }) trouble:
    | string
    | null;
  @ApiProperty({ type: String, format: 'date-time' }) updatedAt: string;
}
