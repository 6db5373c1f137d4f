import type { RequirementKind } from '@deep-ledger/core';
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query';
import { answer, api, type Offer, type UpgradeTrial } from '../api/client';
import { keys } from '../api/keys';
import { offerKey, partsToTry, type Trials } from './upgrade-view';

export type Take = 'patch' | 'minor' | 'major';

/** What is newer, at a commit; what was known before stays visible while the next is read. */
export function useUpgrades(slug: string, commit: string | undefined, olderThan: number) {
  return useQuery({
    queryKey: keys.upgrades(slug, commit, olderThan),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/upgrades', {
          params: { path: { slug }, query: { olderThan } },
          signal,
        }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Which upgrades a batch is about. */
export interface BatchQuery {
  readonly take: Take;
  readonly olderThan: number;
  readonly project?: string;
  readonly as?: RequirementKind;
  readonly sets?: boolean;
  readonly all?: boolean;
}

/** The most that can be taken together. */
export function useBatch(slug: string, commit: string | undefined, query: BatchQuery) {
  return useQuery({
    queryKey: keys.upgradeBatch(slug, commit, query),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/upgrades/batch', {
          params: { path: { slug }, query },
          signal,
        }),
      ),
    enabled: commit !== undefined,
  });
}

/** Tries offers, those that come first before the others, some at a time. */
export function useTrials(
  slug: string,
  commit: string | undefined,
  offers: readonly Offer[],
): {
  readonly trials: Trials;
  readonly error: Error | null;
  readonly tryAgain: () => void;
} {
  const parts = partsToTry(offers);
  return useQueries({
    queries: parts.map((part) => ({
      queryKey: keys.upgradeTrials(slug, commit, part.map(offerKey)),
      queryFn: ({ signal }: { signal: AbortSignal }) => tryThem(slug, part, signal),
      enabled: commit !== undefined,
    })),
    combine: (results) => ({
      trials: new Map(
        results.flatMap(({ data }, i) =>
          (data ?? []).map((trial, j) => [offerKey(parts[i]![j]!), trial] as const),
        ),
      ),
      error: results.find(({ error }) => error !== null)?.error ?? null,
      tryAgain: () => {
        for (const { isError, refetch } of results) if (isError) void refetch();
      },
    }),
  });
}

/** What becomes of all that is chosen, made together. */
export function useSum(slug: string, commit: string | undefined, offers: readonly Offer[]) {
  return useQuery({
    queryKey: keys.upgradeSum(slug, commit, offers.map(offerKey)),
    queryFn: async ({ signal }) => {
      const moves = offers.flatMap((one) => one.moves);
      const [trial] = await tryThem(slug, [{ moves }], signal);
      return trial!;
    },
    enabled: commit !== undefined && offers.length > 0,
    placeholderData: keepPreviousData,
  });
}

function tryThem(
  slug: string,
  upgrades: readonly Pick<Offer, 'moves'>[],
  signal: AbortSignal,
): Promise<UpgradeTrial[]> {
  return answer(
    api.POST('/api/workspaces/{slug}/upgrades/trials', {
      params: { path: { slug } },
      body: { upgrades: upgrades.map(({ moves }) => ({ moves })) },
      signal,
    }),
  );
}
