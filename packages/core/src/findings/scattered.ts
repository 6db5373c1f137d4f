import { demandsEvidence, requirementEvidence } from './evidence.js';
import { remedy, type FindingRule } from './finding.js';

/** Two or more projects require a package with different ranges, and nothing is shared yet. */
export const scattered: FindingRule = {
  kind: 'scattered',
  severity: 'warning',
  raise: (grounds) =>
    grounds.stand.rows.flatMap((row) => {
      if (row.agreed !== null || row.off < 2) return [];
      const standing = grounds.standing.get(row.name) ?? [];
      const ranges = [...new Set(standing.map(({ text }) => text))].sort();
      const edits = grounds.levelling(row);
      const agreed = edits.flatMap((edit) =>
        edit.kind === 'set-shared' || edit.kind === 'level' ? [edit.range] : [],
      )[0];
      return {
        package: row.name,
        says: `${row.usedBy} projects ask for ${row.name} in ${ranges.length} ranges, and nothing is agreed: ${ranges.join(', ')}`,
        evidence: [
          demandsEvidence(row.name),
          ...standing.map(({ requirement }) => requirementEvidence(grounds, requirement)),
        ],
        remedies:
          agreed === undefined
            ? []
            : [remedy(`agree on ${row.name} ${agreed}, which is in use`, ...edits)],
      };
    }),
};
