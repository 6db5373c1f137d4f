import { IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';
import { Type } from 'class-transformer';
import { ApiProperty } from '@nestjs/swagger';
import { ExplainedChangeDto } from '../lock/lock-change.dto.js';
import { CommitDto } from '../workspaces/workspace.dto.js';
import { PostDto } from './post.dto.js';

/** A commit that touched the workspace's own files: a post, or one made outside. */
export class JournalEntryDto extends CommitDto {
  @ApiProperty({ type: Number, description: 'Hand-written files that it touched' })
  manifests: number;
  @ApiProperty({ type: Boolean }) touchesLock: boolean;
  @ApiProperty({ type: PostDto, nullable: true, description: 'Null: it was made outside' })
  post: PostDto | null;
}

export class JournalDto {
  @ApiProperty({ type: [JournalEntryDto], description: 'Newest first' }) entries: JournalEntryDto[];
  @ApiProperty({ type: Boolean, description: 'There are older ones' }) hasMore: boolean;
}

/** Something that a hand-written file says otherwise. */
export class ChangedUnitDto {
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ type: [String], description: 'Keys that lead to it' }) path: string[];
  @ApiProperty({ type: String, nullable: true, description: 'TOML as written; null: not there' })
  from: string | null;
  @ApiProperty({ type: String, nullable: true }) to: string | null;
}

export class ComparisonDto {
  @ApiProperty({ type: CommitDto }) from: CommitDto;
  @ApiProperty({ type: CommitDto }) to: CommitDto;
  @ApiProperty({ type: [ChangedUnitDto] }) units: ChangedUnitDto[];
  @ApiProperty({
    type: ExplainedChangeDto,
    nullable: true,
    description: 'Null: a lockfile cannot be read',
  })
  change: ExplainedChangeDto | null;
  @ApiProperty({ enum: ['consistent', 'stale', 'broken'] }) lockBefore:
    | 'consistent'
    | 'stale'
    | 'broken';
  @ApiProperty({ enum: ['consistent', 'stale', 'broken'] }) lockAfter:
    | 'consistent'
    | 'stale'
    | 'broken';
}

export class JournalQuery {
  @ApiProperty({
    type: Number,
    required: false,
    description: 'How many of the newest to leave out',
  })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(10_000_000)
  skip = 0;
}

export class ComparisonQuery {
  @ApiProperty({
    type: String,
    required: false,
    description: 'A commit or branch; the parent of the other when absent',
  })
  @IsOptional()
  @IsString()
  @MaxLength(300)
  from?: string;

  @ApiProperty({ type: String, description: 'A commit or branch' })
  @IsString()
  @MaxLength(300)
  to: string;
}
