import { useQuery } from '@tanstack/react-query';
import { useNavigation, useSearchParams } from 'react-router';
import { answer, api, type DraftSummary } from '../api/client';
import { keys } from '../api/keys';
import { useChangeAddress } from './useChangeAddress';

/** Drafts of a workspace that are not posted. */
export function useDrafts(slug: string) {
  return useQuery({
    queryKey: keys.drafts(slug),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/drafts', { params: { path: { slug } }, signal })),
  });
}

/**
 * The draft that the address names, else the one of one's own that was changed last; null: none. Somebody else's is in
 * hand only where the address names it: one has taken it up, or was sent the link.
 */
export function draftInHand(wanted: string | null, drafts: readonly DraftSummary[]): string | null {
  if (wanted !== null) return wanted;
  const own = drafts.filter(({ isMine }) => isMine);
  return own.sort((a, b) => b.updatedAt.localeCompare(a.updatedAt))[0]?.id ?? null;
}

export function useDraftInHand(slug: string): {
  readonly id: string | null;
  readonly take: (id: string | null) => void;
} {
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const navigation = useNavigation();
  const drafts = useDrafts(slug);
  const take = (id: string | null): void => {
    if (id === params.get('draft')) return;
    // Writing the address would break off a move to another page. There the draft is in hand as the newest.
    if (id !== null && navigation.state !== 'idle') return;
    change({ draft: id });
  };
  return { id: draftInHand(params.get('draft'), drafts.data ?? []), take };
}
