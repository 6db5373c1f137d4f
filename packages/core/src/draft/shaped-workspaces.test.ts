import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Edit } from '../edit/index.js';
import { findAll } from '../findings/index.js';
import { lockSum, printLock } from '../lock/index.js';
import { resolve } from '../resolve/index.js';
import {
  anyAnswerableRichWorld,
  anyRichWorld,
  RICH_PACKAGES,
  richFiles,
  richRecords,
  type RichWorld,
} from '../resolve/rich-world.arbitrary.js';
import { SHAPES_FILE, type WorkspaceFiles } from '../workspace/index.js';
import { draftBase } from './draft-base.js';
import { evaluateDraft } from './evaluate-draft.js';
import { standOfBase } from './stand-of-draft.js';

const TODAY = '2025-01-01';

interface Layout {
  readonly file: string;
  readonly shape: string;
  readonly text: (name: string, needs: RichWorld['projects'][string]) => string;
}

type Needs = RichWorld['projects'][string];

const of = (needs: Needs, isOptional: boolean): Needs =>
  needs.filter((need) => need.isOptional === isOptional);
const quoted = (text: string): string => JSON.stringify(text);

/** Layouts of our own making, one in each syntax that has items. */
const LAYOUTS: Readonly<Record<string, Layout>> = {
  json: {
    file: 'app.json',
    shape: `syntax = "json"
name = "$.app.id"
version = "$.app.at"
[[manifest.requirements]]
at = "$.libraries[*]"
package = "$.id"
range = "$.wanted"
when = "$.only"
[[manifest.requirements]]
at = "$.extras[*]"
package = "$.id"
range = "$.wanted"
when = "$.only"
kind = "optional"
[manifest.spelling]
shared = "@agreed"
workspace = "here"
`,
    text: (name, needs) => {
      const item = ({ name: id, range, when }: Needs[number]): object => ({
        id,
        wanted: range,
        ...(when.length === 0 ? {} : { only: when }),
      });
      const file = {
        app: { id: name, at: '1.0.0' },
        libraries: of(needs, false).map(item),
        extras: of(needs, true).map(item),
      };
      return `${JSON.stringify(file, null, 2)}\n`;
    },
  },
  yaml: {
    file: 'build/app.yaml',
    shape: `syntax = "yaml"
folder = 1
name = "$.name"
version = "$.version"
[[manifest.requirements]]
at = "$.libraries"
range = "$.wanted"
when = "$.only"
[[manifest.requirements]]
at = "$.extras"
range = "$.wanted"
when = "$.only"
kind = "optional"
[manifest.spelling]
shared = "agreed:{name}"
workspace = "here"
`,
    text: (name, needs) => {
      const entry = ({ name: id, range, when }: Needs[number]): string =>
        when.length === 0
          ? `  ${quoted(id)}: ${quoted(range)}\n`
          : `  ${quoted(id)}:\n    wanted: ${quoted(range)}\n    only: [${when.map(quoted).join(', ')}]\n`;
      const table = (list: Needs): string =>
        list.length === 0 ? ' {}\n' : `\n${list.map(entry).join('')}`;
      return `name: ${name}\nversion: 1.0.0\nlibraries:${table(of(needs, false))}extras:${table(of(needs, true))}`;
    },
  },
  xml: {
    file: 'app.xml',
    shape: `syntax = "xml"
name = "$.app[0]['@id']"
version = "$.app[0]['@at']"
[[manifest.requirements]]
at = "$.app[0].lib[*]"
package = "$['@id']"
range = "$.wanted[0]['#text']"
when = "$.only[*]['#text']"
[[manifest.requirements]]
at = "$.app[0].extra[*]"
package = "$['@id']"
range = "$.wanted[0]['#text']"
when = "$.only[*]['#text']"
kind = "optional"
[manifest.spelling]
shared = "agreed"
workspace = "here"
`,
    text: (name, needs) => {
      const escaped = (text: string): string =>
        text.replaceAll('<', '&lt;').replaceAll('>', '&gt;');
      const item = ({ name: id, range, when, isOptional }: Needs[number]): string => {
        const tag = isOptional ? 'extra' : 'lib';
        const only = when.map((one) => `<only>${one}</only>`).join('');
        return `  <${tag} id="${id}"><wanted>${escaped(range)}</wanted>${only}</${tag}>\n`;
      };
      return `<app id="${name}" at="1.0.0">\n${needs.map(item).join('')}</app>\n`;
    },
  },
};

