import { memo } from 'react';
import type { ProjectName } from '../api/client';

/** Names that inputs of the page suggest. */
export const PACKAGE_LIST = 'trace-packages';
export const SUBJECT_LIST = 'trace-subjects';

interface Props {
  readonly packages: readonly string[];
  readonly projects: readonly ProjectName[];
}

/** Thousands of names, so they stand on the page once and are drawn again only where they change. */
export const NameLists = memo(function NameLists({ packages, projects }: Props) {
  return (
    <>
      <datalist id={PACKAGE_LIST}>
        {packages.map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
      <datalist id={SUBJECT_LIST}>
        {[...packages, ...projects.map(({ name }) => name)].map((one) => (
          <option key={one} value={one} />
        ))}
      </datalist>
    </>
  );
});
