import { Command } from 'cmdk';
import { Fragment, useEffect, useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { WorkspaceState } from '../api/client';
import { useFindings } from '../findings/useFindings';
import { Dialog } from '../parts/Dialog';
import { count } from '../parts/words';
import { useNames } from '../alignment/useNames';
import {
  findByName,
  findByWords,
  type Findable,
  type FoundList,
  type Mark,
} from '../parts/find-by-name';
import { useRefresh } from './useWorkspace';
import { useWindowKey } from './useWindowKey';

interface Props {
  readonly slug: string;
  readonly state: WorkspaceState | undefined;
}

/** Of each kind. */
const MOST_SHOWN = 6;

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-3 px-2 py-1.5 data-[selected=true]:bg-agreed-wash';
const GROUP =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:font-serif [&_[cmdk-group-heading]]:text-ink-2 [&_[cmdk-group-heading]]:italic';

/** Ctrl+K: straight to a package, a project, a page, an action or a finding. */
export function Search({ slug, state }: Props) {
  const [isOpen, setOpen] = useState(false);
  useWindowKey((event) => {
    if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    setOpen(true);
  });
  return (
    <Dialog
      open={isOpen}
      onClose={() => setOpen(false)}
      title="Go to"
      about="A package, a project, a page, an action or a finding."
    >
      <SearchList slug={slug} state={state} onDone={() => setOpen(false)} />
    </Dialog>
  );
}

/** Something to go to. */
interface Goal extends Findable {
  readonly key: string;
  /** What stands beside the name. */
  readonly more: string;
  readonly isOff?: boolean;
  readonly take: () => void;
}

function SearchList({ slug, state, onDone }: Props & { readonly onDone: () => void }) {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const [text, setText] = useState('');
  // What the arrow keys stand on; cmdk tells it a moment after the list has changed.
  const [chosen, setChosen] = useState('');
  // Enter was pressed before the names were there: people type that fast.
  const isEntered = useRef(false);
  const names = useNames(slug, state?.head.commit);
  const findings = useFindings(slug, state?.head.commit);
  const refresh = useRefresh(slug);
  const go = (page: string, more: Readonly<Record<string, string>> = {}): void => {
    const draft = params.get('draft');
    const query = new URLSearchParams({ ...(draft === null ? {} : { draft }), ...more });
    onDone();
    void navigate(`/w/${slug}/${page}?${query.toString()}`);
  };
  // A slash in the text means that folders are looked for.
  const isPath = text.includes('/');
  const packages = (names.data?.packages ?? []).map(({ name, summary, off }): Goal => ({
    key: name,
    name,
    more: off > 0 ? `${count(off, 'project')} out of line` : summary,
    isOff: off > 0,
    take: () => go('alignment', { open: name, scope: 'all', q: name }),
  }));
  const projects = (names.data?.projects ?? []).map(({ folder, name }): Goal => ({
    key: folder,
    name: isPath ? folder : name,
    more: isPath ? name : folder,
    take: () => go(`projects/${folder}`),
  }));
  const pages = PAGES.map((page): Goal => ({
    key: page,
    name: TITLES[page],
    more: '',
    take: () => go(page),
  }));
  const actions: readonly Goal[] = [
    {
      key: 'read',
      name: 'Read repository and registry now',
      more: '',
      take: () => {
        refresh.mutate();
        onDone();
      },
    },
    {
      key: 'clear',
      name: 'Clear everything',
      more: '',
      take: () => go('findings', { clear: 'yes' }),
    },
    {
      key: 'out',
      name: 'Show what is out of line',
      more: '',
      take: () => go('alignment', { show: 'out' }),
    },
  ];
  const found = (findings.data?.findings ?? []).map(({ id, says }): Goal => ({
    key: id,
    name: says,
    more: '',
    take: () => go('findings', { finding: id }),
  }));
  // Names first, the kind with the better match before the other; with nothing typed, where one can go at all.
  const isAsked = text.trim() !== '';
  const lists: readonly (readonly [heading: string, list: FoundList<Goal>])[] = isAsked
    ? [
        ...[
          ['packages', findByName(packages, text, MOST_SHOWN)] as const,
          ['projects', findByName(projects, text, MOST_SHOWN)] as const,
        ].sort(([, a], [, b]) => (a.rank === b.rank ? 0 : a.rank - b.rank)),
        ['pages', findByWords(pages, text, MOST_SHOWN)],
        ['actions', findByWords(actions, text, MOST_SHOWN)],
        ['findings', findByWords(found, text, MOST_SHOWN)],
      ]
    : [
        ['pages', allOf(pages)],
        ['actions', allOf(actions)],
      ];
  const goals = lists.flatMap(([heading, { shown }]) =>
    shown.map(({ item }) => ({ value: valueOf(heading, item), take: item.take })),
  );
  const takeChosen = (): void => {
    if (names.isPending) isEntered.current = true;
    else (goals.find(({ value }) => value === chosen) ?? goals[0])?.take();
  };
  useEffect(() => {
    if (!isEntered.current || names.isPending) return;
    isEntered.current = false;
    goals[0]?.take();
  });
  return (
    <Command
      loop
      label="Go to"
      shouldFilter={false}
      value={chosen}
      onValueChange={setChosen}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || event.nativeEvent.isComposing) return;
        event.preventDefault();
        takeChosen();
      }}
    >
      <Command.Input
        autoFocus
        placeholder="Type a name"
        value={text}
        onValueChange={(typed) => {
          setText(typed);
          setChosen('');
          isEntered.current = false;
        }}
        className="w-full rounded-sm border border-rule-strong bg-leaf px-2 py-1.5"
      />
      <Command.List className="mt-2 max-h-[46vh] overflow-auto bg-leaf">
        <Command.Empty className="px-2 py-4 text-ink-2">
          {names.isPending || findings.isPending
            ? 'Reading what there is.'
            : `No package, project, page or finding has “${text.trim()}” in its name.`}
        </Command.Empty>
        {lists.map(([heading, { shown, total }]) =>
          shown.length === 0 ? null : (
            <Command.Group
              key={heading}
              heading={total > shown.length ? `${heading}: ${shown.length} of ${total}` : heading}
              className={GROUP}
            >
              {shown.map(({ item, marks }) => (
                <Command.Item
                  key={item.key}
                  value={valueOf(heading, item)}
                  onSelect={item.take}
                  className={ITEM}
                >
                  <span className={heading === 'findings' ? '' : 'font-semibold'}>
                    <Marked text={item.name} marks={marks} />
                  </span>
                  <span
                    className={`shrink-0 text-sm ${item.isOff === true ? 'text-off' : 'text-ink-2'}`}
                  >
                    {item.more}
                  </span>
                </Command.Item>
              ))}
            </Command.Group>
          ),
        )}
      </Command.List>
    </Command>
  );
}

