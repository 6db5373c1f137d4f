import type { ReactNode } from 'react';
import type { Draft } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { day } from '../parts/words';
import { useIs } from '../session/useSession';
import { usePencil, type PencilTarget } from './usePencil';

type Open = NonNullable<Draft['evaluation']['consequences']>['openTerms'];

interface Props {
  readonly open: Open;
  readonly frame: PencilTarget;
  /** Of the draft that is begun where none is in hand. */
  readonly draftName: string;
  /** What more is to be known of accepting them here. */
  readonly children?: ReactNode;
}

/** Terms of copies that are to come, and that nobody has accepted. Whoever may post accepts them here, in a draft. */
export function OpenTerms({ open, frame, draftName, children }: Props) {
  const pencil = usePencil(frame);
  const mayAccept = useIs('keeper');
  if (open.length === 0) return null;
  return (
    <Notice kind="caution" title="Terms to accept before it is posted">
      <ul className="flex flex-col gap-2">
        {open.map(({ id, title, url, copies, earlier }) => (
          <li key={`${id} ${title} ${url}`}>
            <p>
              <a
                href={url}
                target="_blank"
                rel="noopener noreferrer"
                className="font-semibold break-words text-agreed underline"
              >
                {title}
              </a>{' '}
              for {copies.map(({ name, version }) => `${name} ${version}`).join(', ')}
              {earlier !== null &&
                `. They changed since ${earlier.by} accepted "${earlier.title}" on ${day(earlier.on)}`}
              .
            </p>
            <Button
              look="quiet"
              disabled={!mayAccept || pencil.isPending}
              title={mayAccept ? undefined : 'A keeper accepts terms; ask one of them.'}
              onClick={() =>
                pencil.mutate({
                  kind: 'edits',
                  edits: [{ kind: 'accept-terms', id, title, url }],
                  draftName,
                })
              }
            >
              Accept for the team
            </Button>
          </li>
        ))}
      </ul>
      {children}
      {pencil.isError && <ErrorNotice error={pencil.error} />}
    </Notice>
  );
}
