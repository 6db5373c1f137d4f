import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { draftBase, evaluateDraft, type DraftBase } from '../draft/index.js';
import type { Edit } from '../edit/index.js';
import { LOCK_FILE } from '../workspace/index.js';
import { filesOf, recordsOf, type RegistrySketch } from '../resolve/world.arbitrary.js';
import { printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import { readWorkspace } from '../workspace/index.js';
import { offersUpTo, upgradeBatch } from './batch.js';
import { largestPart } from './largest-part.js';
import { upgradeRows, type Offer } from './offers.js';
import { anyOldWorkspace, TODAY } from './old-workspace.arbitrary.js';
import { UpgradeTrials } from './upgrade-trials.js';

function editsOf(offers: readonly Offer[]): readonly Edit[] {
  return offers.map(({ moves }) => ({ kind: 'upgrade', moves }));
}

function movesOf(offers: readonly Offer[]) {
  return offers.flatMap(({ moves }) => moves);
}

/** Each case of these resolves some dozen times. */
const A_THIRD = { numRuns: Math.ceil(fc.readConfigureGlobal().numRuns! / 3) };

/** Workspaces with some of their offers, of each row at most one. */
const anyChosen: fc.Arbitrary<readonly [DraftBase, readonly Offer[]]> = anyOldWorkspace.chain(
  (base) => {
    const rows = upgradeRows(base).filter(({ offers }) => offers.length > 0);
    return fc.tuple(
      fc.constant(base),
      fc
        .tuple(...rows.map(({ offers }) => fc.option(fc.constantFrom(...offers))))
        .map((chosen) => chosen.filter((one) => one !== null)),
    );
  },
);

describe('an offer that is tried', () => {
  test('comes to what a draft with the same upgrades comes to', () => {
    let answered = 0;
    fc.assert(
      fc.property(anyChosen, ([base, offers]) => {
        fc.pre(offers.length > 0);
        const trial = new UpgradeTrials(base).try(movesOf(offers));
        const draft = evaluateDraft(base, editsOf(offers));
        expect(draft.kind).toBe(trial.price === null ? 'unanswered' : 'answered');
        if (draft.kind !== 'answered') {
          expect(trial.against.length).toBeGreaterThan(0);
          return;
        }
        answered += 1;
        const { change, manifests, peersBroken } = draft.consequences;
        const { files, moved, entered, left } = trial.price!;
        expect({ files, moved, entered, left }).toEqual({
          files: manifests,
          moved: change.moved.length,
          entered: change.entered.length,
          left: change.left.length,
        });
        if (peersBroken.length > 0) expect(trial.against.length).toBeGreaterThan(0);
        const taken = movesOf(offers).every(({ package: name, to }) =>
          draft.resolution.copies.some((one) => one.name === name && one.version === to),
        );
        if (!taken) expect(trial.against.length).toBeGreaterThan(0);
      }),
      A_THIRD,
    );
    expect(answered).toBeGreaterThan(0);
  });

  test('leaves nothing behind for the next', () => {
    fc.assert(
      fc.property(anyChosen, ([base, offers]) => {
        const trials = new UpgradeTrials(base);
        const one = (offer: Offer) => trials.try(offer.moves);
        const first = offers.map(one);
        trials.try(movesOf(offers));
        expect([...offers].reverse().map(one).reverse()).toEqual(first);
        expect(first).toEqual(offers.map((offer) => new UpgradeTrials(base).try(offer.moves)));
      }),
    );
  });
});

describe('a batch', () => {
  test('takes as many as any part of the upgrades that can be taken together', () => {
    let partly = 0;
    fc.assert(
      fc.property(anyOldWorkspace, (base) => {
        const choices = offersUpTo(upgradeRows(base), 'major').map(([largest]) => [largest!]);
        fc.pre(choices.length > 1);
        const trials = new UpgradeTrials(base);
        const batch = upgradeBatch(trials, choices);
        const isGood = (offers: readonly Offer[]): boolean =>
          trials.try(movesOf(offers)).against.length === 0;
        const most = batch.offers.length;
        if (most > 0) expect(isGood(batch.offers)).toBe(true);
        const all = choices.flat();
        for (let bits = 1; bits < 2 ** all.length; bits++) {
          const part = all.filter((_, i) => (bits >> i) % 2 === 1);
          if (part.length > most) expect([part, isGood(part)]).toEqual([part, false]);
        }
        expect(batch.left.length).toBe(all.length - most);
        for (const { against } of batch.left) expect(against.length).toBeGreaterThan(0);
        if (most > 0 && most < all.length) partly += 1;
      }),
      A_THIRD,
    );
    expect(partly).toBeGreaterThan(5);
  });

  test('says what each that is left out would break, and takes a smaller step in its place', () => {
    const registry: RegistrySketch = {
      log: { '1.0.0': {}, '1.0.1': {}, '1.1.0': { needs: { json: '^2.0.0' } } },
      web: { '1.0.0': { needs: { json: '^1.0.0' } } },
      json: { '1.0.0': {}, '1.0.4': {}, '2.0.0': {} },
    };
    const base = oldBase(
      registry,
      { log: ['1.0.0'], web: ['1.0.0'], json: ['1.0.0'] },
      {
        kiosk: { log: '^1.0.0', web: '^1.0.0' },
      },
    );
    const batch = upgradeBatch(new UpgradeTrials(base), offersUpTo(upgradeRows(base), 'minor'));
    expect(batch.offers.map(({ name, to }) => `${name} ${to}`)).toEqual([
      'json 1.0.4',
      'log 1.0.1',
    ]);
    expect(batch.left.map(({ offer, against }) => [offer.name, offer.to, ...against])).toEqual([
      ['log', '1.1.0', 'json would stand there as 1.0.4 and 2.0.0: web 1.0.0 requires ^1.0.0.'],
    ]);
    expect(batch.price).toMatchObject({ files: 0, moved: 2, entered: 0, left: 0 });
  });
});

test('what has no answer by itself is tried beside what it clashes with', () => {
  const registry: RegistrySketch = {
    log: { '1.0.0': {}, '1.1.0': { needs: { json: '^2.0.0' } } },
    json: { '1.0.0': {}, '2.0.0': {} },
    rope: { '1.0.0': {}, '1.1.0': { needs: { knot: '^9.0.0' } } },
    knot: { '1.0.0': {} },
  };
  const root =
    'format = 1\nname = "test"\nprojects = ["*"]\nregistry = "main"\n[policy]\ncopies = "one"\n';
  const base = oldBase(
    registry,
    { log: ['1.0.0'], json: ['1.0.0'], rope: ['1.0.0'], knot: ['1.0.0'] },
    { kiosk: { log: '~1.0.0', json: '^1.0.0' }, gate: { rope: '1.0.0', knot: '1.0.0' } },
    { 'ledger.toml': root },
  );
  const trials = new UpgradeTrials(base);
  const choices = offersUpTo(upgradeRows(base), 'major');
  const log = choices.flat().find(({ name, to }) => name === 'log' && to === '1.1.0')!;
  expect(trials.try(log.moves)).toMatchObject({ price: null });
  const batch = upgradeBatch(trials, choices);
  expect(batch.offers.map(({ name, to }) => `${name} ${to}`)).toEqual(['json 2.0.0', 'log 1.1.0']);
});

/** A workspace that was locked when the registry had only these releases. */
function oldBase(
  registry: RegistrySketch,
  before: Readonly<Record<string, readonly string[]>>,
  projects: Parameters<typeof filesOf>[0],
  others: Readonly<Record<string, string>> = {},
): DraftBase {
  const files = filesOf(projects, others);
  const older = Object.fromEntries(
    Object.entries(registry).map(([name, releases]) => [
      name,
      Object.fromEntries(Object.entries(releases).filter(([one]) => before[name]!.includes(one))),
    ]),
  );
  const { workspace } = readWorkspace(files);
  const outcome = resolve({
    workspace: workspace!,
    records: recordsOf(older),
    asOf: TODAY,
    before: null,
  });
  if (outcome.kind !== 'answered') throw new Error(JSON.stringify(outcome));
  const locked = new Map(files).set(LOCK_FILE, printLock(outcome.resolution));
  return draftBase(locked, recordsOf(registry), TODAY);
}

describe('rows', () => {
  const registry: RegistrySketch = {
    log: {
      '1.0.0': {},
      '1.0.1': {},
      '1.0.2': { withdrawn: true },
      '1.1.0': {},
      '2.0.0': { platform: { runtime: '>=22' } },
      '2.1.0-rc.1': {},
    },
    core: { '1.0.0': {}, '1.1.0': {}, '1.2.0': {} },
    forms: { '1.0.0': {}, '1.1.0': {} },
    json: { '1.0.0': {} },
  };
  const SHARED = `format = 1
[lockstep.grid]
range = "^1.0.0"
packages = ["core", "forms"]
[pins]
json = "1.0.0"
`;
  const base = oldBase(
    registry,
    { log: ['1.0.0'], core: ['1.0.0'], forms: ['1.0.0'], json: ['1.0.0'] },
    { kiosk: { log: '~1.0.0', core: 'shared', json: '*' }, web: { forms: 'shared' } },
    { 'ledger.shared.toml': SHARED },
  );
  const rows = upgradeRows(base);

  test('tell what is newer, why some of it cannot be taken, and the newest of each step', () => {
    const log = rows.find(({ name }) => name === 'log')!;
    expect(log).toMatchObject({ from: '1.0.0', others: [], isDirect: true, projects: ['kiosk'] });
    expect(log.newer.map(({ version, step, why }) => [version, step, why])).toEqual([
      ['1.0.1', 'patch', null],
      ['1.0.2', 'patch', 'withdrawn'],
      ['1.1.0', 'minor', null],
      ['2.0.0', 'major', 'asks for runtime >=22; the workspace offers 20.0.0'],
    ]);
    expect(log.offers.map(({ kind, to }) => [kind, to])).toEqual([
      ['patch', '1.0.1'],
      ['minor', '1.1.0'],
    ]);
  });

  test('hold the members of a set together, at releases that all of them have', () => {
    const grid = rows.find(({ name }) => name === 'grid')!;
    expect(grid).toMatchObject({ isSet: true, packages: ['core', 'forms'] });
    expect(grid.offers.map(({ to, moves }) => [to, moves.map((one) => one.package)])).toEqual([
      ['1.1.0', ['core', 'forms']],
    ]);
    expect(rows.map(({ name }) => name)).toEqual(['grid', 'log']);
  });

  test('offer nothing that is younger than asked for', () => {
    const old = upgradeRows(base, 1000);
    expect(old.flatMap(({ offers }) => offers)).toEqual([]);
    expect(old.find(({ name }) => name === 'log')!.newer[0]!.why).toBe('younger than 1000 days');
  });

  test('an upgrade writes only the ranges that stand in its way, in the manner in which they are written', () => {
    const log = rows.find(({ name }) => name === 'log')!;
    const draft = evaluateDraft(base, editsOf([log.offers[1]!]));
    if (draft.kind !== 'answered') throw new Error(draft.kind);
    const [manifest, lock, ...rest] = draft.changes;
    expect(manifest!.after).toContain('log = "~1.1.0"');
    expect(lock!.path).toBe(LOCK_FILE);
    expect(rest).toEqual([]);
    const patch = evaluateDraft(base, editsOf([log.offers[0]!]));
    expect(patch.kind === 'answered' && patch.changes.map(({ path }) => path)).toEqual([LOCK_FILE]);
  });
});

function countOfBits(bits: number): number {
  let count = 0;
  for (let rest = bits; rest > 0; rest &= rest - 1) count++;
  return count;
}

describe('the largest part', () => {
  const anyBadParts = fc.array(fc.uniqueArray(fc.nat(11), { minLength: 1, maxLength: 3 }), {
    maxLength: 6,
  });

  test('of twelve that all have to do with each other is as large as any, where what is bad stays bad', () => {
    fc.assert(
      fc.property(anyBadParts, (bad) => {
        const bitsOf = (part: readonly number[]): number =>
          part.reduce((bits, one) => bits | (1 << one), 0);
        const badBits = bad.map(bitsOf);
        const isGood = (bits: number): boolean => !badBits.some((one) => (bits & one) === one);
        const found = largestPart(12, (part) => ({
          isGood: isGood(bitsOf(part)),
          touched: new Set(['all']),
        }));
        expect(isGood(bitsOf(found))).toBe(true);
        let most = 0;
        for (let bits = 0; bits < 2 ** 12; bits++)
          if (isGood(bits)) most = Math.max(most, countOfBits(bits));
        expect(found.length).toBe(most);
      }),
    );
  });

  test('of few things finds those that are good together alone', () => {
    const together = (part: readonly number[]): boolean =>
      part.includes(0) === part.includes(2) && !part.includes(1);
    const tried = largestPart(3, (part) => ({ isGood: together(part), touched: new Set(['x']) }));
    expect(tried).toEqual([0, 2]);
  });

  test('tells each better part as it is found', () => {
    const told: (readonly number[])[] = [];
    const names = ['a', 'b', 'a'];
    largestPart(
      3,
      (part) => ({
        isGood: !(part.includes(0) && part.includes(2)),
        touched: new Set(part.map((i) => names[i]!)),
      }),
      (part) => told.push(part),
    );
    expect(told).toEqual([[1], [0, 1]]);
  });
});
