import {
  copyKey,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import type { EarlierAnswer } from '../edit/index.js';

/** The answers to requirements that one resolution has otherwise than another, as the first had them. O(requirements). */
export function answersThatDiffer(before: Resolution, after: Resolution): readonly EarlierAnswer[] {
  const later = new Map<string, string>();
  eachAnswer(after, (answer) => later.set(keyOf(answer), `${answer.range} ${answer.version}`));
  const differ: EarlierAnswer[] = [];
  eachAnswer(before, (answer) => {
    if (later.get(keyOf(answer)) !== `${answer.range} ${answer.version}`) differ.push(answer);
  });
  return differ;
}

function keyOf({ owner, kind, name }: EarlierAnswer): string {
  return `${owner}\n${kind}\n${name}`;
}

function eachAnswer(resolution: Resolution, see: (answer: EarlierAnswer) => void): void {
  const walk = (owner: string, isProject: boolean, all: readonly AnsweredRequirement[]): void => {
    for (const { kind, name, range, answer } of all) {
      if (range === null || answer.kind !== 'copy') continue;
      see({ owner, isProject, kind, name, range, version: answer.version });
    }
  };
  for (const { folder, requirements } of resolution.projects) walk(folder, true, requirements);
  for (const copy of resolution.copies) walk(copyKey(copy), false, copy.requirements);
}

/**
 * The answers that a resolution holds on to when earlier ones are wanted back: the earlier ones first, else its own. It
 * is no lockfile by itself. O(requirements).
 */
export function withEarlierAnswers(
  resolution: Resolution | null,
  answers: readonly EarlierAnswer[],
): Resolution | null {
  if (answers.length === 0) return resolution;
  const byOwner = new Map<string, EarlierAnswer[]>();
  for (const answer of answers) {
    const key = `${answer.isProject} ${answer.owner}`;
    byOwner.set(key, [...(byOwner.get(key) ?? []), answer]);
  }
  const restore = (key: string, all: readonly AnsweredRequirement[]): AnsweredRequirement[] => {
    const wanted = byOwner.get(key) ?? [];
    byOwner.delete(key);
    const rest = all.filter(
      (one) => !wanted.some(({ kind, name }) => kind === one.kind && name === one.name),
    );
    return [...rest, ...wanted.map(answered)];
  };
  const projects = (resolution?.projects ?? []).map((project) => ({
    ...project,
    requirements: restore(`true ${project.folder}`, project.requirements),
  }));
  const copies = (resolution?.copies ?? []).map((copy) => ({
    ...copy,
    requirements: restore(`false ${copyKey(copy)}`, copy.requirements),
  }));
  const gone = [...byOwner.values()].map((list) => ({
    ...list[0]!,
    requirements: list.map(answered),
  }));
  return {
    projects: [...projects, ...gone.filter(({ isProject }) => isProject).map(goneProject)],
    copies: [...copies, ...gone.filter(({ isProject }) => !isProject).map(goneCopy)],
  };
}

function answered({ kind, name, range, version }: EarlierAnswer): AnsweredRequirement {
  return { kind, name, written: range, range, when: [], answer: { kind: 'copy', version } };
}

type Gone = EarlierAnswer & { readonly requirements: readonly AnsweredRequirement[] };

function goneProject({ owner, requirements }: Gone): ProjectAnswers {
  return { folder: owner, name: owner, version: null, requirements, supplied: [] };
}

function goneCopy({ owner, requirements }: Gone): Copy {
  const [name, version] = owner.split(' ') as [string, string];
  return {
    name,
    version,
    registry: '',
    archive: '',
    integrity: '',
    targets: [],
    deprecated: null,
    requirements,
    peers: [],
  };
}
