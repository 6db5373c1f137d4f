/*
 * lockfile    = "deep-ledger lockfile" LF "format 2" LF *( LF block )
 * block       = project / copy, each a head line and lines indented by two spaces
 * requirement = kind word string [ "as" string ] [ "when" 1*string ] answer
 * answer      = "by" word / "by" "project" word / "skipped" string
 * peer        = "peer" word string [ "optional" ]
 * supplied    = "supplied" word 1*string ( "by" word / "unanswered" )
 * The whole grammar is in docs/lockfile.md.
 */
import { REQUIREMENT_KINDS, type RequirementKind } from '../manifest/index.js';
import { isIntegrity } from '../registry/index.js';
import {
  byKindAndName,
  copyKey,
  type Answer,
  type AnsweredRequirement,
  type Copy,
  type CopyPeer,
  type ProjectAnswers,
  type Resolution,
  type SuppliedPeer,
} from '../resolve/index.js';
import { BYTE_ORDER_MARK, isName, type Span } from '../text/index.js';
import { compareVersions, parseRange, parseVersion } from '../version/index.js';
import type { LockProblem } from './lock-problem.js';
import { LockWords, needsQuotes } from './lock-words.js';
import { LOCK_FORMAT, LOCK_TITLE } from './print-lock.js';
import { splitConflict } from './split-conflict.js';

/** A lockfile as read: whole, broken, or with both sides of an unfinished merge. */
export type LockReading =
  | {
      readonly kind: 'read';
      readonly resolution: Resolution;
      /** The format that the text is in; one below the present one is upgraded when it is written. */
      readonly format: number;
      /** Is it the text that the tool would write? */
      readonly isCanonical: boolean;
      /** The offset at which the head of each block stands. */
      readonly heads: LockHeads;
    }
  | {
      readonly kind: 'broken';
      readonly problems: readonly LockProblem[];
      /** The blocks that could be read; none where the opening could not be. */
      readonly kept: Resolution;
    }
  | {
      readonly kind: 'conflicted';
      /** Of the first conflict marker. */
      readonly span: Span;
      readonly ours: LockReading;
      readonly theirs: LockReading;
    };

export type LockHeads = ReadonlyMap<ProjectAnswers | Copy, number>;

/** Blocks that were read, by their text. Of lockfiles that are read with one of these, equal blocks are one object. */
export type KnownBlocks = Map<string, ProjectAnswers | Copy>;

/**
 * Reads a lockfile. The order of blocks and lines is not relied on; the result is sorted.
 * O(length log length).
 * @param known blocks of lockfiles read before, as those of another branch; gets those of this one
 */
export function readLock(text: string, known: KnownBlocks | null = null): LockReading {
  const sides = splitConflict(text);
  if (sides !== null) {
    return {
      kind: 'conflicted',
      span: sides.span,
      ours: readSide(sides.ours, known),
      theirs: readSide(sides.theirs, known),
    };
  }
  return readSide(text, known);
}

function readSide(text: string, known: KnownBlocks | null): LockReading {
  const reader = new LockReader(text, known);
  reader.run();
  const resolution = reader.resolution();
  if (reader.problems.length > 0)
    return { kind: 'broken', problems: reader.problems, kept: resolution };
  const { format, isTidy: isCanonical, heads } = reader;
  return { kind: 'read', resolution, format, isCanonical, heads };
}

/** A block while its lines are read. */
interface Block {
  readonly head: Span;
  /** The whole block, where known blocks are used. */
  readonly text: string;
  readonly kind: 'project' | 'copy';
  /** Folder, or name and version. */
  readonly title: readonly string[];
  readonly fields: Map<string, readonly string[]>;
  /** How far its lines have got in the order in which they are written. */
  rank: number;
  readonly requirements: AnsweredRequirement[];
  readonly peers: CopyPeer[];
  readonly supplied: SuppliedPeer[];
}