/** A world with its projects in foreign files. */
function shapedFiles(world: RichWorld, { file, shape, text }: Layout): WorkspaceFiles {
  const root = richFiles({ ...world, projects: {} }).get('ledger.toml')!;
  const manifests = Object.entries(world.projects).map(
    ([name, needs]) => [`${name}/${file}`, text(name, needs)] as const,
  );
  return new Map([
    ['ledger.toml', root.replace('projects = ["*"]', 'projects = []')],
    [SHAPES_FILE, `format = 1\n[[manifest]]\nfiles = ["*/${file}"]\n${shape}`],
    ...manifests,
  ]);
}

/** What has no answer must be told alike, too. */
const anyShapedWorld = fc.oneof(anyRichWorld, anyAnswerableRichWorld);

/** Expects of each layout what comes of the same world in our own files. */
function expectAlikeInEveryLayout(
  world: RichWorld,
  outcomeOf: (files: WorkspaceFiles) => unknown,
  isToBeCompared: (outcome: unknown) => boolean = () => true,
): void {
  const own = outcomeOf(richFiles(world));
  for (const [name, layout] of Object.entries(LAYOUTS)) {
    const shaped = outcomeOf(shapedFiles(world, layout));
    if (isToBeCompared(shaped)) expect(shaped, name).toEqual(own);
  }
}

describe('a workspace in foreign files', () => {
  test('has the lockfile and the findings of the same workspace in our own files', () => {
    fc.assert(
      fc.property(anyShapedWorld, (world) => {
        const records = richRecords(world);
        expectAlikeInEveryLayout(world, (files) => {
          const base = draftBase(files, records, TODAY);
          expect(base.reading.problems).toEqual([]);
          const outcome = resolve({
            workspace: base.workspace!,
            records,
            asOf: TODAY,
            before: null,
          });
          const findings = findAll(standOfBase(base, { use: null, needless: null })).map(
            ({ id, says, severity }) => ({ id, says, severity }),
          );
          if (outcome.kind !== 'answered') return { kind: outcome.kind, findings };
          // The lockfile holds all that traces are drawn from.
          return { lock: printLock(outcome.resolution), findings };
        });
      }),
    );
  });

  test('comes out of every edit as the same workspace in our own files does', () => {
    fc.assert(
      fc.property(
        anyShapedWorld,
        fc.array(anyEdit, { minLength: 1, maxLength: 4 }),
        (world, edits) => {
          const records = richRecords(world);
          expectAlikeInEveryLayout(
            world,
            (files) => {
              const base = draftBase(files, records, TODAY);
              const outcome = evaluateDraft(base, edits);
              if (outcome.kind === 'answered') return lockSum(printLock(outcome.resolution));
              if (outcome.kind !== 'inapplicable') return outcome.kind;
              return outcome.problems.map((problem) => problem?.code ?? null);
            },
            // The first requirement of a kind has no other whose form it could take.
            (shaped) => !Array.isArray(shaped) || !shaped.includes('EDIT_FILE_UNREADABLE'),
          );
        },
      ),
    );
  });
});

const anyName = fc.constantFrom(...RICH_PACKAGES);
const anyRange = fc.constantFrom('^1.0.0', '^2.0.0', '1.0.0', '*', '>=1.1.0');
const anyFolders = fc.subarray(['north', 'south'], { minLength: 1 });

const anyEdit: fc.Arbitrary<Edit> = fc.oneof(
  fc.record({
    kind: fc.constant('set-range' as const),
    package: anyName,
    range: anyRange,
    projects: anyFolders,
  }),
  fc.record({
    kind: fc.constant('add-requirement' as const),
    package: anyName,
    range: anyRange,
    as: fc.constantFrom('runtime' as const, 'optional' as const),
    projects: anyFolders,
  }),
  fc.record({
    kind: fc.constant('remove-requirement' as const),
    package: anyName,
    projects: anyFolders,
  }),
  fc.record({ kind: fc.constant('set-shared' as const), package: anyName, range: anyRange }),
  fc.record({
    kind: fc.constant('level' as const),
    package: anyName,
    range: anyRange,
    projects: anyFolders,
  }),
  fc.record({ kind: fc.constant('take-shared' as const), package: anyName, projects: anyFolders }),
  fc.record({ kind: fc.constant('retire-shared' as const), package: anyName }),
  fc.record({
    kind: fc.constant('make-set' as const),
    set: fc.constant('grid'),
    range: anyRange,
    packages: fc.subarray([...RICH_PACKAGES], { minLength: 1 }),
  }),
  fc.record({
    kind: fc.constant('upgrade' as const),
    moves: fc.tuple(
      fc.record({
        package: anyName,
        from: fc.constant('1.0.0'),
        to: fc.constantFrom('1.1.0', '2.0.0'),
      }),
    ),
  }),
  fc.record({
    kind: fc.constant('pin' as const),
    package: anyName,
    version: fc.constantFrom('1.0.0', '2.0.0'),
    except: anyFolders,
  }),
);
