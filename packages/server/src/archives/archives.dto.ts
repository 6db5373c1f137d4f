import { ApiProperty } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';

const SHOWN = ['all', 'missing', 'gone', 'unused'] as const;

export class ArchivesQuery {
  @ApiProperty({ enum: SHOWN, required: false })
  @IsOptional()
  @IsIn(SHOWN)
  show: (typeof SHOWN)[number] = 'all';

  @ApiProperty({ type: String, required: false, description: 'Part of a name' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  search = '';

  @ApiProperty({ type: Number, required: false, description: 'Lines before the first one' })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(10_000_000)
  skip = 0;
}

export class ArchiveLineDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String, description: 'Algorithm and hash in hexadecimal' }) digest: string;
  @ApiProperty({ type: Number, nullable: true, description: 'Null: it is not kept' })
  bytes: number | null;
  @ApiProperty({ type: [String], description: 'Branches whose lockfile names it' })
  branches: string[];
  @ApiProperty({ type: Number, description: 'Other workspaces whose lockfiles name it' })
  elsewhere: number;
  @ApiProperty({ type: Boolean, description: 'Its registry does not have it any more' })
  isGone: boolean;
  @ApiProperty({ type: String, nullable: true, description: 'Why it is not kept' })
  trouble: string | null;
  @ApiProperty({ type: String, format: 'date-time', nullable: true }) keptAt: string | null;
  @ApiProperty({ type: String, format: 'date-time', nullable: true }) checkedAt: string | null;
  @ApiProperty({ type: String, format: 'date-time', nullable: true }) sentAt: string | null;
  @ApiProperty({
    type: String,
    format: 'date-time',
    nullable: true,
    description: 'Null: a lockfile names it',
  })
  unusedSince: string | null;
}

export class ArchivesDto {
  @ApiProperty({ type: Boolean, description: 'This server keeps archives' }) isOn: boolean;
  @ApiProperty({
    type: Boolean,
    description: 'The lockfiles as they are now were gone through, and no check is under way',
  })
  isUpToDate: boolean;
  @ApiProperty({ type: Number, description: 'Branches whose lockfiles were gone through' })
  branches: number;
  @ApiProperty({ type: String, format: 'date-time', nullable: true }) lookedAt: string | null;
  @ApiProperty({ type: Number, description: 'Did not hold when they were checked last' })
  unsound: number;
  @ApiProperty({ type: Number, description: 'Archives that lockfiles of this workspace name' })
  named: number;
  @ApiProperty({ type: Number, description: 'Of these, not kept' }) missing: number;
  @ApiProperty({ type: Number, description: 'Of these, gone from their registry' }) gone: number;
  @ApiProperty({ type: Number, description: 'Kept, and named by no lockfile of any workspace' })
  unused: number;
  @ApiProperty({ type: Number }) unusedBytes: number;
  @ApiProperty({ type: Number, description: 'Kept for all workspaces' }) archives: number;
  @ApiProperty({ type: Number }) bytes: number;
  @ApiProperty({ type: Number, description: 'So much they may take' }) mostBytes: number;
  @ApiProperty({
    type: String,
    format: 'date-time',
    nullable: true,
    description: 'All that are kept were hashed since',
  })
  checkedSince: string | null;
  @ApiProperty({ type: Number, description: 'Lines that match' }) matching: number;
  @ApiProperty({ type: [ArchiveLineDto], description: 'Up to 100' }) lines: ArchiveLineDto[];
}

export class ClearArchivesDto {
  @ApiProperty({ type: Number, description: 'Days for which no lockfile has named them' })
  @IsInt()
  @Min(0)
  @Max(36_500)
  unusedForDays: number;
}

export class ClearedDto {
  @ApiProperty({ type: Number }) archives: number;
  @ApiProperty({ type: Number }) bytes: number;
}
