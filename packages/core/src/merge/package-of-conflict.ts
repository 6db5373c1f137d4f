import type { ManifestConflict } from './merge-manifest.js';

/** Sections of manifests whose keys are packages. */
const OF_PACKAGES: ReadonlySet<string> = new Set(['shared', 'everywhere', 'pins']);
const KINDS: ReadonlySet<string> = new Set(['dev', 'peer', 'optional']);

/** The package that a conflict is about; null: it is about something else. */
export function packageOfConflict({ path }: Pick<ManifestConflict, 'path'>): string | null {
  const [section, second, third] = path;
  if (section === 'needs')
    return second !== undefined && KINDS.has(second) ? (third ?? null) : (second ?? null);
  if (section !== undefined && OF_PACKAGES.has(section)) return second ?? null;
  return section === 'exceptions' || section === 'otherwise' ? (third ?? null) : null;
}
