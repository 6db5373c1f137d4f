import { Button } from '../parts/Button';

interface Props {
  /** There are packages, and a filter hides them. */
  readonly isFiltered: boolean;
  readonly onClear: () => void;
}

/** Said where no package is shown. */
export function NothingLeft({ isFiltered, onClear }: Props) {
  if (!isFiltered) return 'No project requires a package yet.';
  return (
    <>
      No package is left by this filter.{' '}
      <Button look="text" onClick={onClear}>
        Show all
      </Button>
    </>
  );
}
