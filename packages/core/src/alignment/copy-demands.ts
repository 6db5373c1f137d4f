import type { Resolution } from '../resolve/index.js';

/** What a copy in the lockfile asks of a package. */
export interface CopyDemand {
  readonly owner: { readonly name: string; readonly version: string };
  readonly range: string;
  /** The range that the release itself asks for, where another range answers it; null: its own range answers it. */
  readonly asked: string | null;
  /** The version that answers it; null: it was skipped. */
  readonly answer: string | null;
}

/** The demands of copies on one package, in the lockfile's order. O(requirements of all copies). */
export function copyDemands(
  resolution: Resolution | null,
  packageName: string,
): readonly CopyDemand[] {
  return (resolution?.copies ?? []).flatMap(({ name, version, requirements }) =>
    requirements
      .filter((requirement) => requirement.name === packageName)
      .map(({ range, written, answer }) => ({
        owner: { name, version },
        range: range ?? '*',
        asked: range === null || range === written ? null : written,
        answer: answer.kind === 'copy' ? answer.version : null,
      })),
  );
}
