import { useIsMutating, useMutation } from '@tanstack/react-query';
import { answer, api, type Draft, type Edit } from '../api/client';
import { useTakeDraft } from './useDraft';

/** Something to be pencilled in. */
export type Pencilling =
  | { readonly kind: 'edits'; readonly edits: readonly Edit[] }
  | { readonly kind: 'level'; readonly name: string; readonly version: string }
  | {
      readonly kind: 'level-many';
      readonly packages: readonly string[];
      readonly to: 'in-use' | 'newest';
    }
  | {
      readonly kind: 'centralise';
      readonly lines: readonly { readonly package: string; readonly range: string }[];
      readonly sets: readonly string[];
    };

export interface PencilTarget {
  readonly slug: string;
  readonly draftId: string | null;
  readonly takeDraft: (id: string) => void;
}

function pencilKey(slug: string): readonly string[] {
  return ['pencil', slug];
}

/** Is something on its way into a draft, so that what is shown of it is about to change? */
export function useIsPencilling(slug: string): boolean {
  return useIsMutating({ mutationKey: pencilKey(slug) }) > 0;
}

/** Puts edits into the draft in hand; begins a draft where none is. */
export function usePencil({ slug, draftId, takeDraft }: PencilTarget) {
  const take = useTakeDraft(slug);
  return useMutation({
    mutationKey: pencilKey(slug),
    mutationFn: async (pencilling: Pencilling & { readonly draftName: string }) => {
      const id = draftId ?? (await beginDraft(slug, pencilling.draftName));
      return pencilled(slug, id, pencilling);
    },
    onSuccess: (draft) => {
      takeDraft(draft.id);
      take(draft);
    },
  });
}

export async function beginDraft(slug: string, name?: string): Promise<string> {
  const draft = await answer(
    api.POST('/api/workspaces/{slug}/drafts', {
      params: { path: { slug } },
      body: {
        ...(name === undefined ? {} : { name: name.slice(0, 120) }),
      },
    }),
  );
  return draft.id;
}

function pencilled(slug: string, id: string, pencilling: Pencilling): Promise<Draft> {
  const path = { slug, id };
  switch (pencilling.kind) {
    case 'edits':
      return answer(
        api.POST('/api/workspaces/{slug}/drafts/{id}/edits', {
          params: { path },
          body: { edits: [...pencilling.edits] },
        }),
      );
    case 'level':
      return answer(
        api.PUT('/api/workspaces/{slug}/drafts/{id}/packages/{name}', {
          params: { path: { ...path, name: pencilling.name } },
          body: { version: pencilling.version },
        }),
      );
    case 'level-many':
      return answer(
        api.POST('/api/workspaces/{slug}/drafts/{id}/level', {
          params: { path },
          body: { packages: [...pencilling.packages], to: pencilling.to },
        }),
      );
    case 'centralise':
      return answer(
        api.POST('/api/workspaces/{slug}/drafts/{id}/centralise', {
          params: { path },
          body: { lines: [...pencilling.lines], sets: [...pencilling.sets] },
        }),
      );
  }
}
