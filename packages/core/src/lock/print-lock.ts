import type {
  AnsweredRequirement,
  Copy,
  ProjectAnswers,
  Resolution,
  SuppliedPeer,
} from '../resolve/index.js';
import { needsQuotes } from './lock-words.js';

export const LOCK_TITLE = 'deep-ledger lockfile';
/** Format 1 had no lines "peer" in copies and no lines "supplied". */
export const LOCK_FORMAT = 2;

/**
 * The canonical text of a lockfile: one state has one text. The grammar is in `docs/lockfile.md`.
 * @param resolution sorted, as `resolve` and `readLock` give it
 */
export function printLock({ projects, copies }: Resolution): string {
  let text = `${LOCK_TITLE}\nformat ${LOCK_FORMAT}\n`;
  for (const project of projects) text += `\n${printProject(project)}`;
  for (const copy of copies) text += `\n${printCopy(copy)}`;
  return text;
}

export function printProject({
  folder,
  name,
  version,
  requirements,
  supplied,
}: ProjectAnswers): string {
  let text = `project ${word(folder)}\n  name ${word(name)}`;
  text += version === null ? '\n' : ` ${word(version)}\n`;
  for (const requirement of requirements) text += printRequirement(requirement);
  for (const one of supplied) text += printSupplied(one);
  return text;
}

function printSupplied({ name, ranges, version }: SuppliedPeer): string {
  const answer = version === null ? 'unanswered' : `by ${word(version)}`;
  return `  supplied ${word(name)} ${ranges.map(quote).join(' ')} ${answer}\n`;
}

export function printCopy(copy: Copy): string {
  let text =
    `copy ${word(copy.name)} ${word(copy.version)}\n` +
    `  from ${word(copy.registry)} ${word(copy.archive)}\n` +
    `  integrity ${word(copy.integrity)}\n` +
    `  targets${copy.targets.map((target) => ` ${word(target)}`).join('')}\n`;
  if (copy.deprecated !== null) text += `  deprecated ${quote(copy.deprecated)}\n`;
  for (const requirement of copy.requirements) text += printRequirement(requirement);
  for (const { name, range, isOptional } of copy.peers)
    text += `  peer ${word(name)} ${quote(range)}${isOptional ? ' optional' : ''}\n`;
  return text;
}

function printRequirement({
  kind,
  name,
  written,
  range,
  when,
  answer,
}: AnsweredRequirement): string {
  let text = `  ${kind} ${word(name)} ${quote(written)}`;
  if (range !== null && range !== written) text += ` as ${quote(range)}`;
  if (when.length > 0) text += ` when ${when.map(quote).join(' ')}`;
  switch (answer.kind) {
    case 'copy':
      return `${text} by ${word(answer.version)}\n`;
    case 'project':
      return `${text} by project ${word(answer.folder)}\n`;
    case 'skipped':
      return `${text} skipped ${quote(answer.reason)}\n`;
  }
}

// oxlint-disable-next-line no-control-regex -- control characters are what is looked for
const NOT_PLAIN = /["\\\u0000-\u001f\ud800-\udfff]/;

/** As it is where it is one plain word, else as a JSON string. */
function word(text: string): string {
  return needsQuotes(text) ? JSON.stringify(text) : text;
}

/** A JSON string; most texts need no escape. */
function quote(text: string): string {
  return NOT_PLAIN.test(text) ? JSON.stringify(text) : `"${text}"`;
}
