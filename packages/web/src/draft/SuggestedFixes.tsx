import { useQuery } from '@tanstack/react-query';
import { answer, api, type Draft } from '../api/client';
import { keys } from '../api/keys';
import { ErrorNotice } from '../parts/ErrorNotice';
import { usePencil, type PencilTarget } from './usePencil';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly draft: Draft;
  readonly frame: PencilTarget;
}

/** For a draft without an answer: the smallest changes that would give one, each ready to be taken. */
export function SuggestedFixes({ draft, frame }: Props) {
  const { slug } = frame;
  const pencil = usePencil({ ...frame, draftId: draft.id });
  const ways = useQuery({
    queryKey: keys.suggestedFixes(slug, draft.id, draft.revision, draft.base),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/drafts/{id}/suggested-fixes', {
          params: { path: { slug, id: draft.id } },
          signal,
        }),
      ),
  });
  if (ways.isError) return <ErrorNotice error={ways.error} onRetry={() => void ways.refetch()} />;
  if (ways.data === undefined)
    return (
      <p className="text-sm text-ink-2">Looking for suggested fixes; each is tried by resolving.</p>
    );
  const all = ways.data.flatMap((cause) => cause.ways);
  return (
    <section aria-label="Suggested fixes" className="text-sm">
      <h3 className="font-semibold text-ink">
        {all.length === 0 ? 'No single change or pair of changes opens it.' : 'Suggested fixes'}
      </h3>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      <ul>
        {all.map(({ sentence, edits }) => (
          <li key={sentence} className="border-b border-rule py-1 text-ink-2">
            {sentence}{' '}
            {edits.length > 0 && (
              <EditorButton
                look="text"
                className="text-sm"
                disabled={pencil.isPending}
                onClick={() => pencil.mutate({ kind: 'edits', edits, draftName: draft.name })}
              >
                Take this way
              </EditorButton>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