const PROJECT_FIELDS: ReadonlyMap<string, number> = new Map([['name', 0]]);
/** Lines of a block in the order in which they are written; requirements come in between. */
const RANKS: Readonly<Record<string, number>> = {
  name: 1,
  from: 1,
  integrity: 2,
  targets: 3,
  deprecated: 4,
  peer: 6,
  supplied: 6,
};
const REQUIREMENT_RANK = 5;
/** With the number of words that each takes; 0: any number. */
const COPY_FIELDS: ReadonlyMap<string, number> = new Map([
  ['from', 2],
  ['integrity', 1],
  ['targets', 0],
  ['deprecated', 1],
]);

class LockReader {
  readonly problems: LockProblem[] = [];
  format = LOCK_FORMAT;
  /** Has everything read so far been where and as `printLock` would have put it? */
  isTidy = true;
  readonly heads = new Map<ProjectAnswers | Copy, number>();
  private readonly projects = new Map<string, ProjectAnswers>();
  private readonly copies = new Map<string, Copy>();
  private readonly words = new LockWords();
  private readonly goodVersions = new Set<string>();
  private readonly goodNames = new Set<string>();
  private block: Block | null = null;
  private hasCopies = false;
  /** How many problems there were when the block in hand began. */
  private problemsBefore = 0;
  /** Lines below a head that could not be read say nothing new. */
  private isSkipping = false;
  /** The text of the block that begins, if known blocks are used. */
  private nextText = '';
  private line: Span = [0, 0];

  constructor(
    private readonly text: string,
    private readonly known: KnownBlocks | null,
  ) {}

  run(): void {
    const { text } = this;
    let lineIndex = 0;
    let blanks = 0;
    if (!text.endsWith('\n')) this.isTidy = false;
    for (let start = 0; start < text.length;) {
      const newline = text.indexOf('\n', start);
      const next = newline < 0 ? text.length : newline;
      const end = next > start && text.charCodeAt(next - 1) === 13 ? next - 1 : next;
      if (end < next) this.isTidy = false;
      if (end > start) {
        const isHead = lineIndex > 1 && text.charCodeAt(start) !== 32;
        if (blanks !== (isHead ? 1 : 0)) this.isTidy = false;
        blanks = 0;
        const past = isHead && this.known !== null ? this.takeKnown(start, this.known) : 0;
        if (past > 0) {
          start = past;
          continue;
        }
        this.line = [start, end];
        if (lineIndex < 2) {
          if (!this.readOpening(lineIndex)) return;
        } else this.readLine(start, end, isHead);
        lineIndex += 1;
      } else blanks += 1;
      start = next + 1;
    }
    if (blanks > 0 || this.format !== LOCK_FORMAT) this.isTidy = false;
    if (lineIndex < 2) this.problems.push({ code: 'LOCK_HEADER', span: this.line });
    this.close();
  }

  /** @returns where reading goes on after a block that was read before, or 0 */
  private takeKnown(start: number, known: KnownBlocks): number {
    const { text } = this;
    const gap = text.indexOf('\n\n', start);
    const end = gap >= 0 ? gap : text.endsWith('\n') ? text.length - 1 : text.length;
    this.nextText = text.slice(start, end);
    const block = known.get(this.nextText);
    // Lines that follow without a head of their own would belong to the block.
    const isWhole = gap < 0 || gap + 2 >= text.length || /\S/.test(text[gap + 2]!);
    if (block === undefined || !isWhole) return 0;
    this.close();
    const isThere =
      'folder' in block ? this.projects.has(block.folder) : this.copies.has(copyKey(block));
    if (isThere) return 0;
    this.isSkipping = false;
    this.heads.set(block, start);
    if ('folder' in block) {
      if (this.hasCopies) this.isTidy = false;
      this.projects.set(block.folder, block);
    } else {
      this.hasCopies = true;
      this.copies.set(copyKey(block), block);
    }
    return end + 1;
  }

  /** A block that may be taken again: it was read without a problem and stands as it is written. */
  private remember(text: string, block: ProjectAnswers | Copy): void {
    if (this.known !== null && this.isTidy && this.problems.length === 0)
      this.known.set(text, block);
  }

  resolution(): Resolution {
    const projects = this.sorted([...this.projects.values()], (a, b) => byText(a.folder, b.folder));
    const copies = this.sorted([...this.copies.values()], (a, b) =>
      a.name === b.name ? compareTexts(a.version, b.version) : a.name < b.name ? -1 : 1,
    );
    return { projects, copies };
  }

