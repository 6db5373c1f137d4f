import { unreachable } from '../../text/index.js';
import type { Catalog } from '../model/catalog.js';
import type { BoundPackages } from '../policy/bound-packages.js';
import type { Citing } from './cites.js';
import type { Cut, Fact } from './facts.js';
import { listVersions } from './release-words.js';
import { rootWords } from './requirement-words.js';

/** Puts facts into numbered sentences, each said once. */
export class Telling {
  readonly lines: string[] = [];
  private readonly numbers = new Map<Fact, number>();
  private depth = 0;

  constructor(
    private readonly catalog: Catalog,
    private readonly bound: BoundPackages,
    private readonly citing: Citing,
  ) {}

  conclude(fact: Fact): void {
    this.line(`So nothing is left for (${this.say(fact)}).`);
  }

  open(release: number, number: number): void {
    const name = this.catalog.nameOf(release);
    this.line(`Suppose ${name} ${this.catalog.releases[release]!.text} for (${number}):`);
    this.depth += 1;
  }

  close(): void {
    this.depth -= 1;
  }

  /** @returns the number of the sentence that states the fact */
  say(fact: Fact): number {
    const known = this.numbers.get(fact);
    if (known !== undefined) return known;
    const parent = fact.source.kind === 'root' ? 0 : this.say(fact.source.parent);
    const number = this.numbers.size + 1;
    this.numbers.set(fact, number);
    this.line(`(${number}) ${this.opening(fact, parent)}`);
    for (const cut of fact.cuts) this.sayCut(fact, cut, number);
    return number;
  }

  private line(text: string): void {
    this.lines.push(`${'  '.repeat(this.depth)}${text}`);
  }

  private opening(
    { source, package: packageNumber, releases, cuts, supposed }: Fact,
    parent: number,
  ): string {
    const name = this.catalog.names[packageNumber]!;
    const all = [...releases, ...cuts.flatMap(({ removed }) => removed)].sort((a, b) => a - b);
    const versions = all.length === 0 ? 'none' : listVersions(this.catalog, all);
    const there = supposed === null ? `there is ${versions}` : `${versions} is taken`;
    switch (source.kind) {
      case 'root':
        return `${rootWords(source.root)}; ${there}.`;
      case 'need':
        return `What is left of (${parent}) needs ${name} ${source.ranges.join(' or ')}; ${there}.`;
      case 'supply':
        this.citing.peers = true;
        return `What is left of (${parent}) asks for ${name} ${source.ranges.join(' or ')} beside it, and ${source.project} requires none itself; ${there}.`;
    }
  }

  private sayCut(fact: Fact, { removed, by, reason }: Cut, number: number): void {
    const numbers = [...new Set(by.map((one) => `(${this.say(one)})`))];
    const because = numbers.join(' and ');
    const name = this.catalog.names[fact.package]!;
    const versions = `${name} ${listVersions(this.catalog, removed)}`;
    const isOne = removed.length === 1;
    const out = `${versions} ${isOne ? 'is' : 'are'} out of (${number})`;
    switch (reason.kind) {
      case 'copies':
        return this.line(
          `The policy allows ${this.allowed(fact.package)}, and ${because} does not admit ${versions} of (${number}).`,
        );
      case 'need':
        return this.line(
          `${versions} ${isOne ? 'needs' : 'need'} ${reason.name} ${reason.range}; the policy allows ${this.allowed(by[0]!.package)}, and ${because} ${numbers.length === 1 ? 'has' : 'have'} another, so ${out}.`,
        );
      case 'fewer':
        return this.line(
          `What is left of ${because} needs ${name} ${reason.ranges.join(' or ')}, so ${out}.`,
        );
      case 'peer': {
        this.citing.peers = true;
        const asks = `${versions} ${isOne ? 'asks' : 'ask'} for ${reason.name} ${reason.range} beside ${isOne ? 'it' : 'them'}`;
        if (reason.project !== null)
          return this.line(
            `${asks}, and the project in ${reason.project}, which stands there, has no such version, so ${out}.`,
          );
        return this.line(
          by.length === 0
            ? `${asks}, and there is no usable release of ${reason.name} in that range, so ${out}.`
            : `${asks}, and ${because} has no such release, so ${out}.`,
        );
      }
      case 'asked':
        this.citing.peers = true;
        return this.line(
          `What is left of ${because} asks for ${name} ${reason.ranges.join(' or ')} beside it, so ${out}.`,
        );
      default:
        return unreachable(reason);
    }
  }

  private allowed(packageNumber: number): string {
    const name = this.catalog.names[packageNumber]!;
    this.citing.copies.add(name);
    return this.bound.policyOf(packageNumber) === 'one'
      ? `one copy of ${name}`
      : `one copy of ${name} for each major version`;
  }
}
