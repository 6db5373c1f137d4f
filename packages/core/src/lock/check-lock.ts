import {
  copyKey,
  FOR_NO_TARGET,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import { lineStarts, positionAt, type Place } from '../text/index.js';
import { parseRange, parseVersion, rangeContains } from '../version/index.js';
import {
  LOCK_FILE,
  matchingTargets,
  placeOf,
  type Requirement,
  type Workspace,
  type WorkspaceFiles,
} from '../workspace/index.js';
import { policyOf } from '../manifest/index.js';
import { lockProblemMessage } from './lock-problem.js';
import { printLock } from './print-lock.js';
import { readLock } from './read-lock.js';

/** One thing in which lockfile and manifests disagree, or that makes the lockfile unreadable. */
export interface LockReason {
  readonly code:
    | 'LOCK_MISSING'
    | 'LOCK_UNREADABLE'
    | 'LOCK_CONFLICTED'
    | 'NOT_CANONICAL'
    | 'PROJECT_ADDED'
    | 'PROJECT_GONE'
    | 'PROJECT_RENAMED'
    | 'REQUIREMENT_ADDED'
    | 'REQUIREMENT_GONE'
    | 'REQUIREMENT_CHANGED'
    | 'ANSWER_MISSING'
    | 'ANSWER_OUT_OF_RANGE'
    | 'PIN_UNHEEDED'
    | 'TARGETS_CHANGED'
    | 'COPY_ORPHANED';
  readonly message: string;
  readonly place: Place;
}

/** Whether a lockfile answers its manifests. */
export interface LockState {
  readonly state: 'true' | 'stale' | 'broken';
  /** Empty for `true`. */
  readonly reasons: readonly LockReason[];
  /** What the lockfile says; null when it is broken. */
  readonly resolution: Resolution | null;
}

/**
 * Checks the lockfile against the manifests, without a registry. O(size of both).
 */
export function checkLock(workspace: Workspace, files: WorkspaceFiles): LockState {
  const text = files.get(LOCK_FILE);
  if (text === undefined) {
    const message =
      'There is no ledger.lock yet. Write it with `deep-ledger lock`, or post a draft.';
    return {
      state: 'stale',
      reasons: [{ code: 'LOCK_MISSING', message, place: { file: LOCK_FILE, line: 1, column: 1 } }],
      resolution: null,
    };
  }
  const reading = readLock(text);
  const starts = lineStarts(text);
  if (reading.kind === 'broken') {
    const reasons = reading.problems.map((problem) => ({
      code: 'LOCK_UNREADABLE' as const,
      message: lockProblemMessage(problem),
      place: { file: LOCK_FILE, ...positionAt(starts, problem.span[0]) },
    }));
    return { state: 'broken', reasons, resolution: null };
  }
  if (reading.kind === 'conflicted') {
    const message =
      'The lockfile carries the markers of an unfinished merge. Settle the manifests, then write it anew with `deep-ledger lock`.';
    const place = { file: LOCK_FILE, ...positionAt(starts, reading.span[0]) };
    return {
      state: 'broken',
      reasons: [{ code: 'LOCK_CONFLICTED', message, place }],
      resolution: null,
    };
  }
  const { resolution } = reading;
  const check = new LockCheck(workspace, files, text, resolution);
  check.run();
  return {
    state: check.reasons.length === 0 ? 'true' : 'stale',
    reasons: check.reasons,
    resolution,
  };
}

class LockCheck {
  readonly reasons: LockReason[] = [];
  private readonly copies: ReadonlyMap<string, Copy>;

  constructor(
    private readonly workspace: Workspace,
    private readonly files: WorkspaceFiles,
    private readonly text: string,
    private readonly resolution: Resolution,
  ) {
    this.copies = new Map(resolution.copies.map((copy) => [copyKey(copy), copy]));
  }

  run(): void {
    const locked = new Map(this.resolution.projects.map((project) => [project.folder, project]));
    for (const project of this.workspace.projects) {
      const answers = locked.get(project.folder);
      if (answers === undefined) {
        const message = `The project ${project.name} is not in the lockfile.`;
        this.reasons.push({
          code: 'PROJECT_ADDED',
          message,
          place: { file: project.file, line: 1, column: 1 },
        });
        continue;
      }
      locked.delete(project.folder);
      if (answers.name !== project.name || answers.version !== project.version) {
        const message = `The lockfile calls this project ${title(answers)}; its manifest says ${title(project)}.`;
        this.reasons.push({
          code: 'PROJECT_RENAMED',
          message,
          place: { file: project.file, line: 1, column: 1 },
        });
      }
      this.compareRequirements(project.name, project.requirements, answers);
    }
    for (const { folder } of locked.values()) {
      if (this.workspace.unreadable.includes(folder)) continue;
      this.inLock(
        'PROJECT_GONE',
        `The lockfile answers a project in ${folder}, which is not in the workspace.`,
        `project ${folder}`,
      );
    }
    this.checkCopies();
    if (this.reasons.length === 0 && printLock(this.resolution) !== this.text) {
      this.inLock(
        'NOT_CANONICAL',
        'The lockfile says the right things in another order or spelling than the tool writes.',
        '',
      );
    }
  }

  private inLock(code: LockReason['code'], message: string, head: string): void {
    const offset = Math.max(0, this.text.startsWith(head) ? 0 : this.text.indexOf(`\n${head}`) + 1);
    this.reasons.push({ code, message, place: placeOf(this.files, LOCK_FILE, [offset, offset]) });
  }

  private compareRequirements(
    projectName: string,
    requirements: readonly Requirement[],
    { folder, requirements: answers }: ProjectAnswers,
  ): void {
    const open = new Map(answers.map((answer) => [`${answer.kind} ${answer.name}`, answer]));
    for (const requirement of requirements) {
      const key = `${requirement.kind} ${requirement.name}`;
      const answered = open.get(key);
      open.delete(key);
      this.compareRequirement(projectName, requirement, answered);
    }
    for (const { kind, name, written } of open.values()) {
      this.inLock(
        'REQUIREMENT_GONE',
        `The lockfile answers ${projectName}'s ${kind} requirement on ${name} "${written}", which no manifest makes any more.`,
        `project ${folder}`,
      );
    }
  }

  private compareRequirement(
    projectName: string,
    requirement: Requirement,
    answered: AnsweredRequirement | undefined,
  ): void {
    const { name, kind, written, meaning, when } = requirement;
    const report = (code: LockReason['code'], message: string): void => {
      const place = placeOf(this.files, requirement.file, requirement.span);
      this.reasons.push({ code, message, place });
    };
    if (answered === undefined) {
      report(
        'REQUIREMENT_ADDED',
        `${projectName} requires ${name} "${written}" (${kind}); the lockfile has no answer to it.`,
      );
      return;
    }
    const range = meaning.kind === 'range' ? meaning.text : null;
    if (
      answered.written !== written ||
      answered.range !== range ||
      answered.when.join() !== when.join()
    ) {
      const asks = describe(written, range);
      report(
        'REQUIREMENT_CHANGED',
        `${projectName} requires ${name} ${asks}; the lockfile answers ${describe(answered.written, answered.range)}.`,
      );
      return;
    }
    const { answer } = answered;
    if (meaning.kind === 'project') {
      if (answer.kind !== 'project' || answer.folder !== meaning.folder) {
        report(
          'REQUIREMENT_CHANGED',
          `${projectName} requires the project in ${meaning.folder}; the lockfile answers otherwise.`,
        );
      }
      return;
    }
    if (answer.kind === 'skipped' && kind === 'optional') return;
    if (answer.kind !== 'copy') {
      report(
        'ANSWER_MISSING',
        `${projectName} requires ${name} "${written}"; the lockfile answers it with no copy.`,
      );
      return;
    }
    if (!this.copies.has(copyKey({ name, version: answer.version }))) {
      report(
        'ANSWER_MISSING',
        `${projectName} requires ${name} "${written}"; the lockfile answers ${answer.version}, of which it has no copy.`,
      );
      return;
    }
    const version = parseVersion(answer.version);
    if (!version.ok || !rangeContains(meaning.range, version.value)) {
      report(
        'ANSWER_OUT_OF_RANGE',
        `${projectName} requires ${name} ${describe(written, range)}; the lockfile answers ${answer.version}, which is not in that range.`,
      );
    }
  }

  private checkCopies(): void {
    for (const copy of this.resolution.copies) {
      const head = `copy ${copyKey(copy)}`;
      const pin = this.workspace.shared.pins.get(copy.name)?.text;
      if (pin !== undefined && pin !== copy.version) {
        this.inLock(
          'PIN_UNHEEDED',
          `${copy.name} is pinned to ${pin}; the lockfile has a copy of ${copy.version}.`,
          head,
        );
      }
      for (const requirement of copy.requirements)
        this.checkCopyRequirement(copy, requirement, head);
    }
    for (const key of this.unreached()) {
      this.inLock(
        'COPY_ORPHANED',
        `Nothing requires ${key} any more, yet the lockfile has a copy of it.`,
        `copy ${key}`,
      );
    }
  }

  private checkCopyRequirement(
    owner: Copy,
    { name, range, answer, kind, when }: AnsweredRequirement,
    head: string,
  ): void {
    const isForUs = matchingTargets(this.workspace.targets, when).length > 0;
    const isSkipped = answer.kind === 'skipped';
    if (isForUs === (isSkipped && answer.reason === FOR_NO_TARGET)) {
      this.inLock(
        'TARGETS_CHANGED',
        `${copyKey(owner)} requires ${name} for ${when.join(', ')}; the lockfile ${isForUs ? 'skips' : 'answers'} it, as the workspace's targets were before.`,
        head,
      );
      return;
    }
    if (isSkipped) {
      if (isForUs && kind !== 'optional') {
        this.inLock(
          'ANSWER_MISSING',
          `${copyKey(owner)} requires ${name} ${range ?? ''}; the lockfile skips it though it is not optional.`,
          head,
        );
      }
      return;
    }
    if (answer.kind === 'project') return;
    const policy = policyOf(this.workspace.policy, name).prereleases;
    const asked = parseRange(range ?? '*', policy);
    const version = parseVersion(answer.version);
    if (!this.copies.has(copyKey({ name, version: answer.version }))) {
      this.inLock(
        'ANSWER_MISSING',
        `${copyKey(owner)} requires ${name} ${range ?? ''}; the lockfile answers ${answer.version}, of which it has no copy.`,
        head,
      );
    } else if (!asked.ok || !version.ok || !rangeContains(asked.value, version.value)) {
      this.inLock(
        'ANSWER_OUT_OF_RANGE',
        `${copyKey(owner)} requires ${name} ${range ?? ''}; the lockfile answers ${answer.version}, which is not in that range.`,
        head,
      );
    }
  }

  /** Copies that no chain from a project reaches; a circle of copies does not keep itself. */
  private unreached(): readonly string[] {
    const reached = new Set<string>();
    const open = this.resolution.projects.flatMap(({ requirements }) => requirements);
    for (let next = open.pop(); next !== undefined; next = open.pop()) {
      if (next.answer.kind !== 'copy') continue;
      const key = copyKey({ name: next.name, version: next.answer.version });
      if (reached.has(key)) continue;
      reached.add(key);
      open.push(...(this.copies.get(key)?.requirements ?? []));
    }
    return [...this.copies.keys()].filter((key) => !reached.has(key));
  }
}

function title({
  name,
  version,
}: {
  readonly name: string;
  readonly version: string | null;
}): string {
  return version === null ? name : `${name} ${version}`;
}

function describe(written: string, range: string | null): string {
  return range === null || range === written
    ? `"${written}"`
    : `"${written}", which stands for ${range}`;
}