  /** @returns false where reading on makes no sense */
  private readOpening(lineIndex: number): boolean {
    const line = this.lineText();
    if (lineIndex === 0 && line.startsWith(BYTE_ORDER_MARK)) {
      this.problems.push({ code: 'LOCK_BYTE_ORDER_MARK', span: this.line });
      return false;
    }
    if (lineIndex === 0 ? line !== LOCK_TITLE : !/^format [1-9]\d{0,8}$/.test(line)) {
      this.problems.push({ code: 'LOCK_HEADER', span: this.line });
      return false;
    }
    if (lineIndex === 0) return true;
    const found = line.slice('format '.length);
    this.format = Number(found);
    if (this.format <= LOCK_FORMAT) return true;
    this.problems.push({ code: 'LOCK_FORMAT', found, span: this.line });
    return false;
  }

  private readLine(start: number, end: number, isHead: boolean): void {
    const { words } = this;
    const isIndented = !isHead && this.text.charCodeAt(start + 1) === 32;
    const isGood = words.split(this.text, isIndented ? start + 2 : start, end);
    if (isHead) this.close();
    if (!isGood) {
      this.isSkipping ||= isHead;
      return this.unexpected('words and strings in double quotes');
    }
    if (!words.isTidy || words.count === 0 || words.isQuoted[0]) this.isTidy = false;
    if (isHead) return this.readHead();
    if (words.count === 0 || this.isSkipping) return;
    if (this.block === null) return this.unexpected('a line "project …" or "copy …"');
    this.readField(this.block);
  }

  private readHead(): void {
    const { words } = this;
    this.problemsBefore = this.problems.length;
    this.isSkipping = true;
    const kind = words.is(0, 'project') ? 'project' : words.is(0, 'copy') ? 'copy' : null;
    if (kind === null)
      return this.unexpected('a line "project …", "copy …" or one indented by two spaces');
    if (words.count !== (kind === 'project' ? 2 : 3))
      return this.unexpected(
        kind === 'project' ? '"project" and one folder' : '"copy", a package and a version',
      );
    const title = words.texts.slice(1, words.count);
    for (let place = 1; place < words.count; place++) this.plainWord(place);
    if (kind === 'copy') {
      this.name(title[0]!);
      this.version(title[1]!);
      this.hasCopies = true;
    } else if (this.hasCopies) this.isTidy = false;
    this.isSkipping = false;
    this.block = {
      head: this.line,
      text: this.nextText,
      kind,
      title,
      fields: new Map(),
      rank: 0,
      requirements: [],
      peers: [],
      supplied: [],
    };
  }

  private readField(block: Block): void {
    const { words } = this;
    const key = words.texts[0]!;
    const known = block.kind === 'project' ? PROJECT_FIELDS : COPY_FIELDS;
    const length = known.get(key);
    const isPeerOfProject = key === 'peer' && block.kind === 'project';
    const rank = isPeerOfProject ? REQUIREMENT_RANK : (RANKS[key] ?? REQUIREMENT_RANK);
    if (rank < block.rank) this.isTidy = false;
    block.rank = rank;
    if (length !== undefined) {
      if (key === 'deprecated') this.isTidy &&= words.isString(1);
      else for (let place = 1; place < words.count; place++) this.plainWord(place);
      if (length > 0 && words.count - 1 !== length)
        return this.unexpected(`"${key}" and ${length} more`);
      if (block.fields.has(key)) this.twice(this.lineText().trim());
      block.fields.set(key, words.texts.slice(1, words.count));
      if (key === 'integrity') this.integrity(words.texts[1]!);
    } else if (key === 'supplied' && block.kind === 'project') this.readSupplied(block);
    else if (key === 'peer' && block.kind === 'copy') this.readPeer(block);
    else this.readRequirement(block);
  }

  /** Ends the block in hand. */
  private close(): void {
    const { block } = this;
    this.block = null;
    if (block === null) return;
    const { line } = this;
    this.line = block.head;
    const requirements = this.distinct(
      block.requirements,
      byKindAndName,
      ({ kind, name }) => `${kind} ${name}`,
    );
    if (block.kind === 'project') this.closeProject(block, requirements);
    else this.closeCopy(block, requirements);
    this.line = line;
  }

