/*
 * pattern  = *( "*" / "?" / "[" [ "!" ] 1*( char / char "-" char ) "]" / "{" pattern *( "," pattern ) "}" / "\" char / char )
 * `*` and `?` stand for characters other than "/", `**` as a whole part of a path for any number of folders.
 * A bracket or brace without its partner stands for itself.
 */

/** One step of a pattern: a set of characters to pass, a fork into several places, or the end. */
type Step =
  | { readonly kind: 'pass'; readonly admits: (unit: string) => boolean }
  | { readonly kind: 'fork'; readonly to: number[] }
  | { readonly kind: 'end' };

const NOT_SLASH = (unit: string): boolean => unit !== '/';
const ANY = (): boolean => true;

/**
 * Whether a text matches any of these glob patterns; `/` alone separates folders, on every machine.
 * Building: O(length of the patterns). Asking: O(length of the text x length of the patterns), whatever stands in them.
 * Source: K. Thompson, Regular expression search algorithm, Comm. ACM 11(6), 1968.
 */
export function globMatcher(patterns: string | readonly string[]): (text: string) => boolean {
  const all = (typeof patterns === 'string' ? [patterns] : patterns).map((pattern) =>
    new PatternReader(pattern).steps(),
  );
  return (text) => all.some((steps) => matches(steps, text));
}

/** Follows all ways through a pattern at once. */
function matches(steps: readonly Step[], text: string): boolean {
  let places = new Set<number>();
  const enter = (into: Set<number>, start: number): void => {
    const open = [start];
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      if (into.has(at)) continue;
      into.add(at);
      const step = steps[at]!;
      if (step.kind === 'fork') open.push(...step.to);
    }
  };
  enter(places, 0);
  for (const unit of text) {
    const next = new Set<number>();
    for (const at of places) {
      const step = steps[at]!;
      if (step.kind === 'pass' && step.admits(unit)) enter(next, at + 1);
    }
    if (next.size === 0) return false;
    places = next;
  }
  return places.has(steps.length - 1);
}

/** Turns a pattern into steps: each goes on to the one after it, a fork to those that it names. */
class PatternReader {
  private readonly made: Step[] = [];
  private readonly units: readonly string[];
  /** By index of an opening brace: that of its partner. */
  private readonly partners: ReadonlyMap<number, number>;

  constructor(pattern: string) {
    this.units = [...pattern];
    this.partners = bracePartners(this.units);
  }

  steps(): readonly Step[] {
    this.read(0, this.units.length);
    this.made.push({ kind: 'end' });
    return this.made;
  }

  private read(start: number, end: number): void {
    for (let at = start; at < end;) at = this.readOne(at, start, end);
  }

  private pass(admits: (unit: string) => boolean): void {
    this.made.push({ kind: 'pass', admits });
  }

  /** Any number of characters. */
  private repeat(admits: (unit: string) => boolean): void {
    const fork: { readonly kind: 'fork'; readonly to: number[] } = { kind: 'fork', to: [] };
    const at = this.made.push(fork) - 1;
    this.pass(admits);
    this.made.push({ kind: 'fork', to: [at] });
    fork.to.push(at + 1, this.made.length);
  }

  /** The part that `make` adds may be missing in a path. */
  private maybe(make: () => void): void {
    const fork: { readonly kind: 'fork'; readonly to: number[] } = { kind: 'fork', to: [] };
    const at = this.made.push(fork) - 1;
    make();
    fork.to.push(at + 1, this.made.length);
  }

  /** @returns where reading goes on */
  private readOne(at: number, start: number, end: number): number {
    const { units } = this;
    const unit = units[at]!;
    if (unit === '\\' && at + 1 < end) return this.literal(units[at + 1]!, at + 2);
    if (unit === '/' && this.isFolders(at + 1, end) && at + 3 === end) {
      this.maybe(() => {
        this.pass((one) => one === '/');
        this.repeat(ANY);
      });
      return end;
    }
    if (unit === '*' && (at === start || units[at - 1] === '/') && this.isFolders(at, end))
      return this.readFolders(at, end);
    if (unit === '*') {
      this.repeat(NOT_SLASH);
      return at + 1;
    }
    if (unit === '?') {
      this.pass(NOT_SLASH);
      return at + 1;
    }
    if (unit === '[') return this.readSet(at, end);
    const partner = this.partners.get(at);
    if (partner !== undefined && partner < end) return this.readChoice(at, partner);
    return this.literal(unit, at + 1);
  }

  private literal(unit: string, next: number): number {
    this.pass((one) => one === unit);
    return next;
  }

  /** Is there `**` that stands alone between slashes? */
  private isFolders(at: number, end: number): boolean {
    const { units } = this;
    return units[at] === '*' && units[at + 1] === '*' && (at + 2 === end || units[at + 2] === '/');
  }

  private readFolders(at: number, end: number): number {
    if (at + 2 === end) {
      this.repeat(ANY);
      return end;
    }
    this.maybe(() => {
      this.repeat(ANY);
      this.pass((one) => one === '/');
    });
    return at + 3;
  }

  /** > [a-z]
   *    ^     */
  private readSet(at: number, end: number): number {
    const { units } = this;
    const isNot = units[at + 1] === '!';
    const first = at + (isNot ? 2 : 1);
    const close = units.indexOf(']', first + 1);
    if (close < 0 || close >= end) return this.literal('[', at + 1);
    const spans: (readonly [string, string])[] = [];
    for (let i = first; i < close; i++) {
      const isSpan = units[i + 1] === '-' && i + 2 < close;
      spans.push([units[i]!, isSpan ? units[i + 2]! : units[i]!]);
      if (isSpan) i += 2;
    }
    this.pass(
      (one) => one !== '/' && spans.some(([low, high]) => low <= one && one <= high) !== isNot,
    );
    return close + 1;
  }

  /** > {linux,darwin}-x64
   *    ^                  */
  private readChoice(at: number, close: number): number {
    const commas: number[] = [];
    for (let i = at + 1; i < close; i++) {
      if (this.units[i] === '\\') i += 1;
      else if (this.units[i] === ',') commas.push(i);
      else i = this.partners.get(i) ?? i;
    }
    const fork: { readonly kind: 'fork'; readonly to: number[] } = { kind: 'fork', to: [] };
    this.made.push(fork);
    const exits: number[][] = [];
    let start = at + 1;
    for (const end of [...commas, close]) {
      fork.to.push(this.made.length);
      this.read(start, end);
      const to: number[] = [];
      this.made.push({ kind: 'fork', to });
      exits.push(to);
      start = end + 1;
    }
    for (const to of exits) to.push(this.made.length);
    return close + 1;
  }
}

function bracePartners(units: readonly string[]): ReadonlyMap<number, number> {
  const partners = new Map<number, number>();
  const open: number[] = [];
  for (let i = 0; i < units.length; i++) {
    if (units[i] === '\\') i += 1;
    else if (units[i] === '{') open.push(i);
    else if (units[i] === '}') {
      const start = open.pop();
      if (start !== undefined) partners.set(start, i);
    }
  }
  return partners;
}
