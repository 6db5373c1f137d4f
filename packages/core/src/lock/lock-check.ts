import { type CopiesPolicy, policyOf, rangeFor, registryOf } from '../manifest/index.js';
import {
  copyKey,
  FOR_NO_TARGET,
  KEPT_OUT,
  NONE_USABLE,
  NOT_IN_REGISTRY,
  PeerProviders,
  WantedSupplies,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
  type SuppliedPeer,
  linesInForce,
} from '../resolve/index.js';
import { isSameVersion, type Range, rangeContains, requireVersion } from '../version/index.js';
import {
  LOCK_FILE,
  matchingTargets,
  PinScope,
  Places,
  type Project,
  type Requirement,
  type Workspace,
  type WorkspaceFiles,
} from '../workspace/index.js';
import { globMatcher } from '../text/index.js';
import type { LockReason } from './lock-reason.js';
import { LockedCopies, NO_COPY } from './locked-copies.js';
import { LockedPeers } from './locked-peers.js';
import { LOCK_FORMAT } from './print-lock.js';
import type { LockHeads } from './read-lock.js';

interface SkippedRequirement {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  /** Of the project that requires it itself; null: a release asks. */
  readonly folder: string | null;
  readonly name: string;
  readonly range: Range;
  readonly targets: readonly string[];
}

/** An optional requirement that a lockfile skips though it has a copy that answers it. */
export interface AnswerableSkip {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  readonly name: string;
  readonly version: string;
}

/** Looks for everything in which a lockfile that could be read and the manifests disagree. */
export class LockCheck {
  /** Those that `run` came across. */
  readonly answerableSkips: AnswerableSkip[] = [];
  private readonly reasons: LockReason[] = [];
  private readonly resolution: Resolution;
  private readonly copies: LockedCopies;
  private readonly places: Places;
  private readonly pins: PinScope;
  private readonly otherwise: ReturnType<typeof linesInForce>;

