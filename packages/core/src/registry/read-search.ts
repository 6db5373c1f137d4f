import { composed, isNameInAnyForm } from '../text/index.js';
import { RegistryError } from './package-record.js';

/** A package as a registry's search tells of it. */
export interface FoundPackage {
  readonly name: string;
  readonly summary: string;
  /** The newest release; null: there is none. */
  readonly newest: string | null;
  /** YYYY-MM-DD, of the newest release; null: it is not told. */
  readonly published: string | null;
  readonly licence: string | null;
}

/** A page of what a search found. */
export interface SearchPage {
  readonly total: number;
  readonly packages: readonly FoundPackage[];
}

const LONGEST_SUMMARY = 500;

/**
 * Reads a registry's answer to a search. Entries that name no package are left out. O(size).
 * @param place that was asked, for messages
 * @throws RegistryError if it is no answer to a search
 */
export function readSearchPage(place: string, document: unknown): SearchPage {
  const json = document as { readonly total?: unknown; readonly packages?: unknown } | null;
  if (typeof json !== 'object' || !Array.isArray(json?.packages))
    throw new RegistryError('REGISTRY_NONSENSE', `${place} answers with no list of packages.`);
  const packages = (json.packages as readonly unknown[]).flatMap(readFound);
  const { total } = json;
  const isCounted = typeof total === 'number' && Number.isSafeInteger(total);
  return { total: isCounted ? Math.max(total, packages.length) : packages.length, packages };
}

function readFound(value: unknown): readonly FoundPackage[] {
  if (typeof value !== 'object' || value === null) return [];
  const of = (key: string): string | null => {
    const text = (value as Readonly<Record<string, unknown>>)[key];
    return typeof text === 'string' && text !== '' ? text : null;
  };
  const name = composed(of('name') ?? '');
  if (!isNameInAnyForm(name)) return [];
  const published = of('published')?.slice(0, 10) ?? '';
  return [
    {
      name,
      summary: (of('summary') ?? '').slice(0, LONGEST_SUMMARY),
      newest: of('newest'),
      published: /^\d{4}-\d{2}-\d{2}$/.test(published) ? published : null,
      licence: of('licence'),
    },
  ];
}
