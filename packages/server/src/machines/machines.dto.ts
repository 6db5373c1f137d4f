import { ApiProperty } from '@nestjs/swagger';
import { IsIn, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { LINE_KINDS, REPORTER_KINDS, type LineKind, type ReporterKind } from './report.entity.js';

const SUM = /^[0-9a-f]{64}$/;

export class NewReportDto {
  @ApiProperty({ enum: REPORTER_KINDS }) @IsIn(REPORTER_KINDS) kind: ReporterKind;

  @ApiProperty({ type: String, description: 'Of the machine, or of the kind of build run' })
  @Matches(/\S/, { message: 'Whoever reports has a name.' })
  @MaxLength(200)
  name: string;

  @ApiProperty({ type: String, nullable: true, required: false })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  branch?: string | null;

  @ApiProperty({ type: String, nullable: true, required: false })
  @IsOptional()
  @Matches(/^[0-9a-f]{40,64}$/, { message: 'Write the commit out whole, or leave it out.' })
  commit?: string | null;

  @ApiProperty({ type: String, description: "The sum of the lockfile's text: SHA-256 in hex" })
  @Matches(SUM, { message: 'The sum of a lockfile has 64 hexadecimal digits.' })
  lockSum: string;

  @ApiProperty({
    type: String,
    nullable: true,
    required: false,
    description: 'The sum of the lockfile from which packages were installed last',
  })
  @IsOptional()
  @Matches(SUM, { message: 'The sum of a lockfile has 64 hexadecimal digits.' })
  installedSum?: string | null;
}

export class StandDto {
  @ApiProperty({ type: String }) sum: string;
  @ApiProperty({
    enum: ['here', 'behind', 'elsewhere'],
    description: 'At the head; at an earlier commit of the branch; at none of its commits',
  })
  state: 'here' | 'behind' | 'elsewhere';
  @ApiProperty({ type: String, nullable: true, description: 'The last commit with this lockfile' })
  commit: string | null;
  @ApiProperty({ type: Number, description: 'Changes of the lockfile since' }) behind: number;
  @ApiProperty({ type: [String], description: 'Copies that the head has and this has not' })
  lacks: string[];
  @ApiProperty({ type: [String], description: 'Copies that this has and the head has not' })
  keeps: string[];
}

export class MachineLineDto {
  @ApiProperty({ enum: LINE_KINDS }) kind: LineKind;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, nullable: true }) branch: string | null;
  @ApiProperty({ type: StandDto }) lock: StandDto;
  @ApiProperty({ type: StandDto, nullable: true, description: 'Null: not told' })
  installed: StandDto | null;
  @ApiProperty({ type: String, description: 'Of a branch, who committed to it last' })
  reportedBy: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
  @ApiProperty({ type: String, format: 'date-time', description: 'It has told the same since' })
  since: string;
  @ApiProperty({ type: Boolean, description: 'The answer is old' }) isFaded: boolean;
}

export class MachinesDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, nullable: true }) sum: string | null;
  @ApiProperty({ type: Boolean, description: 'The history of the lockfile is known whole' })
  isHistoryDone: boolean;
  @ApiProperty({ type: [MachineLineDto] }) lines: MachineLineDto[];
}