  private closeProject(block: Block, requirements: readonly AnsweredRequirement[]): void {
    const [folder = ''] = block.title;
    const title = block.fields.get('name');
    if (title === undefined || title.length === 0) return this.incomplete('name');
    if (title.length > 2) return this.unexpected('a name and a version');
    this.name(title[0]!);
    if (this.projects.has(folder)) this.twice(this.lineText());
    if (this.problems.length > this.problemsBefore) return;
    const [name = '', version = null] = title;
    const supplied = this.distinct(block.supplied, byName, nameOf);
    if (this.problems.length > this.problemsBefore) return;
    const project = { folder, name, version, requirements, supplied };
    this.projects.set(folder, project);
    this.heads.set(project, block.head[0]);
    this.remember(block.text, project);
  }

  private closeCopy(block: Block, requirements: readonly AnsweredRequirement[]): void {
    const [name = '', version = ''] = block.title;
    const { fields } = block;
    for (const key of ['from', 'integrity', 'targets'])
      if (!fields.has(key)) return this.incomplete(key);
    const [registry = '', archive = ''] = fields.get('from')!;
    const copy: Copy = {
      name,
      version,
      registry,
      archive,
      integrity: fields.get('integrity')![0]!,
      targets: this.sorted([...fields.get('targets')!], (a, b) => (a < b ? -1 : a > b ? 1 : 0)),
      deprecated: fields.get('deprecated')?.[0] ?? null,
      requirements,
      peers: this.distinct(block.peers, byName, nameOf),
    };
    if (this.copies.has(copyKey(copy))) this.twice(this.lineText());
    if (this.problems.length > this.problemsBefore) return;
    this.copies.set(copyKey(copy), copy);
    this.heads.set(copy, block.head[0]);
    this.remember(block.text, copy);
  }

  private distinct<T>(
    list: T[],
    compare: (a: T, b: T) => number,
    key: (one: T) => string,
  ): readonly T[] {
    const all = this.sorted(list, compare);
    const same = all.findIndex((one, i) => i > 0 && compare(all[i - 1]!, one) === 0);
    if (same > 0) this.twice(`${key(all[same]!)} in ${this.lineText()}`);
    return all;
  }

  /** One requirement.
   *  >   optional neve-native "^1.0.0" when "linux-*" by 1.0.3
   *      ^                                                     */
  private readRequirement(block: Block): void {
    const { words } = this;
    const { texts } = words;
    const kind = texts[0];
    if (!isKind(kind) || words.count < 3 || !words.isString(2))
      return this.unexpected('a kind, a package and its range in quotes');
    this.plainWord(1);
    this.name(texts[1]!);
    const written = texts[2]!;
    let range: string | null = written;
    let at = 3;
    if (words.is(at, 'as') && words.isString(at + 1)) {
      range = texts[at + 1]!;
      if (range === written) this.isTidy = false;
      at += 2;
    }
    const when: string[] = [];
    if (words.is(at, 'when')) for (at += 1; words.isString(at); at++) when.push(texts[at]!);
    if (words.is(at - 1, 'when')) this.isTidy = false;
    const answer = this.answerAt(at);
    if (answer === null)
      return this.unexpected(
        'an answer: "by" and a version, "by project" and a folder, or "skipped" and a reason',
      );
    if (answer.kind === 'project') {
      if (range !== written) this.isTidy = false;
      range = null;
    } else if (!this.range(range)) return;
    if (answer.kind === 'copy') this.version(answer.version);
    block.requirements.push({ kind, name: texts[1]!, written, range, when, answer });
  }

  private answerAt(at: number): Answer | null {
    const { words } = this;
    const left = words.count - at;
    if (words.is(at, 'skipped') && words.isString(at + 1) && left === 2)
      return { kind: 'skipped', reason: words.texts[at + 1]! };
    if (!words.is(at, 'by')) return null;
    this.plainWord(at + left - 1);
    if (left === 2) return { kind: 'copy', version: words.texts[at + 1]! };
    if (left === 3 && words.is(at + 1, 'project'))
      return { kind: 'project', folder: words.texts[at + 2]! };
    return null;
  }

