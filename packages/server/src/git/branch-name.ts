import { applyDecorators } from '@nestjs/common';
import { IsString, Matches, MaxLength } from 'class-validator';

/** As `git check-ref-format --branch` has it, without the two names that git takes for something else. */
const BRANCH_NAME =
  /^(?!(?:HEAD|@)$)(?![-/.])(?!.*(\.\.|\/\/|@\{|\/\.|\.lock\/))[^\s\p{Cc}~^:?*[\\]+(?<![/.]|\.lock)$/u;

/** A name that a branch can have. */
export function BranchName(): PropertyDecorator {
  return applyDecorators(
    IsString(),
    Matches(BRANCH_NAME, {
      message:
        'A branch name has no spaces, no two dots together and none of ~ ^ : ? * [ \\, and is neither HEAD nor @.',
    }),
    MaxLength(200),
  );
}
