import { ApiError } from '../api/client';
import { Button } from './Button';
import { Notice } from './Notice';
import { ProblemList } from './ProblemList';

interface Props {
  readonly error: unknown;
  readonly onRetry?: () => void;
}

/** A failed request in words, with what to do where that is known. */
export function ErrorNotice({ error, onRetry }: Props) {
  const problem = error instanceof ApiError ? error.problem : null;
  return (
    <Notice kind="trouble" title={problem?.title ?? 'Something went wrong in this page'}>
      {problem === null || problem.problems.length === 0 ? (
        <p>{error instanceof Error ? error.message : String(error)}</p>
      ) : (
        <ProblemList problems={problem.problems} />
      )}
      {onRetry !== undefined && (
        <Button look="text" onClick={onRetry}>
          Try again
        </Button>
      )}
    </Notice>
  );
}