  /** > peer glacis-state "^2.0.0" optional
   *    ^                                    */
  private readPeer(block: Block): void {
    const { words } = this;
    const isOptional = words.is(3, 'optional');
    if (!words.isString(2) || words.count !== (isOptional ? 4 : 3))
      return this.unexpected('"peer", a package, its range in quotes, and "optional" if it is');
    this.plainWord(1);
    this.name(words.texts[1]!);
    const range = words.texts[2]!;
    if (this.range(range)) block.peers.push({ name: words.texts[1]!, range, isOptional });
  }

  /** > supplied glacis-state "^2.0.0" by 2.1.0
   *    ^                                        */
  private readSupplied(block: Block): void {
    const { words } = this;
    let at = 2;
    const ranges: string[] = [];
    for (; words.isString(at); at++) ranges.push(words.texts[at]!);
    const left = words.count - at;
    const isAnswered = words.is(at, 'by') && left === 2;
    if (ranges.length === 0 || !(isAnswered || (words.is(at, 'unanswered') && left === 1)))
      return this.unexpected(
        '"supplied", a package, ranges in quotes, and "by" a version or "unanswered"',
      );
    this.plainWord(1);
    this.name(words.texts[1]!);
    if (isAnswered) this.plainWord(at + 1);
    const version = isAnswered ? words.texts[at + 1]! : null;
    if (version !== null) this.version(version);
    if (ranges.every((range) => this.range(range)))
      block.supplied.push({ name: words.texts[1]!, ranges: this.sorted(ranges, byText), version });
  }

  /** Sorts in place, and only where it is not sorted yet: what the tool wrote always is. */
  private sorted<T>(list: T[], compare: (a: T, b: T) => number): T[] {
    for (let i = 1; i < list.length; i++) {
      if (compare(list[i - 1]!, list[i]!) <= 0) continue;
      this.isTidy = false;
      return list.sort(compare);
    }
    return list;
  }

  /** A word that is written bare wherever that is possible. */
  private plainWord(place: number): void {
    if (this.words.isQuoted[place] && !needsQuotes(this.words.texts[place]!)) this.isTidy = false;
  }

  private name(text: string): void {
    if (this.goodNames.has(text)) return;
    if (isName(text)) this.goodNames.add(text);
    else this.wrongValue('name', text);
  }

  private version(text: string): void {
    if (this.goodVersions.has(text)) return;
    if (parseVersion(text, 'dotted').ok) this.goodVersions.add(text);
    else this.wrongValue('version', text);
  }

  private range(text: string): boolean {
    const isRange = parseRange(text, 'dotted always').ok;
    if (!isRange) this.wrongValue('range', text);
    return isRange;
  }

  private integrity(text: string): void {
    if (!isIntegrity(text)) this.wrongValue('Subresource Integrity text', text);
  }

  private lineText(): string {
    return this.text.slice(...this.line);
  }

  private unexpected(expected: string): void {
    const found = this.lineText().trim().slice(0, 60);
    this.problems.push({ code: 'LOCK_LINE', found, expected, span: this.line });
  }

  private incomplete(missing: string): void {
    this.problems.push({
      code: 'LOCK_INCOMPLETE',
      what: this.lineText(),
      missing,
      span: this.line,
    });
  }

  private twice(what: string): void {
    this.problems.push({ code: 'LOCK_TWICE', what, span: this.line });
  }

  private wrongValue(what: string, found: string): void {
    this.problems.push({ code: 'LOCK_VALUE', what, found, span: this.line });
  }
}

function isKind(text: string | undefined): text is RequirementKind {
  return REQUIREMENT_KINDS.some((kind) => kind === text);
}

function byText(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

function byName(a: { readonly name: string }, b: { readonly name: string }): number {
  return byText(a.name, b.name);
}

function nameOf({ name }: { readonly name: string }): string {
  return name;
}

function compareTexts(a: string, b: string): number {
  const x = parseVersion(a, 'dotted');
  const y = parseVersion(b, 'dotted');
  return (x.ok && y.ok ? compareVersions(x.value, y.value) : 0) || byText(a, b);
}
