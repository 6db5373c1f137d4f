import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { checkLock, printLock } from '../lock/index.js';
import { copyKey, resolve, type Resolution } from '../resolve/index.js';
import {
  anyAnswerableRichWorld,
  richFiles,
  richRecords,
  type RichWorld,
} from '../resolve/rich-world.arbitrary.js';
import { recordsOf, rootWith, tomlKey, workspaceOf } from '../resolve/world.arbitrary.js';
import {
  LOCK_FILE,
  PROJECT_FILE,
  readWorkspace,
  ROOT_FILE,
  type Workspace,
} from '../workspace/index.js';
import { findCulprits, mostTrials } from './find-culprits.js';
import { LockMix } from './lock-mix.js';

const asOf = '2025-01-01';

/** Two lockfiles of one workspace: the later one has releases that the earlier had not, and other requirements. */
interface TwoLocks {
  readonly before: Resolution;
  readonly after: Resolution;
  readonly workspace: Workspace;
  readonly policy: RichWorld['policy'];
}

function locked(world: RichWorld): Resolution | null {
  const workspace = workspaceOf(richFiles(world));
  const outcome = resolve({ workspace, records: richRecords(world), asOf, before: null });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

/** Without the last release of each package that has several. */
function earlier({ registry }: RichWorld): RichWorld['registry'] {
  return Object.fromEntries(
    Object.entries(registry).map(([name, releases]) => {
      const all = Object.entries(releases).sort(([a], [b]) => (a < b ? -1 : 1));
      return [name, Object.fromEntries(all.length > 1 ? all.slice(0, -1) : all)];
    }),
  );
}

const anyTwoLocks = fc
  .record({
    world: anyAnswerableRichWorld,
    others: fc.oneof(
      fc.constant(null),
      anyAnswerableRichWorld.map(({ projects }) => projects),
    ),
  })
  .map(({ world, others }): TwoLocks | null => {
    const after = locked(world);
    if (after === null) return null;
    const projects = others ?? world.projects;
    const before = locked({ ...world, registry: earlier(world), projects });
    if (before === null) return null;
    return { before, after, workspace: workspaceOf(richFiles(world)), policy: world.policy };
  })
  .filter((two) => two !== null);

/** Manifests that require what a lockfile answers. */
function filesFor({ projects }: Resolution, policy: RichWorld['policy']): Map<string, string> {
  const files = new Map([[ROOT_FILE, rootWith(policy)]]);
  for (const { folder, name, version, requirements } of projects) {
    const lines = (isOptional: boolean): string =>
      requirements
        .filter(({ kind }) => (kind === 'optional') === isOptional)
        .map((one) => {
          const when = one.when.map((pattern) => JSON.stringify(pattern)).join(', ');
          return `${tomlKey(one.name)} = { range = "${one.written}", when = [${when}] }\n`;
        })
        .join('');
    const head = `name = "${name}"\n${version === null ? '' : `version = "${version}"\n`}`;
    files.set(
      `${folder}/${PROJECT_FILE}`,
      `${head}[needs]\n${lines(false)}[needs.optional]\n${lines(true)}`,
    );
  }
  return files;
}

function namesOf({ copies }: Resolution): readonly string[] {
  return copies.map(copyKey);
}

/** Every part of the differences; of more than four, those that are drawn, and each difference alone. */
function partsOf(count: number, drawn: readonly number[]): readonly (readonly number[])[] {
  const all = [...Array(count).keys()];
  const chosenBy = (bits: number): readonly number[] => all.filter((one) => (bits >> one) & 1);
  if (count <= 4) return [...Array(2 ** count).keys()].map(chosenBy);
  return [[], all, ...all.map((one) => [one]), ...drawn.map(chosenBy)];
}

const anyParts = fc.array(fc.nat(), { maxLength: 8 });
/** Of the differences one, two or three; some of them together. */
const anyPlantings = fc.array(fc.array(fc.nat(), { minLength: 1, maxLength: 3 }), {
  minLength: 3,
  maxLength: 3,
});

/** Of how many parts of the differences the mixture was looked at, and how many of those it has. */
function expectMixtures(
  mix: LockMix,
  { before, after, policy }: TwoLocks,
  drawn: readonly number[],
): { readonly parts: number; readonly stands: number } {
  const all = mix.with(mix.differences.keys())!;
  expect(printLock(all.resolution)).toBe(printLock(after));
  const none = mix.with([])!;
  expect(none.has.size).toBe(0);
  const folders = new Set(after.projects.map(({ folder }) => folder));
  if (before.projects.every(({ folder }) => folders.has(folder)))
    expect(namesOf(none.resolution)).toEqual(namesOf(before));
  const nothing = printLock(none.resolution);
  const known = new Set([...namesOf(before), ...namesOf(after)]);
  const parts = partsOf(mix.differences.length, drawn);
  let stands = 0;
  for (const part of parts) {
    const mixed = mix.with(part);
    if (mixed === null) continue;
    stands++;
    const { resolution, has } = mixed;
    expect(has.size === 0).toBe(printLock(resolution) === nothing);
    expect(namesOf(resolution).filter((name) => !known.has(name))).toEqual([]);
    const files = filesFor(resolution, policy);
    files.set(LOCK_FILE, printLock(resolution));
    const state = checkLock(readWorkspace(files).workspace!, files);
    expect(state.reasons.map(({ message }) => message)).toEqual([]);
    // What came along is part of it: choosing it says nothing new.
    expect(printLock(mix.with(has)!.resolution)).toBe(printLock(resolution));
  }
  return { parts: parts.length, stands };
}

/** Looks for some differences that make it fail; null where they cannot. `alone`: nothing comes along with them. */
async function expectFound(
  mix: LockMix,
  picks: readonly number[],
): Promise<'alone' | 'with others' | null> {
  const { differences } = mix;
  if (differences.length === 0) return null;
  const planted = new Set(picks.map((pick) => pick % differences.length));
  const least = mix.with(planted);
  // Some have no effect but together with others.
  if (least === null || ![...planted].every((one) => least.has.has(one))) return null;
  let trials = 0;
  const found = await findCulprits({
    count: differences.length,
    closed: (chosen) => {
      const mixed = mix.with(chosen);
      return mixed === null ? null : [...mixed.has].sort((a, b) => a - b);
    },
    trial: (closed) => {
      trials++;
      const isThere = [...planted].every((one) => closed.includes(one));
      return Promise.resolve(isThere ? 'fails' : 'works');
    },
  });
  // What cannot be had without something else cannot be told from it.
  expect(found).toEqual(expect.arrayContaining([...planted]));
  expect(found.length).toBeLessThanOrEqual(least.has.size);
  const size = found.length;
  const last = (size * (size + 1)) / 2;
  expect(trials).toBeLessThanOrEqual(mostTrials(differences.length, size) + last);
  return least.has.size === planted.size ? 'alone' : 'with others';
}

describe('a mixture of two lockfiles', () => {
  test('of nothing is the earlier, of all the later one; of any part it is the consistent lockfile of manifests, and has copies of the two alone; one, two or three changes that are planted are found: exactly these, within the bound', async () => {
    let [parts, stands] = [0, 0];
    const found = { alone: 0, 'with others': 0 };
    await fc.assert(
      fc.asyncProperty(anyTwoLocks, anyParts, anyPlantings, async (two, drawn, plantings) => {
        const mix = new LockMix(two.before, two.after, two.workspace);
        const seen = expectMixtures(mix, two, drawn);
        parts += seen.parts;
        stands += seen.stands;
        for (const picks of plantings) {
          const how = await expectFound(mix, picks);
          if (how !== null) found[how]++;
        }
      }),
    );
    expect(stands / parts).toBeGreaterThan(0.9);
    expect(found.alone).toBeGreaterThan(found['with others']);
  });

  test('brings along what is wanted by what comes, and lets what stays keep what it has', () => {
    const packages = {
      log: { '1.0.0': { needs: { json: '^1.0.0' } }, '2.0.0': { needs: { json: '^2.0.0' } } },
      json: { '1.0.0': {}, '2.0.0': {} },
    };
    const lockOf = (log: string, json: string) => {
      const files = new Map([
        [ROOT_FILE, rootWith({ copies: 'any', peers: 'report', ofPackage: {} })],
        [`web/${PROJECT_FILE}`, `name = "web"\n[needs]\nlog = "${log}"\njson = "${json}"\n`],
      ]);
      const workspace = workspaceOf(files);
      const outcome = resolve({ workspace, records: recordsOf(packages), asOf, before: null });
      if (outcome.kind !== 'answered') throw new Error('no answer');
      return { workspace, resolution: outcome.resolution };
    };
    const [before, after] = [lockOf('^1.0.0', '^1.0.0'), lockOf('^2.0.0', '^2.0.0')];
    const mix = new LockMix(before.resolution, after.resolution, after.workspace);
    expect(mix.differences).toEqual([
      { name: 'json', from: '1.0.0', to: '2.0.0' },
      { name: 'log', from: '1.0.0', to: '2.0.0' },
    ]);
    const json = mix.with([0])!;
    expect([...json.has]).toEqual([0]);
    expect(namesOf(json.resolution)).toEqual(['json 1.0.0', 'json 2.0.0', 'log 1.0.0']);
    const log = mix.with([1])!;
    expect([...log.has].sort()).toEqual([0, 1]);
    expect(namesOf(log.resolution)).toEqual(['json 2.0.0', 'log 2.0.0']);
  });
});
