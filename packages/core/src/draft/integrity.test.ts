import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { findAll } from '../findings/index.js';
import { checkLockAgainst, printLock } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { Engine, resolve, type Resolution } from '../resolve/index.js';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { LOCK_FILE } from '../workspace/index.js';
import { draftBase, type DraftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { standOfBase } from './stand-of-draft.js';

const DAY = '2025-01-01';
const LOCKED = 'sha512-' + Buffer.alloc(64, 1).toString('base64');
const REGISTRY = {
  log: { '1.0.0': { needs: { json: '^1.0.0' } } },
  json: { '1.0.0': {}, '1.1.0': {} },
  boot: { '1.0.0': {}, '2.0.0': { needs: { json: '^1.0.0' } } },
};
const FILES = filesOf({ web: { log: '^1.0.0', boot: '^1.0.0' }, kit: { log: '^1.0.0' } });
const records = recordsOf(REGISTRY);

function offeredOf(known: PackageRecords, name: string, version: string): string {
  return known.get(name)!.releases.find(({ text }) => text === version)!.archive.integrity;
}

function locked(): Resolution {
  const outcome = resolve({ workspace: workspaceOf(FILES), records, asOf: DAY, before: null });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  return outcome.resolution;
}

/** The workspace with a lockfile in which some copies have another integrity than the registry says. */
function base(...names: readonly string[]): DraftBase {
  const { projects, copies } = locked();
  const other = copies.map((copy) =>
    names.includes(copy.name) ? { ...copy, integrity: LOCKED } : copy,
  );
  const text = printLock({ projects, copies: other });
  return draftBase(new Map(FILES).set(LOCK_FILE, text), records, DAY);
}

function outcome(on: DraftBase, ...edits: readonly Edit[]) {
  const evaluation = evaluateDraft(on, edits);
  if (evaluation.kind !== 'answered') throw new Error(JSON.stringify(evaluation));
  const integrities = new Map(
    evaluation.resolution.copies.map(({ name, integrity }) => [name, integrity]),
  );
  return { ...evaluation, integrities };
}

const MUTE: Edit = {
  kind: 'mute',
  finding: 'loose web log',
  reason: 'later',
  owner: 'us',
  until: '2025-06-01',
};
const TAKE: Edit = {
  kind: 'take-integrity',
  package: 'json',
  version: '1.1.0',
  integrity: offeredOf(records, 'json', '1.1.0'),
};

test('an edit about something else leaves the lockfile’s integrity, and touches no disputed copy', () => {
  const { integrities, changes, consequences } = outcome(base('json'), MUTE);
  expect(integrities.get('json')).toBe(LOCKED);
  expect(changes.map(({ path }) => path)).not.toContain(LOCK_FILE);
  expect(consequences.disputed).toEqual([]);
});

test('re-resolving a package keeps its integrity where it keeps its version', () => {
  const { integrities } = outcome(base('json'), { kind: 'refresh', packages: [] });
  expect(integrities.get('json')).toBe(LOCKED);
});

test('a draft that brings a disputed copy to others names both integrities', () => {
  const edit: Edit = { kind: 'set-range', package: 'boot', range: '^2.0.0', projects: ['web'] };
  expect(outcome(base('json'), edit).consequences.disputed).toEqual([
    {
      name: 'json',
      version: '1.1.0',
      locked: LOCKED,
      offered: offeredOf(records, 'json', '1.1.0'),
    },
  ]);
  expect(outcome(base('json'), edit, TAKE).consequences.disputed).toEqual([]);
  expect(outcome(base(), edit).consequences.disputed).toEqual([]);
});

test('the registry’s integrity is taken by an edit of its own, for one copy alone', () => {
  const { integrities, consequences } = outcome(base('json', 'boot'), TAKE);
  expect(integrities.get('json')).toBe(TAKE.integrity);
  expect(integrities.get('boot')).toBe(LOCKED);
  expect(consequences.disputed).toEqual([]);
});

test('an integrity that the registry no longer says is not taken', () => {
  const edit = { ...TAKE, integrity: 'sha512-' + Buffer.alloc(64, 2).toString('base64') };
  expect(evaluateDraft(base('json'), [edit])).toMatchObject({
    kind: 'inapplicable',
    problems: [{ code: 'EDIT_OVERTAKEN' }],
  });
  expect(evaluateDraft(base(), [TAKE])).toMatchObject({
    kind: 'inapplicable',
    problems: [{ code: 'EDIT_OVERTAKEN' }],
  });
});

test('the finding about a tampered copy is cleared by its own remedy', () => {
  const on = base('json');
  const found = findAll(standOfBase(on, { use: null, needless: null }));
  const [tampered] = found.filter(({ kind }) => kind === 'tampered');
  expect(tampered?.remedies).toMatchObject([{ isDecision: true, edits: [TAKE] }]);
  expect(outcome(on, ...tampered!.remedies[0]!.edits).integrities.get('json')).toBe(TAKE.integrity);
});

test('whatever the registry says, locking again keeps every integrity, as an engine that is kept does', () => {
  const names = ['log', 'json', 'boot'];
  fc.assert(
    fc.property(fc.subarray(names), fc.subarray(names), (disputed, refreshed) => {
      const on = base(...disputed);
      const before = on.lock!.resolution!;
      const question = {
        workspace: on.workspace!,
        asOf: DAY,
        before,
        refresh: new Set(refreshed),
      };
      const kept = new Engine(records);
      kept.resolve({ ...question, before: null });
      const [fresh, later] = [new Engine(records).resolve(question), kept.resolve(question)];
      expect(later).toEqual(fresh);
      if (fresh.kind !== 'answered') throw new Error(fresh.kind);
      expect(fresh.resolution.copies.map(({ integrity }) => integrity)).toEqual(
        before.copies.map(({ integrity }) => integrity),
      );
      const state = checkLockAgainst(on.workspace!, on.files, { records, asOf: DAY });
      expect(state?.state).toBe('consistent');
    }),
  );
});
