import { ApiProperty } from '@nestjs/swagger';
import { IsInt, IsOptional, Matches, MaxLength, Min } from 'class-validator';

export class ApproveDto {
  @ApiProperty({ type: Number, description: 'The revision that the person has seen' })
  @IsInt()
  revision: number;

  @ApiProperty({ type: String, description: 'The commit on which the person has seen it' })
  @Matches(/^[0-9a-f]{40,64}$/, { message: 'The base has to be a commit, written out whole.' })
  base: string;

  @ApiProperty({ type: String, description: 'The sum of the lockfile that the person has seen' })
  @Matches(/^[0-9a-f]{64}$/, { message: 'The sum of a lockfile has 64 digits from 0 to f.' })
  sum: string;
}

export class NewCommentDto {
  @ApiProperty({ type: String })
  @Matches(/\S/, { message: 'Write something.' })
  @MaxLength(4000)
  text: string;

  @ApiProperty({
    type: Number,
    required: false,
    description: 'Which of the draft’s edits it is about, from 0; without it, the draft as a whole',
  })
  @IsOptional()
  @IsInt()
  @Min(0)
  entry?: number;
}

export class ApprovalDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
  @ApiProperty({
    type: Boolean,
    description: 'Draft, branch and lockfile are those that were approved',
  })
  isCurrent: boolean;
  @ApiProperty({ type: Boolean }) isMine: boolean;
}

export class CommentDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) text: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
  @ApiProperty({ type: Number, nullable: true, description: 'Null: of the draft as a whole' })
  entry: number | null;
  @ApiProperty({ type: Boolean, description: 'About an edit that is no longer in the draft' })
  isOfGoneEdit: boolean;
  @ApiProperty({ type: Boolean }) isMine: boolean;
}

export class ReviewDto {
  @ApiProperty({ type: Boolean, description: 'A post waits for a second person' })
  needsApproval: boolean;
  @ApiProperty({ type: Boolean, description: 'Nothing of this kind stands against a post' })
  isApproved: boolean;
  @ApiProperty({ type: Boolean, description: 'Whoever asks had no part in the draft' })
  mayApprove: boolean;
  @ApiProperty({ type: [ApprovalDto] }) approvals: ApprovalDto[];
  @ApiProperty({ type: [CommentDto] }) comments: CommentDto[];
}
