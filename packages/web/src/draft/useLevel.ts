import { useMutation } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { useTakeDraft } from './useDraft';

/** Pencils a package in at a version; begins a draft where none is in hand. */
export function useLevel(slug: string, draftId: string | null, takeDraft: (id: string) => void) {
  const take = useTakeDraft(slug);
  return useMutation({
    mutationFn: async ({ name, version }: { readonly name: string; readonly version: string }) => {
      const id =
        draftId ??
        (
          await answer(
            api.POST('/api/workspaces/{slug}/drafts', {
              params: { path: { slug } },
              body: { name: `level ${name}` },
            }),
          )
        ).id;
      return answer(
        api.PUT('/api/workspaces/{slug}/drafts/{id}/packages/{name}', {
          params: { path: { slug, id, name } },
          body: { version },
        }),
      );
    },
    onSuccess: (draft) => {
      takeDraft(draft.id);
      take(draft);
    },
  });
}
