import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkLock, printLock } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { resolve } from '../resolve/index.js';
import {
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  workspaceOf,
  type World,
} from '../resolve/world.arbitrary.js';
import { LOCK_FILE, readWorkspace, type WorkspaceFiles } from '../workspace/index.js';
import { mergeManifest, mergeWorkspaces, type MergeOutcome } from './index.js';

const asOf = '2025-01-01';

/** The files with their lockfile; without one where nothing answers them. */
function locked(records: PackageRecords, files: WorkspaceFiles, before: WorkspaceFiles | null) {
  const held = before === null ? null : checkLock(readWorkspace(before).workspace!, before);
  const outcome = resolve({
    workspace: workspaceOf(files),
    records,
    asOf,
    before: held?.resolution ?? null,
  });
  return outcome.kind === 'answered'
    ? new Map(files).set(LOCK_FILE, printLock(outcome.resolution))
    : null;
}

/** Changes some requirements and leaves a comment at each manifest. */
function changedFiles(
  projects: World['projects'],
  changes: World['projects'],
  remark: string,
): WorkspaceFiles {
  const names = new Set([...Object.keys(projects), ...Object.keys(changes)]);
  const all = Object.fromEntries(
    [...names].sort().map((name) => [name, { ...projects[name], ...changes[name] }]),
  );
  const files = filesOf(all, { 'ledger.shared.toml': 'format = 1\n[shared]\nelm = "^1.0.0"\n' });
  return new Map(
    [...files].map(([path, text]) => [
      path,
      path.split('/')[0]! in changes ? `# ${remark}\n${text}` : text,
    ]),
  );
}

function swapped(outcome: MergeOutcome): MergeOutcome {
  return outcome.kind !== 'conflicts'
    ? outcome
    : {
        ...outcome,
        conflicts: outcome.conflicts.map((one) => ({
          ...one,
          ours: one.theirs,
          theirs: one.ours,
        })),
      };
}

/** What a side makes of the projects: another world's, or the ranges of one requirement changed, so that sides collide. */
const anySide = (projects: World['projects']): fc.Arbitrary<World['projects']> => {
  const [name] = Object.keys(projects);
  const [needed] = Object.keys(projects[name ?? ''] ?? {});
  const others = anyAnswerableWorld.map((world) => world.projects);
  if (name === undefined || needed === undefined) return others;
  const changed = fc
    .constantFrom('*', '^1.0.0', '>=1.1.0')
    .map((range) => ({ [name]: { ...projects[name], [needed]: range } }));
  return fc.oneof(others, changed);
};

const anyMerge = anyAnswerableWorld.chain((world) =>
  fc.record({
    world: fc.constant(world),
    ours: anySide(world.projects),
    theirs: anySide(world.projects),
  }),
);

describe('merging random workspaces', () => {
  test('swapping the sides changes nothing, and what is merged is consistent', () => {
    fc.assert(
      fc.property(anyMerge, ({ world, ours, theirs }) => {
        const records = recordsOf(world.registry);
        const base = locked(records, changedFiles(world.projects, {}, ''), null);
        if (base === null) return;
        const o = locked(records, changedFiles(world.projects, ours, 'ours'), base);
        const t = locked(records, changedFiles(world.projects, theirs, 'theirs'), base);
        if (o === null || t === null) return;
        const outcome = mergeWorkspaces({ base, ours: o, theirs: t, records, asOf });
        const other = mergeWorkspaces({ base, ours: t, theirs: o, records, asOf });
        expect(withoutMaps(swapped(other))).toEqual(withoutMaps(outcome));
        if (outcome.kind !== 'merged') return;
        const { files } = outcome;
        expect(checkLock(workspaceOf(files), files)).toMatchObject({
          state: 'consistent',
          reasons: [],
        });
        const joined = [...files.values()].join('');
        if (Object.keys(ours).length > 0) expect(joined).toContain('# ours');
        if (Object.keys(theirs).length > 0) expect(joined).toContain('# theirs');
      }),
    );
  });

  test('where one side changed nothing, the other comes out', () => {
    fc.assert(
      fc.property(anyMerge, ({ world, ours }) => {
        const records = recordsOf(world.registry);
        const base = locked(records, changedFiles(world.projects, {}, ''), null);
        if (base === null) return;
        const o = locked(records, changedFiles(world.projects, ours, 'ours'), base);
        if (o === null) return;
        const outcome = mergeWorkspaces({ base, ours: o, theirs: base, records, asOf });
        if (outcome.kind !== 'merged') throw new Error(outcome.kind);
        expect(new Map([...outcome.files].sort())).toEqual(new Map([...o].sort()));
      }),
    );
  });
});

/** Problems of places carry maps and spans that need no comparing. */
function withoutMaps(outcome: MergeOutcome): unknown {
  return outcome.kind === 'unanswered'
    ? outcome.unanswered.map(({ sentences }) => sentences)
    : outcome;
}

