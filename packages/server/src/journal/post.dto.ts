import { ApiProperty } from '@nestjs/swagger';
import { IsInt, IsOptional, Matches, MaxLength } from 'class-validator';
import { BranchName } from '../git/branch-name.js';
import { EditWordsDto } from '../drafts/draft.dto.js';

export class PostDraftDto {
  @ApiProperty({ type: String, description: 'The commit on which the draft was seen' })
  @Matches(/^[0-9a-f]{40,64}$/, { message: 'The base has to be a commit, written out whole.' })
  base: string;

  @ApiProperty({ type: Number, description: 'The revision of the draft that was seen' })
  @IsInt()
  revision: number;

  @ApiProperty({ type: String, description: 'The sum of the lockfile that was seen' })
  @Matches(/^[0-9a-f]{64}$/, { message: 'The sum of a lockfile has 64 digits from 0 to f.' })
  sum: string;

  @ApiProperty({ type: String })
  @Matches(/\S/, { message: 'A commit needs a message.' })
  @MaxLength(20000)
  message: string;

  @ApiProperty({
    type: String,
    required: false,
    description: "A branch to be made at the commit; the workspace's own branch when absent",
  })
  @IsOptional()
  @BranchName()
  branch?: string;
}

export class PostDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) base: string;
  @ApiProperty({ type: String }) branch: string;
  @ApiProperty({ type: String }) message: string;
  @ApiProperty({ type: String, description: 'Who began the draft' }) authorName: string;
  @ApiProperty({ type: String }) authorEmail: string;
  @ApiProperty({ type: String, description: 'Who posted it' }) committerName: string;
  @ApiProperty({ type: String }) committerEmail: string;
  @ApiProperty({ type: [String], description: 'Who approved it, name and address' })
  approvedBy: string[];
  @ApiProperty({ type: String, format: 'date-time' }) postedAt: string;
  @ApiProperty({ type: [EditWordsDto] }) edits: EditWordsDto[];
  @ApiProperty({ type: Number, description: 'Packages out of line' }) outOfLineBefore: number;
  @ApiProperty({ type: Number }) outOfLineAfter: number;
  @ApiProperty({ type: Number, nullable: true }) copiesBefore: number | null;
  @ApiProperty({ type: Number }) copiesAfter: number;
  @ApiProperty({ type: Number }) manifests: number;
  @ApiProperty({ type: String }) lockSum: string;
}