  constructor(
    private readonly workspace: Workspace,
    files: WorkspaceFiles,
    private readonly reading: {
      readonly resolution: Resolution;
      readonly format: number;
      readonly isCanonical: boolean;
      readonly heads: LockHeads;
    },
    day: string | null,
  ) {
    this.otherwise = linesInForce(workspace, day);
    this.pins = new PinScope(workspace);
    this.resolution = reading.resolution;
    this.copies = new LockedCopies(this.resolution);
    this.places = new Places(files);
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
      this.reasons.push({
        code: 'FORMAT_OLD',
        about: [],
        message,
        place: { file: LOCK_FILE, line: 2, column: 1 },
      });
    } else if (this.reasons.length === 0 && !isCanonical) {
      const message =
        'The lockfile says the right things in another order or spelling than the tool writes.';
      this.reasons.push({
        code: 'NOT_CANONICAL',
        about: [],
        message,
        place: { file: LOCK_FILE, line: 1, column: 1 },
      });
    }
    return this.reasons;
  }

  /** @param block at whose head it is told */
  private inLock(
    code: LockReason['code'],
    message: string,
    block: ProjectAnswers | Copy,
    ...about: readonly string[]
  ): void {
    const offset = this.reading.heads.get(block) ?? 0;
    const place = this.places.of(LOCK_FILE, [offset, offset]);
    const whose = 'folder' in block ? [block.folder] : [block.name, block.version];
    this.reasons.push({ code, about: [...whose, ...about], message, place });
  }

  private inManifest(code: LockReason['code'], message: string, project: Project): void {
    const place = { file: project.file, line: 1, column: 1 };
    this.reasons.push({ code, about: [project.folder], message, place });
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
    for (const answers of locked.values()) {
      if (this.workspace.unreadable.includes(answers.folder)) continue;
      const message = `The lockfile answers a project in ${answers.folder}, which is not in the workspace.`;
      this.inLock('PROJECT_GONE', message, answers);
    }
  }

  private compareRequirements(
    { name: projectName, requirements }: Project,
    block: ProjectAnswers,
  ): void {
    const answers = block.requirements;
    // Most manifests are sorted, as the lockfile is; then nothing is looked up.
    let byKey: Map<string, AnsweredRequirement> | null = null;
    let matched = 0;
    for (let i = 0; i < requirements.length; i++) {
      const requirement = requirements[i]!;
      let answered = answers[i];
      if (answered === undefined || !isFor(answered, requirement)) {
        byKey ??= new Map(answers.map((one) => [kindAndName(one), one]));
        answered = byKey.get(kindAndName(requirement));
      }
      if (answered !== undefined) matched += 1;
      this.compareRequirement(projectName, requirement, answered);
    }
    if (matched === answers.length) return;
    const asked = new Set(requirements.map(kindAndName));
    const idle = answers.filter((one) => !asked.has(kindAndName(one)));
    for (const { kind, name, written } of idle) {
      const message = `The lockfile answers ${projectName}'s ${kind} requirement on ${name} "${written}", which no manifest makes any more.`;
      this.inLock('REQUIREMENT_GONE', message, block, kind, name);
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
      about: [requirement.project, requirement.kind, name],
      message,
      place: this.places.of(requirement.file, requirement.span),
    });
  }

  /** What is wrong with the answer, to be said after what is required; null: nothing. */
  private requirementProblem(
    { project, kind, name, written, meaning, when, targets }: Requirement,
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
    if (answer.kind === 'skipped' && kind === 'optional') {
      const asked = { owner: project, folder: project, name, range: meaning.range, targets };
      const why = this.unfoundedSkip(asked, answer.reason);
      return why === null ? null : ['SKIP_UNFOUNDED', `; ${why}`];
    }
    if (answer.kind !== 'copy')
      return ['ANSWER_MISSING', '; the lockfile answers it with no copy.'];
    const copy = this.copies.answerTo(answered);
    if (copy === NO_COPY)
      return [
        'ANSWER_MISSING',
        `; the lockfile answers ${answer.version}, of which it has no copy.`,
      ];
    const pin = this.unheededPin(name, project, copy);
    if (pin !== null)
      return [
        'PIN_UNHEEDED',
        `; the lockfile answers ${answer.version}, and ${name} is pinned to ${pin}.`,
      ];
    if (!rangeContains(meaning.range, this.copies.versions[copy]!))
      return [
        'ANSWER_OUT_OF_RANGE',
        `; the lockfile answers ${answer.version}, which is not in that range.`,
      ];
    if (this.isFor(copy, targets, kind === 'optional')) return null;
    return [
      'ANSWER_FOR_OTHER_TARGETS',
      `; the lockfile answers ${answer.version}, which is for ${this.targetWords(copy)}.`,
    ];
  }

  /**
   * The pin that an answer does not heed, where the package is pinned but for some projects; null: none.
   * @param folder of the project that requires it itself; null: a release asks
   */
  private unheededPin(name: string, folder: string | null, copy: number): string | null {
    if (this.pins.isWhole(name)) return null;
    const pin = this.pins.versionFor(name, folder);
    if (pin === null) return null;
    return isSameVersion(requireVersion(pin), this.copies.versions[copy]!) ? null : pin;
  }

  /** Is a copy for the targets that a requirement must be answered for? An optional one may leave some out. */
  private isFor(copy: number, targets: readonly string[], isOptional: boolean): boolean {
    const patterns = this.resolution.copies[copy]!.targets;
    if (patterns.includes('*')) return true;
    const isMatch = globMatcher(patterns);
    return isOptional ? targets.some(isMatch) : targets.every(isMatch);
  }

  private targetWords(copy: number): string {
    const { targets } = this.resolution.copies[copy]!;
    return targets.length === 0 ? 'no target' : `${targets.join(', ')} alone`;
  }

  /** Why an optional requirement would not be skipped for the reason that the lockfile gives; null: it may be. */
  private unfoundedSkip(asked: SkippedRequirement, reason: string): string | null {
    const { name } = asked;
    const { policy } = this.workspace;
    if (![NOT_IN_REGISTRY, NONE_USABLE, KEPT_OUT].includes(reason))
      return `the lockfile skips it for the reason "${reason}", which the tool does not give.`;
    // Under strict peers a copy in range may not be meant for this owner.
    const isForAnother = reason === KEPT_OUT && policy.peers === 'strict';
    const fit = isForAnother ? undefined : this.copyFor(asked);
    if (fit !== undefined)
      this.answerableSkips.push({ owner: asked.owner, name, version: fit.version });
    if (reason === NOT_IN_REGISTRY && this.copies.named(name).length > 0)
      return `the lockfile skips it as ${NOT_IN_REGISTRY}, and has a copy of ${name}.`;
    const isFree = policy.copies === 'any' && policy.ofPackage.size === 0;
    if (reason === KEPT_OUT && isFree && policy.peers === 'report')
      return `the lockfile skips it as ${KEPT_OUT}, and the policy keeps nothing out.`;
    if (fit === undefined) return null;
    return `the lockfile skips it, and ${fit.version}, of which it has a copy, answers it.`;
  }

  /** A copy that answers an optional requirement. */
  private copyFor({ name, folder, range, targets }: SkippedRequirement): Copy | undefined {
    const fit = this.copies
      .named(name)
      .find(
        (copy) =>
          rangeContains(range, this.copies.versions[copy]!) &&
          this.unheededPin(name, folder, copy) === null &&
          this.isFor(copy, targets, true),
      );
    return fit === undefined ? undefined : this.resolution.copies[fit];
  }

  private checkCopy(copy: Copy, number: number): void {
    const first = this.copies.starts[number]!;
    const pin = this.pins.isWhole(copy.name) ? this.pins.versionFor(copy.name, null) : null;
    if (pin !== null && !isSameVersion(requireVersion(pin), this.copies.versions[number]!)) {
      const message = `${copy.name} is pinned to ${pin}; the lockfile has a copy of ${copy.version}.`;
      this.inLock('PIN_UNHEEDED', message, copy);
    }
    const registry = registryOf(this.workspace.registries, copy.name);
    if (registry !== copy.registry) {
      const message = `The lockfile has ${copyKey(copy)} from the registry ${copy.registry}; the workspace takes ${copy.name} from ${registry ?? 'none'}.`;
      this.inLock('REGISTRY_CHANGED', message, copy);
    }
    this.checkOtherwise(copy);
    const { requirements } = copy;
    for (let i = 0; i < requirements.length; i++) {
      const found = this.problemOf(requirements[i]!, this.copies.answers[first + i]!, copy);
      if (found === null) continue;
      const [code, says] = found;
      const message = `${copyKey(copy)} requires ${requirements[i]!.name} ${says}`;
      this.inLock(code, message, copy, requirements[i]!.name);
    }
  }

  /** A release's requirement is answered by its own range, or by the range of the line that holds. */
  private checkOtherwise(copy: Copy): void {
    const lines = this.otherwise.get(copy.name);
    for (const { name, written, range } of copy.requirements) {
      const wanted = lines?.get(name)?.range ?? written;
      if (range === null || range === wanted) continue;
      const message = `${copyKey(copy)} requires ${name} ${written}, which is answered as ${wanted} now; the lockfile answers it as ${range}.`;
      this.inLock('OTHERWISE_CHANGED', message, copy, name);
    }
  }

  private problemOf(
    { name, range, answer, kind, when }: AnsweredRequirement,
    answered: number,
    owner: Copy,
  ): readonly [LockReason['code'], string] | null {
    const asked = range ?? '';
    const targets = matchingTargets(this.workspace.targets, when, owner.targets);
    const isForUs = targets.length > 0;
    const isSkipped = answer.kind === 'skipped';
    if (isForUs === (isSkipped && answer.reason === FOR_NO_TARGET)) {
      const verb = isForUs ? 'skips' : 'answers';
      const patterns = when.length > 0 ? when : owner.targets;
      const says = `for ${patterns.join(', ')}; the lockfile ${verb} it, as the workspace's targets were before.`;
      return ['TARGETS_CHANGED', says];
    }
    if (!isForUs) return null;
    if (isSkipped) {
      if (kind !== 'optional')
        return ['ANSWER_MISSING', `${asked}; the lockfile skips it though it is not optional.`];
      const skipped = { owner: copyKey(owner), folder: null, name, targets };
      const why = this.unfoundedSkip(
        { ...skipped, range: this.rangeOf(name, asked) },
        answer.reason,
      );
      return why === null ? null : ['SKIP_UNFOUNDED', `${asked}; ${why}`];
    }
    if (answer.kind === 'project')
      return [
        'ANSWER_MISSING',
        `${name}; the lockfile answers with the project in ${answer.folder}, and a release can require packages only.`,
      ];
    const holds = (): string => `${asked}; the lockfile answers ${answer.version}`;
    if (answered === NO_COPY) return ['ANSWER_MISSING', `${holds()}, of which it has no copy.`];
    const pin = this.unheededPin(name, null, answered);
    if (pin !== null) return ['PIN_UNHEEDED', `${holds()}, and ${name} is pinned to ${pin}.`];
    if (!rangeContains(this.rangeOf(name, asked), this.copies.versions[answered]!))
      return ['ANSWER_OUT_OF_RANGE', `${holds()}, which is not in that range.`];
    return this.isFor(answered, targets, kind === 'optional')
      ? null
      : ['ANSWER_FOR_OTHER_TARGETS', `${holds()}, which is for ${this.targetWords(answered)}.`];
  }

  private rangeOf(name: string, text: string): Range {
    return rangeFor(this.workspace.policy, name, text);
  }

  private checkPolicies(): void {
    const { policy } = this.workspace;
    if (policy.copies === 'any' && policy.ofPackage.size === 0) return;
    for (const name of new Set(this.resolution.copies.map((copy) => copy.name))) {
      const { copies } = policyOf(policy, name);
      const crowd = this.crowd(name, copies);
      if (crowd === null) continue;
      const message = `The policy allows ${COPIES_IN_WORDS[copies]} of ${name}; the lockfile has ${crowd}.`;
      const [first] = this.copies.named(name);
      this.inLock('POLICY_UNHEEDED', message, this.resolution.copies[first!]!);
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

  /** What is supplied must be what the copies ask for, and under strict peers every peer must be met. */
  private checkSupplies(): void {
    const { resolution, workspace } = this;
    const source = new LockedPeers(resolution, this.copies, workspace.policy);
    const wants = new WantedSupplies(new PeerProviders(source));
    const grounded = wants.grounded();
    resolution.projects.forEach((project, index) => {
      for (const one of project.supplied) {
        const wanted = grounded.get(one.name)?.get(index);
        const isAsked =
          wanted?.size === one.ranges.length && one.ranges.every((text) => wanted.has(text));
        if (isAsked && this.isSupplyGood(one)) continue;
        const message = `The lockfile supplies ${project.name} with ${one.name} ${one.ranges.join(', ')}, which its copies do not ask for in that way.`;
        this.inLock('SUPPLY_IDLE', message, project, one.name);
      }
    });
    for (const [name, ofName] of grounded)
      for (const [index, texts] of ofName) {
        const project = resolution.projects[index]!;
        if (project.supplied.some((one) => one.name === name)) continue;
        const message = `Copies that ${project.name} brings in ask for ${name} ${[...texts].join(', ')} beside them; the lockfile supplies none.`;
        this.inLock('PEER_UNSUPPLIED', message, project, name);
      }
    if (workspace.policy.peers === 'report') return;
    for (const { copy, peer, provider } of wants.unmet()) {
      const asking = resolution.copies[copy]!;
      const found =
        provider.kind === 'release' && provider.link.answer >= 0
          ? resolution.copies[provider.link.answer]!.version
          : 'none';
      const message = `${copyKey(asking)} asks for ${peer.name} ${peer.range} beside it and gets ${found}; the policy on peers is strict.`;
      this.inLock('PEER_UNMET', message, asking, peer.name);
    }
  }

  private isSupplyGood({ name, ranges, version }: SuppliedPeer): boolean {
    if (version === null) return true;
    const copy = this.copies.at(name, version);
    return (
      copy !== NO_COPY &&
      this.isFor(copy, matchingTargets(this.workspace.targets, []), false) &&
      ranges.some((text) => rangeContains(this.rangeOf(name, text), this.copies.versions[copy]!))
    );
  }

  private checkOrphans(): void {
    const roots: number[] = [];
    for (const { requirements, supplied } of this.resolution.projects) {
      for (const requirement of requirements) roots.push(this.copies.answerTo(requirement));
      for (const { name, version } of supplied)
        if (version !== null) roots.push(this.copies.at(name, version));
    }
    for (const copy of this.copies.unreached(roots)) {
      const message = `Nothing requires ${copyKey(copy)} any more, yet the lockfile has a copy of it.`;
      this.inLock('COPY_ORPHANED', message, copy);
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

function kindAndName({ kind, name }: Pick<Requirement, 'name' | 'kind'>): string {
  return `${kind} ${name}`;
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
