import { expectInProportion } from './growth.arbitrary.js';
import { describe, expect, test } from 'vitest';
import v8 from 'node:v8';
import vm from 'node:vm';
import { checkLock, printLock, readLock } from './lock/index.js';
import { readProjectManifest } from './manifest/index.js';
import { parseToml } from './manifest/toml-document.js';
import { mergeManifest } from './merge/merge-manifest.js';
import type { Copy, Resolution } from './resolve/index.js';
import { ROOT } from './resolve/world.arbitrary.js';
import { parseRange, parseVersion } from './version/index.js';
import { LOCK_FILE, placeProblems, readWorkspace } from './workspace/index.js';

/* What once took time or memory out of proportion. */

const INTEGRITY = `sha256-${'A'.repeat(43)}=`;

function copies(count: number): readonly Copy[] {
  return Array.from({ length: count }, (_, i) => ({
    name: `o${i}`,
    version: '1.0.0',
    registry: 'main',
    archive: `/o${i}`,
    integrity: INTEGRITY,
    targets: ['*'],
    deprecated: null,
    requirements: [],
    peers: [],
  }));
}

test('work that takes the square of its size is found out', () => {
  const meetAll = (size: number) => () => {
    let met = 0;
    for (let one = 0; one < size; one++) for (let other = 0; other < size; other++) met++;
    return met;
  };
  expect(() => expectInProportion(100, meetAll)).toThrow('steps: expected 10');
});

describe('takes steps in proportion:', () => {
  test('checking a lockfile with thousands of reasons', () => {
    const project = { folder: 'a', name: 'a', version: null, requirements: [], supplied: [] };
    expectInProportion(4000, (size) => {
      const resolution: Resolution = { projects: [project], copies: copies(size) };
      const files = new Map([
        ['ledger.toml', ROOT],
        ['a/ledger.project.toml', 'name = "a"\n'],
        [LOCK_FILE, printLock(resolution)],
      ]);
      const { workspace } = readWorkspace(files);
      expect(checkLock(workspace!, files).reasons).toHaveLength(size);
      return () => checkLock(workspace!, files);
    });
  });

  test('placing thousands of problems of one manifest', () => {
    expectInProportion(20_000, (size) => {
      const lines = Array.from({ length: size }, (_, i) => `p${i} = "workspace"\n`);
      const files = new Map([
        ['ledger.toml', ROOT],
        ['a/ledger.project.toml', `name = "a"\n[needs]\n${lines.join('')}`],
      ]);
      return () => placeProblems(files, readWorkspace(files).problems);
    });
  });

  test('merging a manifest of which both sides changed two hundred entries', () => {
    // Of many more the difference of lines takes the greater part, and it costs its square.
    expectInProportion(200, (size) => {
      let times = 0;
      const needs = (range: (i: number) => string): string =>
        `name = "a${times}"\n[needs]\n${Array.from({ length: size }, (_, i) => `p${String(i).padStart(4, '0')} = "${range(i)}"\n`).join('')}`;
      // Other texts each time: what was parsed just before is not parsed again.
      const merge = () => {
        times++;
        const base = needs(() => '^1.0.0');
        const ours = needs((i) => (i % 2 === 0 ? '^2.0.0' : '^1.0.0'));
        const theirs = needs((i) => (i % 2 === 1 ? '^3.0.0' : '^1.0.0'));
        return mergeManifest('a/ledger.project.toml', { base, ours, theirs });
      };
      expect(merge().kind).toBe('merged');
      return merge;
    });
  });

  test.each<readonly [what: string, read: (text: string) => unknown, part: string]>([
    ['a range of many alternatives', (text) => parseRange(text, 'always'), '1.2.3 || '],
    ['a range of blanks', (text) => parseRange(text), ' '],
    ['a version of digits', (text) => parseVersion(text), '1'],
    ['a prerelease of dots', (text) => parseVersion(`1.0.0-${text}`), 'a.'],
    ['a manifest of many lines', readProjectManifest, '[a]\n'],
    ['a manifest of open arrays', readProjectManifest, '['],
  ])('reading %s', (_what, read, part) => {
    expectInProportion(10_000, (size) => {
      const text = part.repeat(size);
      return () => read(text);
    });
  });

  // Each of these made a reader go over the rest again and again for every line or word.
  test.each(['copy a 1.0.0\n', '  "\n', '<<<<<<<\n', '  runtime a "1', ' "a" ', '\\"'])(
    'reading a lockfile of %j',
    (part) => {
      expectInProportion(40_000, (size) => {
        const text = `deep-ledger lockfile\nformat 2\n\n${part.repeat(size)}`;
        return () => readLock(text);
      });
    },
  );
});

describe('is refused by a limit that is told, with the place:', () => {
  const CASES: Readonly<Record<string, readonly [text: () => string, at: number, says: RegExp]>> = {
    'a file of 50 MB': [() => '# x\n'.repeat(13_000_000), 4_000_000, /at most 4000000/],
    'a long string': [() => `a = "${'x'.repeat(130_000)}"`, 4, /string has more than/],
    'values in each other': [() => `a = ${'['.repeat(5000)}`, 104, /nested more than 100 deep/],
  };

  test.each(Object.keys(CASES))('%s', (name) => {
    const [text, at, says] = CASES[name]!;
    const parsed = parseToml(text());
    expect(parsed.ok ? null : parsed.span[0]).toBe(at);
    expect(parsed.ok ? '' : parsed.message).toMatch(says);
  });
});

test('a range that is remembered keeps no lockfile in memory', () => {
  v8.setFlagsFromString('--expose-gc');
  const collect = vm.runInNewContext('gc') as () => void;
  const heap = (): number => {
    collect();
    return process.memoryUsage().heapUsed;
  };
  const before = heap();
  for (let i = 0; i < 20; i++) {
    const filler = `${i}`.padStart(2, '0').repeat(1_000_000);
    const text = `${filler}>=1.0.${i} <1.${i + 1}.0 || >=3.0.0 <4.0.${i}`;
    expect(parseRange(text.slice(filler.length)).ok).toBe(true);
  }
  // Each text has two million characters; remembered ranges once held on to all of them.
  expect(heap() - before).toBeLessThan(10_000_000);
});

test('a lockfile is read whole, however its reasons are told', () => {
  const text = printLock({ projects: [], copies: copies(3) });
  expect(readLock(text)).toMatchObject({ kind: 'read', isCanonical: true });
});
