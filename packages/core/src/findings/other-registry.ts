import { registryOf } from '../manifest/index.js';
import { chainEvidence } from './evidence.js';
import { decision, type FindingDraft, type FindingRule } from './finding.js';

/** A copy that the lockfile has from one registry while the workspace takes its package from another by now. */
export const otherRegistry: FindingRule = {
  kind: 'other-registry',
  severity: 'error',
  raise: (grounds) =>
    grounds.resolution.copies.flatMap(({ name, version, registry }): FindingDraft[] => {
      const wanted = registryOf(grounds.workspace.registries, name);
      if (wanted === null || wanted === registry) return [];
      return [
        {
          package: name,
          version,
          mark: [registry, wanted],
          says: `${name} ${version} comes from the registry ${registry} in the lockfile; ledger.toml now takes ${name} from ${wanted}`,
          evidence: chainEvidence(grounds, name, version),
          // Another registry may mean another publisher by the same name.
          remedies: [
            decision(`take it from ${wanted}, once you know that it is the same package`, {
              kind: 'bring-up',
            }),
          ],
        },
      ];
    }),
};
