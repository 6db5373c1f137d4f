import type { Edit } from '../edit/index.js';
import { SEVERITY_POINTS, type Finding, type Remedy } from './finding.js';

/** A remedy with the findings that name it. */
export interface RankedRemedy extends Remedy {
  /** Names of the findings that it is a remedy of. */
  readonly findings: readonly string[];
  /** Projects whose manifests it writes in; the shared file counts as one more. */
  readonly touches: number;
}

/**
 * The remedies of some findings, those first that clear most, by severity, for what they touch. Remedies with
 * the same edits are one.
 * O(remedies log remedies).
 */
export function rankRemedies(findings: readonly Finding[]): readonly RankedRemedy[] {
  const single = remediesOf(findings);
  const known = new Set(single.map(({ remedy }) => JSON.stringify(remedy.edits)));
  const joint = jointRemedies(single).filter(
    ({ remedy }) => !known.has(JSON.stringify(remedy.edits)),
  );
  return ranked([...single, ...joint]);
}

/** The same without those that do several at once. */
export function rankSingleRemedies(findings: readonly Finding[]): readonly RankedRemedy[] {
  return ranked(remediesOf(findings));
}

function remediesOf(findings: readonly Finding[]): readonly Named[] {
  const byEdits = new Map<string, { remedy: Remedy; findings: Finding[] }>();
  for (const finding of findings) {
    for (const remedy of finding.remedies) {
      const key = JSON.stringify(remedy.edits);
      const known = byEdits.get(key);
      if (known === undefined) byEdits.set(key, { remedy, findings: [finding] });
      else if (!known.findings.includes(finding)) known.findings.push(finding);
    }
  }
  return [...byEdits.values()];
}

function ranked(remedies: readonly Named[]): readonly RankedRemedy[] {
  return remedies
    .map(({ remedy, findings: named }) => {
      const points = named.reduce((sum, { severity }) => sum + SEVERITY_POINTS[severity], 0);
      const touches = touchedBy(remedy.edits);
      return { remedy, named, touches, worth: points / Math.sqrt(1 + touches) };
    })
    .sort((a, b) => b.worth - a.worth || b.named.length - a.named.length)
    .map(({ remedy, named, touches }) => ({
      ...remedy,
      findings: named.map(({ id }) => id),
      touches,
    }));
}

interface Named {
  readonly remedy: Remedy;
  readonly findings: readonly Finding[];
}

/** Remedies that do the same in several projects, or re-resolve several packages, done together. */
function jointRemedies(single: readonly Named[]): readonly Named[] {
  const alike = new Map<string, Named[]>();
  for (const one of single) {
    const [edit, ...others] = one.remedy.edits;
    if (edit === undefined || others.length > 0 || one.remedy.isDecision) continue;
    const key =
      edit.kind === 'take-shared'
        ? `take ${edit.package}`
        : edit.kind === 'refresh'
          ? 'refresh'
          : null;
    if (key === null) continue;
    alike.set(key, [...(alike.get(key) ?? []), one]);
  }
  return [...alike.values()].flatMap((list): Named[] => {
    if (list.length < 2) return [];
    const edit = joinedEdit(list.flatMap(({ remedy }) => remedy.edits));
    const says =
      edit.kind === 'take-shared'
        ? `take the shared version of ${edit.package} in ${edit.projects.length} projects`
        : `re-resolve ${list.length} packages`;
    const remedy: Remedy = { says, edits: [edit], isDecision: false };
    return [{ remedy, findings: [...new Set(list.flatMap(({ findings }) => findings))] }];
  });
}

function joinedEdit(edits: readonly Edit[]): Extract<Edit, { kind: 'take-shared' | 'refresh' }> {
  const taking = edits.flatMap((edit) => (edit.kind === 'take-shared' ? [edit] : []));
  if (taking.length > 0) {
    const projects = [...new Set(taking.flatMap((edit) => edit.projects))].sort();
    return { kind: 'take-shared', package: taking[0]!.package, projects };
  }
  const packages = edits.flatMap((edit) => (edit.kind === 'refresh' ? edit.packages : []));
  return { kind: 'refresh', packages: [...new Set(packages)].sort() };
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
