import {
  Chains,
  checkLock,
  draftBase,
  distancesFrom,
  Engine,
  KeptTrials,
  offersUpTo,
  findAll,
  retainedSizes,
  LOCK_FILE,
  mergeWorkspaces,
  needGraph,
  needlessCopies,
  printLock,
  readLock,
  readPackageRecord,
  readWorkspace,
  resolve,
  ROOT_FILE,
  reverseLinks,
  standOfBase,
  strongComponents,
  traceOf,
  upgradeBatch,
  upgradeRows,
  UpgradeTrials,
  type DraftBase,
  type PackageRecord,
  type PackageRecords,
  type Resolution,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { generatedWorld, type WorldSize } from './generated-world.js';

const asOf = '2026-11-01';
/** Upgrades that are tried as one. */
const BATCH = 300;

export interface Row {
  readonly work: string;
  readonly run: () => unknown;
  readonly floor: string;
  readonly floorRun: () => unknown;
  readonly atMost: number | null;
  /** Takes minutes at L, so it is measured once, and only when asked for. */
  readonly isLong?: true;
}

/** A world with everything that the rows begin with. */
export interface Prepared {
  readonly documents: ReadonlyMap<string, string>;
  readonly files: WorkspaceFiles;
  readonly records: PackageRecords;
  readonly workspace: Workspace;
  readonly resolution: Resolution;
  readonly projects: number;
  readonly copies: number;
  readonly releases: number;
}

export function prepare(size: WorldSize, seed: number): Prepared {
  const { documents, files } = generatedWorld(size, seed);
  const records = new Map(
    [...documents.values()].map((text) => recordOf(text)).map((one) => [one.name, one]),
  );
  const { workspace } = readWorkspace(files);
  const resolution = answered(workspace!, records, null);
  return {
    documents,
    files: new Map(files).set(LOCK_FILE, printLock(resolution)),
    records,
    workspace: workspace!,
    resolution,
    projects: resolution.projects.length,
    copies: resolution.copies.length,
    releases: [...records.values()].reduce((sum, one) => sum + one.releases.length, 0),
  };
}

export function linksOfWorld({ resolution: { projects, copies } }: Prepared): number {
  return [...projects, ...copies].reduce((sum, one) => sum + one.requirements.length, 0);
}

function recordOf(text: string): PackageRecord {
  const reading = readPackageRecord(JSON.parse(text));
  if (!reading.ok) throw new Error(reading.problem.message);
  return reading.record;
}

function answered(
  workspace: Workspace,
  records: PackageRecords,
  before: Resolution | null,
): Resolution {
  const outcome = resolve({ workspace, records, asOf, before });
  if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  return outcome.resolution;
}

export function rowsFor(world: Prepared): readonly Row[] {
  const { documents, records, workspace, resolution, files } = world;
  const texts = [...documents.values()];
  const parseDocuments = {
    floor: 'JSON.parse of the documents',
    floorRun: () => texts.map((text) => JSON.parse(text) as unknown),
  };
  const resolveFresh = {
    floor: 'resolving from nothing',
    floorRun: () => resolve({ workspace, records, asOf, before: null }),
  };
  const json = JSON.stringify(resolution);
  const parseSame = {
    floor: 'JSON.parse of the same',
    floorRun: () => JSON.parse(json) as unknown,
  };
  const lock = files.get(LOCK_FILE)!;
  const reading = readLock(lock);
  const graph = needGraph(resolution);
  const projects = Array.from({ length: graph.projectCount }, (_, i) => i);
  const walk = {
    floor: 'one breadth-first walk',
    floorRun: () => distancesFrom(graph, projects),
  };
  const links = { starts: graph.starts, targets: graph.targets };
  const bytes = resolution.copies.map(
    ({ name, version }) =>
      records.get(name)!.releases.find(({ text }) => text === version)!.archive.bytes,
  );
  const end = mostRequired(graph.owners.starts, graph.projectCount);
  const counted = new Chains(graph);
  const merge = mergeInput(world);
  const base = draftBase(files, records, asOf);
  base.unmetPeers();
  return [
    {
      work: 'resolve from nothing',
      run: () => resolve({ workspace, records, asOf, before: null }),
      ...parseDocuments,
      atMost: 5,
    },
    {
      work: 'read the documents and resolve',
      run: () => {
        const read = new Map(texts.map(recordOf).map((one) => [one.name, one]));
        return resolve({ workspace, records: read, asOf, before: null });
      },
      ...parseDocuments,
      atMost: null,
    },
    {
      work: 'resolve with the lockfile before',
      run: () => resolve({ workspace, records, asOf, before: resolution }),
      ...resolveFresh,
      atMost: null,
    },
    {
      work: 'answer one edited requirement, warm',
      run: editing(world),
      ...resolveFresh,
      atMost: 0.05,
    },
    { work: 'parse the lockfile', run: () => readLock(lock), ...parseSame, atMost: 2 },
    {
      work: 'print the lockfile',
      run: () => printLock(resolution),
      floor: 'JSON.stringify of the same',
      floorRun: () => JSON.stringify(resolution),
      atMost: 2,
    },
    {
      work: 'check the lockfile, both read',
      run: () => checkLock(workspace, files, reading),
      ...parseSame,
      atMost: 0.2,
    },
    { work: 'number the nodes by name', run: () => needGraph(resolution), ...walk, atMost: null },
    {
      work: 'build the graph and all weights',
      run: () => {
        const built = { ...graph, owners: reverseLinks(links), cycles: strongComponents(links) };
        return retainedSizes(built, bytes);
      },
      ...walk,
      atMost: 10,
    },
    {
      work: 'first 100 chains',
      run: () => {
        const chains = counted.to(end);
        for (let i = 0; i < 100; i++) if (chains.next().done === true) break;
      },
      floor: '5 ms',
      floorRun: () => spin(5),
      atMost: 1,
    },
    {
      work: 'exact number of chains, of all nodes',
      run: () => new Chains(graph, projects).count(end),
      ...walk,
      atMost: 2,
    },
    {
      work: 'all findings, without the scan of source',
      run: () => findAll(standOfBase(base, { use: null, needless: null })),
      ...resolveFresh,
      atMost: 1,
    },
    {
      work: 'peers that are not met, which findings ask of one resolution',
      run: () => draftBase(files, records, asOf, base.reading).unmetPeers(),
      ...resolveFresh,
      atMost: null,
    },
    {
      work: 'a trace of the copy that most require, and its first 50 chains',
      run: () => {
        traceOf(graph, { direction: 'up', ends: [end], most: 18 });
        const chains = counted.to(end);
        for (let i = 0; i < 50; i++) if (chains.next().done === true) break;
      },
      floor: '50 ms',
      floorRun: () => spin(50),
      atMost: 1,
    },
    {
      work: 'merge, 200 requirements changed on each side',
      run: () => {
        const outcome = mergeWorkspaces(merge);
        if (outcome.kind !== 'merged') throw new Error(outcome.kind);
      },
      ...resolveFresh,
      atMost: 2,
    },
    {
      work: 'resolve from nothing under strict peers',
      run: underPolicy(world, 'peers = "strict"', 'answered'),
      ...resolveFresh,
      atMost: 2,
      isLong: true,
    },
    {
      work: 'search for one copy of each major, and tell all causes why there is none',
      run: underPolicy(world, 'copies = "one-per-major"', 'unanswered'),
      ...resolveFresh,
      atMost: null,
      isLong: true,
    },
    {
      work: 'all copies that could go, with the engine kept',
      run: lookingForNeedless(world),
      ...resolveFresh,
      atMost: 20,
      isLong: true,
    },
    // What these keep would make every collection of garbage longer for rows that came after.
    ...upgradeRowsFor(base, resolveFresh),
  ];
}

/** Looks for needless copies with an engine that is made when it is first asked for. */
function lookingForNeedless({ workspace, records, resolution }: Prepared): () => unknown {
  const made = once(() => {
    const engine = new Engine(records);
    engine.resolve({ workspace, asOf, before: resolution });
    return engine;
  });
  return () => needlessCopies(made(), { workspace, asOf }, resolution);
}

/** Upgrades tried by trials that are made when the first of them is asked for. */
function upgradeRowsFor(base: DraftBase, floor: Pick<Row, 'floor' | 'floorRun'>): readonly Row[] {
  const made = once(() => {
    const rows = upgradeRows(base);
    return {
      trials: new UpgradeTrials(base),
      offers: rows.flatMap((row) => row.offers),
      choices: offersUpTo(rows, 'major').slice(0, BATCH),
      alone: new KeptTrials(base),
    };
  });
  let tried = 0;
  return [
    {
      work: `the largest part of up to ${BATCH} upgrades, each tried before`,
      run: () => {
        const { trials, choices, alone } = made();
        for (const [offer] of choices) alone.watched(offer!.moves);
        return upgradeBatch(trials, choices, undefined, (moves) => alone.watched(moves));
      },
      ...floor,
      atMost: 15,
      isLong: true,
    },
    {
      work: 'try an upgrade on the whole workspace',
      run: () => {
        const { trials, offers } = made();
        return trials.try(offers[tried++ % offers.length]!.moves);
      },
      ...floor,
      // 3,000 of them within a minute on two cores, where resolving takes 0.8 s.
      atMost: 0.05,
    },
  ];
}

function once<T extends object>(make: () => T): () => T {
  let made: T | null = null;
  return () => (made ??= make());
}

/** Resolves the world with one more line of policy. */
function underPolicy(
  { files, records }: Prepared,
  line: string,
  end: 'answered' | 'unanswered',
): () => unknown {
  const root = `${files.get(ROOT_FILE)!}\n[policy]\n${line}\n`;
  const { workspace } = readWorkspace(new Map(files).set(ROOT_FILE, root));
  return () => {
    const outcome = resolve({ workspace: workspace!, records, asOf, before: null });
    if (outcome.kind !== end) throw new Error(outcome.kind);
  };
}

function spin(ms: number): void {
  const end = performance.now() + ms;
  while (performance.now() < end);
}

/** The copy with the most owners. */
function mostRequired(starts: Uint32Array, projectCount: number): number {
  let best = projectCount;
  for (let node = projectCount; node + 1 < starts.length; node++) {
    if (starts[node + 1]! - starts[node]! > starts[best + 1]! - starts[best]!) best = node;
  }
  return best;
}

/** Edits one requirement to and fro, each time in another project. */
function editing({ files, workspace, records, resolution }: Prepared): () => unknown {
  const engine = new Engine(records);
  const question = { asOf, before: resolution };
  engine.resolve({ ...question, workspace });
  const reading = readWorkspace(files);
  const paths = [...files.keys()].filter((path) => path.endsWith('ledger.project.toml'));
  const edits = paths.slice(0, 40).map((path) => {
    const text = files.get(path)!;
    const edited = new Map(files).set(path, text.replace(/ = "\^(\d+\.\d+\.\d+)"/, ' = ">=$1"'));
    return readWorkspace(edited, reading).workspace!;
  });
  let next = 0;
  return () => {
    const outcome = engine.resolve({ ...question, workspace: edits[next++ % edits.length]! });
    if (outcome.kind !== 'answered') throw new Error(outcome.kind);
  };
}

function mergeInput({ files, records }: Prepared) {
  const paths = [...files.keys()].filter((path) => path.endsWith('ledger.project.toml'));
  const side = (offset: number): WorkspaceFiles => {
    const changed = new Map(files);
    const chosen = paths.filter((_, i) => i % 2 === offset).slice(0, 200);
    let left = 200;
    for (let round = 0; left > 0 && round < 20; round++) {
      for (const path of chosen) {
        if (left === 0) break;
        const text = changed.get(path)!;
        const edited = text.replace(/ = "\^(\d+\.\d+\.\d+)"/, ' = ">=$1"');
        if (edited !== text) left -= 1;
        changed.set(path, edited);
      }
    }
    return locked(changed, records, files);
  };
  const ours = side(0);
  return { base: files, ours, theirs: side(1), records, asOf, reading: readWorkspace(ours) };
}

function locked(
  files: WorkspaceFiles,
  records: PackageRecords,
  base: WorkspaceFiles,
): WorkspaceFiles {
  const { workspace } = readWorkspace(files);
  const reading = readLock(base.get(LOCK_FILE)!);
  if (reading.kind !== 'read') throw new Error(reading.kind);
  const resolution = answered(workspace!, records, reading.resolution);
  return new Map(files).set(LOCK_FILE, printLock(resolution));
}
