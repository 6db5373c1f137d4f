import * as fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { readWorkspace } from '../workspace/index.js';
import { EditMaker } from './edit-maker.js';
import { makeEdits } from './evaluate-draft.js';

const FOLDERS = ['apps/a', 'apps/b', 'apps/c'];
const FILES = new Map([
  ['ledger.toml', 'format = 1\nname = "w"\nregistry = "main"\nprojects = ["apps/*"]\n'],
  ['ledger.shared.toml', 'format = 1\n[shared]\nlog = "^1.0.0"\n'],
  ...FOLDERS.map(
    (folder) =>
      [
        `${folder}/ledger.project.toml`,
        `name = "${folder.slice(5)}"\n[needs]\nlog = "2"\n`,
      ] as const,
  ),
]);
const reading = readWorkspace(FILES);
const base = { files: FILES, reading };

const anyEdit: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({
    kind: fc.constant('set-range' as const),
    package: fc.constantFrom('log', 'rope'),
    projects: fc.subarray(FOLDERS, { minLength: 1 }),
    range: fc.constantFrom('1', '^2.0.0', '%'),
  }),
  fc.record({
    kind: fc.constant('add-requirement' as const),
    package: fc.constantFrom('rope', 'bench'),
    projects: fc.subarray(FOLDERS, { minLength: 1 }),
    as: fc.constant('dev' as const),
    range: fc.constantFrom('^3.0.0', '%'),
  }),
);

test('edits that are made step by step, again and again, are those that are made at once', () => {
  const steps = fc.array(fc.array(anyEdit, { minLength: 1, maxLength: 2 }), {
    minLength: 1,
    maxLength: 80,
  });
  // Which of the steps are taken, one choice after another, as who leaves out one by one does.
  const choices = fc.array(fc.array(fc.integer({ min: 0, max: 79 }), { maxLength: 3 }), {
    minLength: 1,
    maxLength: 5,
  });
  fc.assert(
    fc.property(steps, choices, (all, leftOut) => {
      const maker = new EditMaker(base, reading.workspace!);
      for (const out of leftOut) {
        const chosen = all.filter((_, i) => !out.includes(i));
        const made = maker.make(chosen);
        let [files, problems] = [FILES as ReadonlyMap<string, string>, [] as unknown[]];
        for (const step of chosen) {
          const one = makeEdits({ files, reading: readWorkspace(files) }, reading.workspace!, step);
          [files, problems] = [one.files, [...problems, ...one.problems]];
        }
        expect([...made.files]).toEqual([...files]);
        expect(made.problems).toEqual(problems);
        expect(made.reading.workspace).toEqual(readWorkspace(files).workspace);
      }
    }),
  );
});