function valueOf(heading: string, { key }: Goal): string {
  return `${heading} ${key}`;
}

function allOf<T extends Findable>(items: readonly T[]): FoundList<T> {
  const shown = items.map((item) => ({ item, marks: [] }));
  return { shown, total: items.length, rank: 0 };
}

/** A name with the letters that matched underlined. */
function Marked({ text, marks }: { readonly text: string; readonly marks: readonly Mark[] }) {
  const ends = marks.map(([, to]) => to);
  return (
    <>
      {marks.map(([from, to], i) => (
        <Fragment key={from}>
          {text.slice(ends[i - 1] ?? 0, from)}
          <mark className="bg-transparent text-inherit underline decoration-agreed decoration-2 underline-offset-2">
            {text.slice(from, to)}
          </mark>
        </Fragment>
      ))}
      {text.slice(ends.at(-1) ?? 0)}
    </>
  );
}

const PAGES = [
  'overview',
  'alignment',
  'trace',
  'trace/weights',
  'findings',
  'projects',
  'shared',
  'centralise',
  'upgrades',
  'registry',
  'diff',
  'lockfile',
  'drift',
  'machines',
  'archives',
  'merge',
  'team',
  'journal',
] as const;

const TITLES: Readonly<Record<(typeof PAGES)[number], string>> = {
  overview: 'Overview',
  alignment: 'Alignment',
  trace: 'Trace',
  'trace/weights': 'What leaves with each requirement',
  findings: 'Findings',
  projects: 'Projects',
  shared: 'Shared versions',
  centralise: 'Centralise',
  upgrades: 'Upgrades',
  registry: 'Registry',
  diff: 'Drafts',
  lockfile: 'Lockfile',
  drift: 'Drift',
  machines: 'Machines',
  archives: 'Archives',
  merge: 'Merge branches',
  team: 'Team',
  journal: 'Journal',
};
