import { HttpException } from '@nestjs/common';
import type { PlacedProblem } from '@deep-ledger/core';

/** An expected failure, answered as a problem document of RFC 9457 with a stable code. */
export class Problem extends HttpException {
  constructor(
    readonly code: string,
    status: number,
    readonly title: string,
    readonly detail: string,
    /** Places in files, where there are any. */
    readonly problems: readonly PlacedProblem[] = [],
  ) {
    super(detail, status);
  }
}
