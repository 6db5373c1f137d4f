import { useRegistryPackage } from '../registry/useRegistry';
import { ApiError } from '../api/client';
import { isName } from '@deep-ledger/core';
import { useSettled } from '../parts/useSettled';

/**
 * Why a package that is typed cannot be required: the registries are asked for it. Null: it is there, or nobody has
 * answered yet; the server has the last word.
 * @param known names that need not be asked for
 */
export function useUnknownPackage(
  slug: string,
  commit: string | undefined,
  typed: string,
  known: readonly string[],
): string | null {
  const name = useSettled(typed);
  const isAsked = isName(name) && !known.includes(name);
  const { error } = useRegistryPackage(slug, commit, isAsked ? name : null);
  if (!isAsked || name !== typed) return null;
  return error instanceof ApiError && error.code === 'PACKAGE_UNKNOWN' ? error.message : null;
}
