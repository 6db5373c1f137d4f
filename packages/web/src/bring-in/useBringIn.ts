import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import {
  registryLines,
  shapesText,
  usableRegistries,
  type BringInForm,
  type RegistryEntry,
} from './bring-in-form';

/** What the repository has that could be read. */
export function useProposal(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.bringIn(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/bring-in', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
  });
}

/** What the form reads over all files; the figures before stay in sight until others are there. */
export function useBroughtIn(
  slug: string,
  commit: string | undefined,
  form: BringInForm,
  sample: string | null,
) {
  const body = {
    name: form.name,
    registries: usableRegistries(form),
    shapes: shapesText(form),
    ...(sample === null ? {} : { sample }),
  };
  return useQuery({
    queryKey: keys.broughtIn(slug, commit, body),
    queryFn: ({ signal }) =>
      answer(
        api.POST('/api/workspaces/{slug}/bring-in/reading', {
          params: { path: { slug } },
          body,
          signal,
        }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Asks a registry for the document of a package, and says what is read of it as the entry has it, whatever the form has. */
export function useTryDocument(slug: string, form: BringInForm) {
  return useMutation({
    mutationFn: (entry: RegistryEntry) => {
      const { key, name, address, token, test, path, versions } = entry;
      const registries = form.registries.map((one) => (one.key === key ? entry : one));
      return answer(
        api.POST('/api/workspaces/{slug}/bring-in/try', {
          params: { path: { slug } },
          body: {
            name,
            versions,
            address: address.trim(),
            package: test.trim(),
            shapes: shapesText({ ...form, registries }),
            ...(token === '' ? {} : { token }),
            ...(path.trim() === '' ? {} : { path: path.trim() }),
          },
        }),
      );
    },
  });
}

/** Has the repository read with these files from now on. */
export function usePrepare(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (form: BringInForm) =>
      answer(
        api.PUT('/api/workspaces/{slug}/bring-in', {
          params: { path: { slug } },
          body: {
            name: form.name.trim(),
            shapes: shapesText(form),
            registries: registryLines(form).map((line, i) => {
              const { address, token } = form.registries[i]!;
              return {
                ...line,
                ...(address.trim() === '' ? {} : { address: address.trim() }),
                ...(token === '' ? {} : { token }),
              };
            }),
          },
        }),
      ),
    // The same commit is read otherwise now.
    onSuccess: () => queries.invalidateQueries(),
  });
}

export function useForget(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answer(api.DELETE('/api/workspaces/{slug}/bring-in', { params: { path: { slug } } })),
    onSuccess: () => queries.invalidateQueries(),
  });
}
