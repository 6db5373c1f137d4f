/*
 * lockfile    = "deep-ledger lockfile" LF "format 1" LF *( LF block )
 * block       = project / copy, each a head line and lines indented by two spaces
 * requirement = kind word string [ "as" string ] [ "when" 1*string ] answer
 * answer      = "by" word / "by" "project" word / "skipped" string
 * The whole grammar is in docs/lockfile.md.
 */
import { REQUIREMENT_KINDS, type RequirementKind } from '../manifest/index.js';
import {
  byKindAndName,
  copyKey,
  type Answer,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import type { Span } from '../text/index.js';
import { compareVersions, parseRange, parseVersion } from '../version/index.js';
import { splitConflict } from './split-conflict.js';
import type { LockProblem } from './lock-problem.js';
import { LOCK_FORMAT, LOCK_TITLE } from './print-lock.js';

/** A lockfile as read: whole, broken, or with both sides of an unfinished merge. */
export type LockReading =
  | { readonly kind: 'read'; readonly resolution: Resolution }
  | { readonly kind: 'broken'; readonly problems: readonly LockProblem[] }
  | {
      readonly kind: 'conflicted';
      /** Of the first conflict marker. */
      readonly span: Span;
      readonly ours: LockReading;
      readonly theirs: LockReading;
    };

/** Reads a lockfile. The order of blocks and lines is not relied on; the result is sorted. O(length log length). */
export function readLock(text: string): LockReading {
  const sides = splitConflict(text);
  if (sides !== null) {
    return {
      kind: 'conflicted',
      span: sides.span,
      ours: readSide(sides.ours),
      theirs: readSide(sides.theirs),
    };
  }
  return readSide(text);
}

function readSide(text: string): LockReading {
  const reader = new LockReader(text);
  reader.run();
  return reader.problems.length > 0
    ? { kind: 'broken', problems: reader.problems }
    : { kind: 'read', resolution: reader.resolution() };
}

interface Line {
  readonly text: string;
  readonly span: Span;
  readonly words: readonly Word[];
}

interface Word {
  readonly text: string;
  readonly isQuoted: boolean;
}

interface Block {
  readonly head: Line;
  readonly lines: Line[];
}

class LockReader {
  readonly problems: LockProblem[] = [];
  private readonly projects = new Map<string, ProjectAnswers>();
  private readonly copies = new Map<string, Copy>();

  constructor(private readonly text: string) {}

  run(): void {
    const lines = this.lines();
    const [title, format] = lines;
    if (title?.text !== LOCK_TITLE || format === undefined || !/^format \d+$/.test(format.text)) {
      this.problems.push({ code: 'LOCK_HEADER', span: title?.span ?? [0, 0] });
      return;
    }
    const number = format.text.slice('format '.length);
    if (number !== String(LOCK_FORMAT)) {
      this.problems.push({ code: 'LOCK_FORMAT', found: number, span: format.span });
      return;
    }
    for (const block of this.blocks(lines.slice(2))) {
      if (block.head.words[0]?.text === 'project') this.readProject(block);
      else this.readCopy(block);
    }
  }

  resolution(): Resolution {
    const projects = [...this.projects.values()].sort((a, b) => (a.folder < b.folder ? -1 : 1));
    const copies = [...this.copies.values()].sort((a, b) =>
      a.name === b.name ? compareTexts(a.version, b.version) : a.name < b.name ? -1 : 1,
    );
    return { projects, copies };
  }

  private lines(): Line[] {
    const lines: Line[] = [];
    let start = 0;
    for (const raw of this.text.split('\n')) {
      const text = raw.endsWith('\r') ? raw.slice(0, -1) : raw;
      const span = [start, start + text.length] as const;
      start += raw.length + 1;
      if (text === '') continue;
      lines.push({ text, span, words: [] });
    }
    return lines;
  }

  private blocks(lines: readonly Line[]): Block[] {
    const blocks: Block[] = [];
    for (const { text, span } of lines) {
      const words = splitWords(text);
      if (words === null) {
        this.unexpected({ text, span, words: [] }, 'words and strings in double quotes');
        continue;
      }
      const line = { text, span, words };
      const isHead = !text.startsWith(' ');
      if (isHead && /^(project \S|copy \S)/.test(text)) blocks.push({ head: line, lines: [] });
      else if (!isHead || blocks.length === 0) {
        if (isHead || blocks.length === 0) this.unexpected(line, 'a line "project …" or "copy …"');
        else blocks.at(-1)!.lines.push(line);
      } else this.unexpected(line, 'a line "project …", "copy …" or one indented by two spaces');
    }
    return blocks;
  }

  private unexpected({ text, span }: Line, expected: string): void {
    this.problems.push({ code: 'LOCK_LINE', found: text.trim().slice(0, 60), expected, span });
  }

  private incomplete({ text, span }: Line, missing: string): void {
    this.problems.push({ code: 'LOCK_INCOMPLETE', what: text, missing, span });
  }

  private readProject({ head, lines }: Block): void {
    const folder = head.words[1]!.text;
    if (head.words.length !== 2) return this.unexpected(head, '"project" and one folder');
    const title = lines.find(({ words }) => words[0]?.text === 'name');
    if (title === undefined || title.words.length < 2) return this.incomplete(head, 'name');
    if (title.words.length > 3) return this.unexpected(title, 'a name and a version');
    const requirements = this.requirements(lines.filter((line) => line !== title));
    if (this.projects.has(folder)) {
      this.problems.push({ code: 'LOCK_TWICE', what: head.text, span: head.span });
    }
    const version = title.words[2]?.text ?? null;
    this.projects.set(folder, { folder, name: title.words[1]!.text, version, requirements });
  }

  private readCopy({ head, lines }: Block): void {
    const [, name, version] = head.words;
    if (name === undefined || version === undefined || head.words.length !== 3) {
      return this.unexpected(head, '"copy", a package and a version');
    }
    this.version(version.text, head);
    const fields = new Map<string, Line>();
    const rest = lines.filter((line) => {
      const key = line.words[0]?.text ?? '';
      if (!['from', 'integrity', 'targets', 'deprecated'].includes(key)) return true;
      if (fields.has(key))
        this.problems.push({ code: 'LOCK_TWICE', what: line.text.trim(), span: line.span });
      fields.set(key, line);
      return false;
    });
    const field = (key: string, length: number): readonly string[] => {
      const line = fields.get(key);
      if (line === undefined) this.incomplete(head, key);
      else if (line.words.length !== length && length > 0)
        this.unexpected(line, `"${key}" and ${length - 1} more`);
      return line?.words.slice(1).map(({ text }) => text) ?? [];
    };
    const [registry = '', archive = ''] = field('from', 3);
    const [integrity = ''] = field('integrity', 2);
    if (fields.has('integrity') && !/^sha(256|384|512)-[A-Za-z0-9+/]+={0,2}$/.test(integrity)) {
      this.problems.push({
        code: 'LOCK_VALUE',
        what: 'Subresource Integrity text',
        found: integrity,
        span: fields.get('integrity')!.span,
      });
    }
    const copy: Copy = {
      name: name.text,
      version: version.text,
      registry,
      archive,
      integrity,
      targets: [...field('targets', 0)].sort(),
      deprecated: fields.has('deprecated') ? (field('deprecated', 2)[0] ?? '') : null,
      requirements: this.requirements(rest),
    };
    if (this.copies.has(copyKey(copy))) {
      this.problems.push({ code: 'LOCK_TWICE', what: head.text, span: head.span });
    }
    this.copies.set(copyKey(copy), copy);
  }

  private version(text: string, line: Line): void {
    if (parseVersion(text).ok) return;
    this.problems.push({ code: 'LOCK_VALUE', what: 'version', found: text, span: line.span });
  }

  private requirements(lines: readonly Line[]): readonly AnsweredRequirement[] {
    const seen = new Set<string>();
    return lines
      .flatMap((line) => {
        const requirement = this.requirement(line);
        if (requirement === null) return [];
        const key = `${requirement.kind} ${requirement.name}`;
        if (seen.has(key))
          this.problems.push({ code: 'LOCK_TWICE', what: line.text.trim(), span: line.span });
        seen.add(key);
        return [requirement];
      })
      .sort(byKindAndName);
  }

  /** One requirement.
   *  >   optional neve-native "^1.0.0" when "linux-*" by 1.0.3
   *      ^                                                     */
  private requirement(line: Line): AnsweredRequirement | null {
    const words = [...line.words];
    const [kind, name, written] = words.splice(0, 3);
    const kindText = kind?.text;
    if (!isKind(kindText) || name === undefined || written?.isQuoted !== true) {
      this.unexpected(line, 'a kind, a package and its range in quotes');
      return null;
    }
    let range: string | null = written.text;
    if (words[0]?.text === 'as' && words[1]?.isQuoted === true) range = words.splice(0, 2)[1]!.text;
    const when: string[] = [];
    if (words[0]?.text === 'when') {
      words.shift();
      while (words[0]?.isQuoted === true) when.push(words.shift()!.text);
    }
    const answer = answerOf(words);
    if (answer === null) {
      this.unexpected(
        line,
        'an answer: "by" and a version, "by project" and a folder, or "skipped" and a reason',
      );
      return null;
    }
    if (answer.kind === 'project') range = null;
    else if (!parseRange(range, 'always').ok) {
      this.problems.push({ code: 'LOCK_VALUE', what: 'range', found: range, span: line.span });
      return null;
    }
    if (answer.kind === 'copy') this.version(answer.version, line);
    return { kind: kindText, name: name.text, written: written.text, range, when, answer };
  }
}

function isKind(text: string | undefined): text is RequirementKind {
  return REQUIREMENT_KINDS.some((kind) => kind === text);
}

function answerOf(words: readonly Word[]): Answer | null {
  const [verb, first, second] = words;
  if (verb?.text === 'skipped' && first?.isQuoted === true && words.length === 2) {
    return { kind: 'skipped', reason: first.text };
  }
  if (verb?.text !== 'by' || first === undefined) return null;
  if (first.text === 'project' && !first.isQuoted && second !== undefined && words.length === 3) {
    return { kind: 'project', folder: second.text };
  }
  return words.length === 2 ? { kind: 'copy', version: first.text } : null;
}

function compareTexts(a: string, b: string): number {
  const x = parseVersion(a);
  const y = parseVersion(b);
  return (x.ok && y.ok ? compareVersions(x.value, y.value) : 0) || (a < b ? -1 : a > b ? 1 : 0);
}

const WORD = /\s*(?:"((?:[^"\\]|\\.)*)"|([^\s"]+))(?=\s|$)/y;

/** The words of a line, strings decoded; null where it has anything else. */
function splitWords(line: string): readonly Word[] | null {
  const words: Word[] = [];
  const text = line.trimEnd();
  for (let at = 0; at < text.length;) {
    WORD.lastIndex = at;
    const match = WORD.exec(text);
    if (match === null) return null;
    at = WORD.lastIndex;
    if (match[2] !== undefined) words.push({ text: match[2], isQuoted: false });
    else {
      const decoded = decode(`"${match[1]}"`);
      if (decoded === null) return null;
      words.push({ text: decoded, isQuoted: true });
    }
  }
  return words;
}

function decode(quoted: string): string | null {
  try {
    return JSON.parse(quoted) as string;
  } catch {
    return null;
  }
}
