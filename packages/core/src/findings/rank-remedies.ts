import type { Edit } from '../edit/index.js';
import type { Finding, Remedy } from './finding.js';

/** A remedy with the findings that name it. */
export interface RankedRemedy extends Remedy {
  /** Names of the findings that it is a remedy of. */
  readonly findings: readonly string[];
  /** Projects whose manifests it writes in; the shared file counts as one more. */
  readonly touches: number;
}

const WEIGHT_POINTS: Readonly<Record<Finding['weight'], number>> = {
  grave: 9,
  plain: 3,
  light: 1,
};

/**
 * The remedies of some findings, those first that clear most, by weight, for what they touch. Remedies with
 * the same edits are one.
 * O(remedies log remedies).
 */
export function rankRemedies(findings: readonly Finding[]): readonly RankedRemedy[] {
  const byEdits = new Map<string, { remedy: Remedy; findings: Finding[] }>();
  for (const finding of findings) {
    for (const remedy of finding.remedies) {
      const key = JSON.stringify(remedy.edits);
      const known = byEdits.get(key);
      if (known === undefined) byEdits.set(key, { remedy, findings: [finding] });
      else if (!known.findings.includes(finding)) known.findings.push(finding);
    }
  }
  return [...byEdits.values()]
    .map(({ remedy, findings: named }) => {
      const points = named.reduce((sum, { weight }) => sum + WEIGHT_POINTS[weight], 0);
      const touches = touchedBy(remedy.edits);
      return { remedy, named, touches, worth: points / (1 + touches) };
    })
    .sort((a, b) => b.worth - a.worth || b.named.length - a.named.length)
    .map(({ remedy, named, touches }) => ({
      ...remedy,
      findings: named.map(({ id }) => id),
      touches,
    }));
}

function touchedBy(edits: readonly Edit[]): number {
  const touched = new Set<string>();
  for (const edit of edits) {
    if ('projects' in edit) for (const folder of edit.projects) touched.add(folder);
    else if (edit.kind === 'believe-use') touched.add(edit.project);
    else if (edit.kind === 'set-policy' || edit.kind === 'set-platform') touched.add('root');
    else if (!['refresh', 're-pick', 'bring-up'].includes(edit.kind)) touched.add('shared');
  }
  return touched.size;
}
