import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';

/** What a form says of a registry. */
export interface RegistryForm {
  readonly name: string;
  readonly address: string;
  readonly token: string;
  readonly forget: boolean;
  readonly package: string;
}

function bodyOf({ address, token, forget, package: name }: RegistryForm) {
  return {
    address: address.trim(),
    ...(token === '' ? {} : { token }),
    ...(forget ? { forget } : {}),
    ...(name.trim() === '' ? {} : { package: name.trim() }),
  };
}

export function useRegistries(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.registries(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/registries', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
  });
}

export function useTryRegistry(slug: string) {
  return useMutation({
    mutationFn: (form: RegistryForm) =>
      answer(
        api.POST('/api/workspaces/{slug}/registries/{name}/try', {
          params: { path: { slug, name: form.name } },
          body: bodyOf(form),
        }),
      ),
  });
}

export function useSetRegistry(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (form: RegistryForm) =>
      answer(
        api.PUT('/api/workspaces/{slug}/registries/{name}', {
          params: { path: { slug, name: form.name } },
          body: bodyOf(form),
        }),
      ),
    // Another registry may answer everything otherwise.
    onSuccess: () => queries.invalidateQueries(),
  });
}
