import type { ReactNode } from 'react';
import type { WorkspaceState } from '../api/client';
import { usePageTitle } from '../parts/usePageTitle';
import { FirstVisit } from './FirstVisit';
import { Stamp } from './Stamp';

interface Props {
  readonly title: string;
  /** The state of things in words and figures. */
  readonly children: ReactNode;
  readonly state: WorkspaceState | undefined;
}

export function PageHead({ title, children, state }: Props) {
  usePageTitle(title, state?.name);
  return (
    <>
      <header className="flex flex-wrap items-end justify-between gap-x-4 gap-y-2 pb-3">
        <div className="min-w-0 flex-1 basis-[320px]">
          <h1 className="font-serif text-title font-[650] tracking-[-0.015em]">{title}</h1>
          <p className="mt-0.5 text-ink-2">{children}</p>
        </div>
        {state !== undefined && <Stamp lock={state.lock} />}
      </header>
      <FirstVisit />
    </>
  );
}
