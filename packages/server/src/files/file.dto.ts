import { ApiProperty } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt, IsOptional, IsString, Matches, Max, MaxLength, Min } from 'class-validator';

export class FileQuery {
  @ApiProperty({ type: String, description: 'From the root of the repository' })
  @IsString()
  @MaxLength(4000)
  path: string;

  @ApiProperty({
    type: String,
    required: false,
    description: 'A commit or a branch; without it the head of the branch',
  })
  @IsOptional()
  @Matches(/^[^-].*$/, { message: 'Name a commit or a branch.' })
  @MaxLength(200)
  at?: string;

  @ApiProperty({
    type: Number,
    required: false,
    description: 'The lines around this one, from 1; without it the first',
  })
  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(2 ** 31)
  line?: number;
}

export class FilePartDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) subject: string;
  @ApiProperty({ type: String }) path: string;
  @ApiProperty({ type: Number, description: 'Of the first line that is shown, from 1' })
  firstLine: number;
  @ApiProperty({ type: [String] }) lines: string[];
  @ApiProperty({ type: Number, description: 'Of the whole file' }) totalLines: number;
}
