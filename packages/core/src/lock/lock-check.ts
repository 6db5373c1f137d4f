import { policyOf, type CopiesPolicy } from '../manifest/index.js';
import {
  copyKey,
  FOR_NO_TARGET,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import {
  isSameVersion,
  rangeContains,
  requireRange,
  requireVersion,
  type Range,
} from '../version/index.js';
import {
  LOCK_FILE,
  matchingTargets,
  placeOf,
  type Project,
  type Requirement,
  type Workspace,
  type WorkspaceFiles,
} from '../workspace/index.js';
import { askedSupplies } from './asked-supplies.js';
import type { LockReason } from './lock-reason.js';
import { LockedCopies, NO_COPY } from './locked-copies.js';
import { LOCK_FORMAT } from './print-lock.js';

/** Looks for everything in which a lockfile that could be read and the manifests disagree. */
export class LockCheck {
  private readonly reasons: LockReason[] = [];
  private readonly resolution: Resolution;
  private readonly copies: LockedCopies;

  constructor(
    private readonly workspace: Workspace,
    private readonly files: WorkspaceFiles,
    private readonly text: string,
    private readonly reading: {
      readonly resolution: Resolution;
      readonly format: number;
      readonly isCanonical: boolean;
    },
  ) {
    this.resolution = reading.resolution;
    this.copies = new LockedCopies(this.resolution);
  }

  run(): readonly LockReason[] {
    this.checkProjects();
    this.resolution.copies.forEach((copy, i) => this.checkCopy(copy, i));
    this.checkPolicies();
    this.checkSupplies();
    this.checkOrphans();
    const { format, isCanonical } = this.reading;
    if (format < LOCK_FORMAT) {
      const message = `The lockfile is in format ${format}; the tool now writes format ${LOCK_FORMAT}. Locking it again upgrades it.`;
      this.inLock('FORMAT_OLD', message, 'format ');
    } else if (this.reasons.length === 0 && !isCanonical) {
      const message =
        'The lockfile says the right things in another order or spelling than the tool writes.';
      this.inLock('NOT_CANONICAL', message, '');
    }
    return this.reasons;
  }

  private inLock(code: LockReason['code'], message: string, head: string): void {
    const offset = Math.max(0, this.text.startsWith(head) ? 0 : this.text.indexOf(`\n${head}`) + 1);
    this.reasons.push({ code, message, place: placeOf(this.files, LOCK_FILE, [offset, offset]) });
  }

  private inManifest(code: LockReason['code'], message: string, project: Project): void {
    this.reasons.push({ code, message, place: { file: project.file, line: 1, column: 1 } });
  }

  private checkProjects(): void {
    const locked = new Map(this.resolution.projects.map((project) => [project.folder, project]));
    for (const project of this.workspace.projects) {
      const answers = locked.get(project.folder);
      if (answers === undefined) {
        const message = `The project ${project.name} is not in the lockfile.`;
        this.inManifest('PROJECT_ADDED', message, project);
        continue;
      }
      locked.delete(project.folder);
      if (answers.name !== project.name || answers.version !== project.version) {
        const message = `The lockfile calls this project ${title(answers)}; its manifest says ${title(project)}.`;
        this.inManifest('PROJECT_RENAMED', message, project);
      }
      this.compareRequirements(project, answers);
    }
    for (const { folder } of locked.values()) {
      if (this.workspace.unreadable.includes(folder)) continue;
      const message = `The lockfile answers a project in ${folder}, which is not in the workspace.`;
      this.inLock('PROJECT_GONE', message, `project ${folder}`);
    }
  }

  private compareRequirements(
    { name: projectName, requirements }: Project,
    { folder, requirements: answers }: ProjectAnswers,
  ): void {
    let matched = 0;
    for (let i = 0; i < requirements.length; i++) {
      const requirement = requirements[i]!;
      // Most manifests are sorted, as the lockfile is.
      const next = answers[i];
      const answered =
        next !== undefined && isFor(next, requirement)
          ? next
          : answers.find((one) => isFor(one, requirement));
      if (answered !== undefined) matched += 1;
      this.compareRequirement(projectName, requirement, answered);
    }
    if (matched === answers.length) return;
    const idle = answers.filter((one) => !requirements.some((asked) => isFor(one, asked)));
    for (const { kind, name, written } of idle) {
      const message = `The lockfile answers ${projectName}'s ${kind} requirement on ${name} "${written}", which no manifest makes any more.`;
      this.inLock('REQUIREMENT_GONE', message, `project ${folder}`);
    }
  }

  private compareRequirement(
    projectName: string,
    requirement: Requirement,
    answered: AnsweredRequirement | undefined,
  ): void {
    const found = this.requirementProblem(requirement, answered);
    if (found === null) return;
    const [code, says] = found;
    const { name, written, meaning } = requirement;
    const asked =
      meaning.kind === 'project'
        ? `the project in ${meaning.folder}`
        : `${name} ${describe(written, meaning.text)}`;
    const message = `${projectName} requires ${asked}${says}`;
    this.reasons.push({
      code,
      message,
      place: placeOf(this.files, requirement.file, requirement.span),
    });
  }

  /** What is wrong with the answer, to be said after what is required; null: nothing. */
  private requirementProblem(
    { kind, written, meaning, when }: Requirement,
    answered: AnsweredRequirement | undefined,
  ): readonly [LockReason['code'], string] | null {
    if (answered === undefined)
      return ['REQUIREMENT_ADDED', ` (${kind}); the lockfile has no answer to it.`];
    const range = meaning.kind === 'range' ? meaning.text : null;
    const { answer } = answered;
    if (
      answered.written !== written ||
      answered.range !== range ||
      !isSameList(answered.when, when)
    )
      return [
        'REQUIREMENT_CHANGED',
        `; the lockfile answers ${describe(answered.written, answered.range)}.`,
      ];
    if (meaning.kind === 'project')
      return answer.kind === 'project' && answer.folder === meaning.folder
        ? null
        : ['REQUIREMENT_CHANGED', '; the lockfile answers otherwise.'];
    if (answer.kind === 'skipped' && kind === 'optional') return null;
    if (answer.kind !== 'copy')
      return ['ANSWER_MISSING', '; the lockfile answers it with no copy.'];
    const copy = this.copies.answerTo(answered);
    if (copy === NO_COPY)
      return [
        'ANSWER_MISSING',
        `; the lockfile answers ${answer.version}, of which it has no copy.`,
      ];
    if (rangeContains(meaning.range, this.copies.versions[copy]!)) return null;
    return [
      'ANSWER_OUT_OF_RANGE',
      `; the lockfile answers ${answer.version}, which is not in that range.`,
    ];
  }

  private checkCopy(copy: Copy, number: number): void {
    const first = this.copies.starts[number]!;
    const pin = this.workspace.shared.pins.get(copy.name)?.text;
    if (pin !== undefined && !isSameVersion(requireVersion(pin), this.copies.versions[number]!)) {
      const message = `${copy.name} is pinned to ${pin}; the lockfile has a copy of ${copy.version}.`;
      this.inLock('PIN_UNHEEDED', message, `copy ${copyKey(copy)}`);
    }
    const { requirements } = copy;
    for (let i = 0; i < requirements.length; i++) {
      const found = this.problemOf(requirements[i]!, this.copies.answers[first + i]!);
      if (found === null) continue;
      const [code, says] = found;
      const message = `${copyKey(copy)} requires ${requirements[i]!.name} ${says}`;
      this.inLock(code, message, `copy ${copyKey(copy)}`);
    }
  }

  private problemOf(
    { name, range, answer, kind, when }: AnsweredRequirement,
    answered: number,
  ): readonly [LockReason['code'], string] | null {
    const isForUs = when.length === 0 || matchingTargets(this.workspace.targets, when).length > 0;
    const isSkipped = answer.kind === 'skipped';
    if (isForUs === (isSkipped && answer.reason === FOR_NO_TARGET)) {
      const verb = isForUs ? 'skips' : 'answers';
      const says = `for ${when.join(', ')}; the lockfile ${verb} it, as the workspace's targets were before.`;
      return ['TARGETS_CHANGED', says];
    }
    if (isSkipped) {
      if (!isForUs || kind === 'optional') return null;
      return ['ANSWER_MISSING', `${range ?? ''}; the lockfile skips it though it is not optional.`];
    }
    if (answer.kind === 'project') return null;
    if (answered !== NO_COPY) {
      if (rangeContains(this.rangeOf(name, range ?? '*'), this.copies.versions[answered]!))
        return null;
    }
    const holds = `${range ?? ''}; the lockfile answers ${answer.version}`;
    return answered === NO_COPY
      ? ['ANSWER_MISSING', `${holds}, of which it has no copy.`]
      : ['ANSWER_OUT_OF_RANGE', `${holds}, which is not in that range.`];
  }

  private rangeOf(name: string, text: string): Range {
    return requireRange(text, policyOf(this.workspace.policy, name).prereleases);
  }

  private checkPolicies(): void {
    const { policy } = this.workspace;
    if (policy.copies === 'any' && policy.ofPackage.size === 0) return;
    for (const name of new Set(this.resolution.copies.map((copy) => copy.name))) {
      const { copies } = policyOf(policy, name);
      const crowd = this.crowd(name, copies);
      if (crowd === null) continue;
      const message = `The policy allows ${COPIES_IN_WORDS[copies]} of ${name}; the lockfile has ${crowd}.`;
      this.inLock('POLICY_UNHEEDED', message, `copy ${name} `);
    }
  }

  /** The versions that are too many under a policy, in words; null where none is. */
  private crowd(name: string, policy: CopiesPolicy): string | null {
    const copies = this.copies.named(name);
    if (policy === 'any' || copies.length < 2) return null;
    const majorOf = (copy: number): number => this.copies.versions[copy]!.major;
    const together = copies.filter(
      (one) =>
        policy === 'one' ||
        copies.some((other) => other !== one && majorOf(other) === majorOf(one)),
    );
    const versions = together.map((copy) => this.resolution.copies[copy]!.version);
    return versions.length === 0 ? null : versions.join(', ');
  }

  private checkSupplies(): void {
    const asked = askedSupplies(this.resolution, this.copies);
    for (const { folder, name, supplied } of this.resolution.projects) {
      const open = new Map(asked.get(folder));
      for (const one of supplied) {
        const ranges = open.get(one.name);
        open.delete(one.name);
        const copy = one.version === null ? NO_COPY : this.copies.at(one.name, one.version);
        const isGood =
          one.version === null ||
          (copy !== NO_COPY &&
            one.ranges.some((text) =>
              rangeContains(this.rangeOf(one.name, text), this.copies.versions[copy]!),
            ));
        const isAsked =
          ranges?.size === one.ranges.length && one.ranges.every((text) => ranges.has(text));
        if (isGood && isAsked) continue;
        const message = `The lockfile supplies ${name} with ${one.name} ${one.ranges.join(', ')}, which its copies do not ask for in that way.`;
        this.inLock('SUPPLY_IDLE', message, `project ${folder}`);
      }
      for (const [peer, ranges] of open) {
        const message = `Copies that ${name} brings in ask for ${peer} ${[...ranges].join(', ')} beside them; the lockfile supplies none.`;
        this.inLock('PEER_UNSUPPLIED', message, `project ${folder}`);
      }
    }
  }

  private checkOrphans(): void {
    const roots: number[] = [];
    for (const { requirements, supplied } of this.resolution.projects) {
      for (const requirement of requirements) roots.push(this.copies.answerTo(requirement));
      for (const { name, version } of supplied)
        if (version !== null) roots.push(this.copies.at(name, version));
    }
    for (const key of this.copies.unreached(roots)) {
      const message = `Nothing requires ${key} any more, yet the lockfile has a copy of it.`;
      this.inLock('COPY_ORPHANED', message, `copy ${key}`);
    }
  }
}

const COPIES_IN_WORDS: Readonly<Record<CopiesPolicy, string>> = {
  any: 'any copies',
  'one-per-major': 'one copy for each major version',
  one: 'one copy',
};

function isFor(
  answer: AnsweredRequirement,
  { name, kind }: Pick<Requirement, 'name' | 'kind'>,
): boolean {
  return answer.name === name && answer.kind === kind;
}

function isSameList(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((text, i) => text === b[i]);
}

function title(project: { readonly name: string; readonly version: string | null }): string {
  return project.version === null ? project.name : `${project.name} ${project.version}`;
}

function describe(written: string, range: string | null): string {
  return range === null || range === written
    ? `"${written}"`
    : `"${written}", which stands for ${range}`;
}
