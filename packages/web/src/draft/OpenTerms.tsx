import type { Draft } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { day } from '../parts/words';
import { useIs } from '../session/useSession';
import { usePencil, type PencilTarget } from './usePencil';

interface Props {
  readonly draft: Draft;
  readonly frame: PencilTarget;
}

/** Terms that a draft brings and nobody has accepted. Whoever may post accepts them here. */
export function OpenTerms({ draft, frame }: Props) {
  const pencil = usePencil(frame);
  const mayAccept = useIs('keeper');
  const open = draft.evaluation.consequences?.openTerms ?? [];
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
                  draftName: draft.name,
                })
              }
            >
              Accept for the team
            </Button>
          </li>
        ))}
      </ul>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
    </Notice>
  );
}