describe('a manifest', () => {
  const base = 'name = "a"\n\n[needs]\n# the log\nlog = "^1.0.0"\nweb = "^1.0.0"\n';
  const merged = (ours: string, theirs: string, from = base): string => {
    const merge = mergeManifest('a/ledger.project.toml', { base: from, ours, theirs });
    if (merge.kind !== 'merged') throw new Error(JSON.stringify(merge));
    return merge.text!;
  };

  test('changes next to each other are both taken, with their comments', () => {
    const ours = base.replace('log = "^1.0.0"', 'log = "^2.0.0" # needed for traces');
    const theirs = base.replace('web = "^1.0.0"', '# for the new desk\nweb = "^3.0.0"');
    const both = merged(ours, theirs);
    expect(both).toBe(merged(theirs, ours));
    expect(both).toContain('log = "^2.0.0"');
    expect(both).toContain('web = "^3.0.0"');
    expect(both).toContain('# the log');
  });

  test('requirements added in one place are both there', () => {
    const ours = base.replace('web =', 'tarn = "^1.0.0"\nweb =');
    const theirs = base.replace('web =', 'scree = "^2.0.0"\nweb =');
    const both = merged(ours, theirs);
    expect(both).toContain('tarn = "^1.0.0"');
    expect(both).toContain('scree = "^2.0.0"');
    expect(both).toBe(merged(theirs, ours));
  });

  test('one removes, the other changes something else', () => {
    const both = merged(
      base.replace('log = "^1.0.0"\n', ''),
      base.replace('web = "^1', 'web = "^2'),
    );
    expect(both).not.toContain('log =');
    expect(both).toContain('web = "^2.0.0"');
  });

  test('both change one requirement differently: a conflict with both values', () => {
    const merge = mergeManifest('a/ledger.project.toml', {
      base,
      ours: base.replace('log = "^1.0.0"', 'log = "^2.0.0"'),
      theirs: base.replace('log = "^1.0.0"\n', ''),
    });
    expect(merge).toEqual({
      kind: 'conflicts',
      conflicts: [
        {
          file: 'a/ledger.project.toml',
          path: ['needs', 'log'],
          base: '"^1.0.0"',
          ours: '"^2.0.0"',
          theirs: null,
        },
      ],
    });
  });

  test.each([
    ['ours', /log = "\^2\.0\.0"\nweb = "\^3/],
    ['theirs', /# the log\nweb = "\^3/],
    ['base', /log = "\^1\.0\.0"\nweb = "\^3/],
  ] as const)(
    'what is decided for %s comes out, beside what merges by itself',
    (side, expected) => {
      const texts = {
        base,
        ours: base.replace('log = "^1.0.0"', 'log = "^2.0.0"').replace('web = "^1', 'web = "^3'),
        theirs: base.replace('log = "^1.0.0"\n', ''),
      };
      const asked: (readonly string[])[] = [];
      const merge = mergeManifest('a/ledger.project.toml', texts, ({ path }) => {
        asked.push(path);
        return side;
      });
      expect(asked).toEqual([['needs', 'log']]);
      expect(merge).toEqual({
        kind: 'merged',
        text: expect.stringMatching(expected) as string,
      });
    },
  );

  test('a file that one side removed can be decided as a whole', () => {
    const texts = { base, ours: undefined, theirs: `${base}x = 1\n` };
    expect(mergeManifest('f', texts, () => 'ours')).toEqual({ kind: 'merged', text: undefined });
    expect(mergeManifest('f', texts, () => 'theirs')).toEqual({
      kind: 'merged',
      text: texts.theirs,
    });
  });

  test('both make the same change in another spelling: none', () => {
    const both = merged(base.replace('"^1.0.0"', '"^2.0.0"'), base.replace('"^1.0.0"', "'^2.0.0'"));
    expect(both).toMatch(/log = ["']\^2\.0\.0["']/);
  });

  test('lists are merged text by text, exceptions one by one', () => {
    const shared = (packages: string, exceptions: string): string =>
      `format = 1\n[lockstep.moraine]\nrange = "4.1.0"\npackages = [${packages}]\n${exceptions}`;
    const exception = (project: string): string =>
      `\n[[exceptions]]\nproject = "${project}"\npackage = "log"\nrange = "^1.0.0"\nreason = "r"\nowner = "o"\nuntil = 2027-01-01\n`;
    const from = shared('"a", "b", "c"', exception('one'));
    const both = merged(
      shared('"a", "c", "d"', exception('one') + exception('two')),
      shared('"a", "b", "c", "e"', exception('three')),
      from,
    );
    expect(both).toContain('packages = ["a", "c", "d", "e"]');
    expect(both).not.toContain('project = "one"');
    expect(both).toContain('project = "two"');
    expect(both).toContain('project = "three"');
  });

  test('a file that one side removed and the other changed is a conflict, unchanged it goes', () => {
    const file = 'a/ledger.project.toml';
    expect(mergeManifest(file, { base, ours: undefined, theirs: base })).toEqual({
      kind: 'merged',
      text: undefined,
    });
    expect(mergeManifest(file, { base, ours: undefined, theirs: `${base}x = 1\n` })).toMatchObject({
      kind: 'conflicts',
      conflicts: [{ path: [], ours: null }],
    });
  });

  test('a text that cannot be read is a conflict of the whole file', () => {
    const merge = mergeManifest('f', { base, ours: `${base}= \n`, theirs: `${base}# x\n` });
    expect(merge).toMatchObject({ kind: 'conflicts', conflicts: [{ path: [] }] });
  });
});

test('what is decided brings the comments of the side that is taken', () => {
  const text = (range: string, above: string, beside: string): string =>
    `name = "a"\n[needs]\n# ${above}\nlog = "${range}" # ${beside}\nother = "1" # stays\n`;
  const sides = {
    base: text('^1.0.0', 'base', 'b'),
    ours: text('^2.0.0', 'why two', 'two'),
    theirs: text('^3.0.0', 'why three', 'three'),
  };
  for (const side of ['ours', 'theirs', 'base'] as const) {
    const merge = mergeManifest('a/ledger.project.toml', sides, () => side);
    expect(merge).toEqual({ kind: 'merged', text: sides[side] });
  }
});
