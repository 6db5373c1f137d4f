import {
  formOfProposal,
  onlyRegistry,
  printShapes,
  proposeShapes,
  readWorkspace,
  resolve,
  rootText,
  type PackageRecords,
} from '@deep-ledger/core';
import { buildBare, readTree, type Commit, type Tree } from './git-repository.js';

const FROZEN_FILE = 'frozen.json';
/** The day on which somebody wrote down what was installed. */
const FROZEN_DAY = '2026-06-30';
/** Installed by hand, and not allowed by the range that the engine log has for it. */
const OUT_OF_RANGE = { name: 'lugworm-retry', at: '1.9.0' };

interface Step {
  readonly day: string;
  readonly who: string;
  readonly message: string;
  /** What the paths of its files begin with. */
  readonly starts: readonly string[];
}

const STEPS: readonly Step[] = [
  {
    day: '2025-02-10',
    who: 'deck crew',
    message: 'Roster and engine log',
    starts: ['README.md', 'boats/crew-roster/', 'boats/engine-log/', 'boats/paint.yaml'],
  },
  {
    day: '2025-05-05',
    who: 'purser',
    message: 'Tickets and the till, on agreed versions',
    starts: ['boats/ticket-float/', 'boats/galley-till/', 'agreed.json'],
  },
  {
    day: '2025-09-01',
    who: 'harbour office',
    message: 'Timetable and harbour office',
    starts: ['shore/'],
  },
  {
    day: '2026-02-02',
    who: 'deck crew',
    message: 'Berth board and fog signal',
    starts: ['boats/berth-board/', 'boats/fog-signal/'],
  },
  { day: '2026-05-04', who: 'engine crew', message: 'The tools in one list', starts: ['tools/'] },
  {
    day: FROZEN_DAY,
    who: 'engine crew',
    message: 'What is installed on the boats today',
    starts: [FROZEN_FILE],
  },
];

/** Builds the repository of a team that has files in layouts of its own and none of ours. */
export async function buildWendholm(
  sources: string,
  records: PackageRecords,
  target: string,
): Promise<void> {
  const tree = await readTree(sources);
  tree.set(FROZEN_FILE, frozenOf(tree, records));
  const commits: Commit[] = [];
  for (const { starts, ...signed } of STEPS) {
    const files = [...tree].filter(([path]) => starts.some((start) => path.startsWith(start)));
    const parent = commits.at(-1) ?? null;
    const email = `${signed.who.replaceAll(' ', '.')}@wendholm.example`;
    const after = new Map([...(parent?.tree ?? []), ...files]);
    commits.push({ ...signed, email, branch: 'main', tree: after, parent });
  }
  await buildBare(target, commits);
}

/** One version of each package, as the team's own means had put it together. */
function frozenOf(tree: Tree, records: PackageRecords): string {
  const shapes = printShapes(formOfProposal(proposeShapes(tree)));
  const own = new Map([
    ['ledger.toml', rootText('wendholm', onlyRegistry('main'))],
    ['ledger.shapes.toml', shapes],
  ]);
  const { workspace, problems } = readWorkspace(new Map([...tree, ...own]));
  if (workspace === null || problems.length > 0) throw new Error(JSON.stringify(problems));
  const outcome = resolve({ workspace, records, asOf: FROZEN_DAY, before: null });
  if (outcome.kind !== 'answered') throw new Error(JSON.stringify(outcome));
  const newest = new Map(
    outcome.resolution.copies.map(({ name, version }) => [name, version] as const),
  );
  newest.set(OUT_OF_RANGE.name, OUT_OF_RANGE.at);
  const set = [...newest].sort(([a], [b]) => (a < b ? -1 : 1));
  const lines = set.map(([name, at]) => `    ${JSON.stringify({ name, at })}`);
  return `{\n  "day": "${FROZEN_DAY}",\n  "set": [\n${lines.join(',\n')}\n  ]\n}\n`;
}
