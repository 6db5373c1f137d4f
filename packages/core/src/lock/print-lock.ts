import type { AnsweredRequirement, Copy, ProjectAnswers, Resolution } from '../resolve/index.js';

export const LOCK_TITLE = 'deep-ledger lockfile';
export const LOCK_FORMAT = 1;

/**
 * The canonical text of a lockfile: one state has one text. The grammar is in `docs/lockfile.md`.
 * @param resolution sorted, as `resolve` and `readLock` give it
 */
export function printLock(resolution: Resolution): string {
  const blocks = [
    `${LOCK_TITLE}\nformat ${LOCK_FORMAT}\n`,
    ...resolution.projects.map(printProject),
    ...resolution.copies.map(printCopy),
  ];
  return blocks.join('\n');
}

function printProject({ folder, name, version, requirements }: ProjectAnswers): string {
  const title = version === null ? word(name) : `${word(name)} ${word(version)}`;
  return `project ${word(folder)}\n  name ${title}\n${requirements.map(printRequirement).join('')}`;
}

function printCopy(copy: Copy): string {
  const deprecated =
    copy.deprecated === null ? '' : `  deprecated ${JSON.stringify(copy.deprecated)}\n`;
  return (
    `copy ${word(copy.name)} ${word(copy.version)}\n` +
    `  from ${word(copy.registry)} ${word(copy.archive)}\n` +
    `  integrity ${word(copy.integrity)}\n` +
    `  targets ${copy.targets.map(word).join(' ')}\n` +
    deprecated +
    copy.requirements.map(printRequirement).join('')
  );
}

function printRequirement({
  kind,
  name,
  written,
  range,
  when,
  answer,
}: AnsweredRequirement): string {
  const stands = range === null || range === written ? '' : ` as ${JSON.stringify(range)}`;
  const targets =
    when.length === 0 ? '' : ` when ${when.map((pattern) => JSON.stringify(pattern)).join(' ')}`;
  const answered =
    answer.kind === 'copy'
      ? `by ${word(answer.version)}`
      : answer.kind === 'project'
        ? `by project ${word(answer.folder)}`
        : `skipped ${JSON.stringify(answer.reason)}`;
  return `  ${kind} ${word(name)} ${JSON.stringify(written)}${stands}${targets} ${answered}\n`;
}

/** As it is where it is one plain word, else as a JSON string. */
function word(text: string): string {
  return /^[^\s"]+$/.test(text) ? text : JSON.stringify(text);
}
