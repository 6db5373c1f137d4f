import { Command } from 'cmdk';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { WorkspaceState } from '../api/client';
import { useFindings } from '../findings/useFindings';
import { Dialog } from '../parts/Dialog';
import { count } from '../parts/words';
import { useSheet } from '../sheet/useSheet';
import { useRefresh } from './useWorkspace';
import { useWindowKey } from './useWindowKey';

interface Props {
  readonly slug: string;
  readonly state: WorkspaceState | undefined;
}

const MOST_FINDINGS = 500;

const ITEM =
  'flex cursor-pointer items-baseline justify-between gap-3 px-2 py-1.5 data-[selected=true]:bg-agreed-wash';
const GROUP =
  '[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:font-serif [&_[cmdk-group-heading]]:text-ink-2 [&_[cmdk-group-heading]]:italic';

/** Ctrl+K: straight to a package, a page or an action. */
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
      about="A package, a page or an action."
    >
      <SearchList slug={slug} state={state} onDone={() => setOpen(false)} />
    </Dialog>
  );
}

function SearchList({ slug, state, onDone }: Props & { readonly onDone: () => void }) {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const sheet = useSheet(slug, state?.head.commit);
  const findings = useFindings(slug, state?.head.commit);
  const refresh = useRefresh(slug);
  const go = (page: string, more: Readonly<Record<string, string>> = {}): void => {
    const draft = params.get('draft');
    const query = new URLSearchParams({ ...(draft === null ? {} : { draft }), ...more });
    onDone();
    void navigate(`/w/${slug}/${page}?${query.toString()}`);
  };
  return (
    <Command loop label="Go to">
      <Command.Input
        autoFocus
        placeholder="Type a name"
        className="w-full rounded-sm border border-rule-strong bg-leaf px-2 py-1.5"
      />
      <Command.List className="mt-2 max-h-[46vh] overflow-auto bg-leaf">
        <Command.Empty className="px-2 py-4 text-ink-2">Nothing has this name.</Command.Empty>
        <Command.Group heading="packages" className={GROUP}>
          {sheet.data?.rows.map(({ name, summary, off }) => (
            <Command.Item
              key={name}
              value={name}
              keywords={[summary]}
              onSelect={() => go('sheet', { open: name, scope: 'all', q: name })}
              className={ITEM}
            >
              <span className="font-semibold">{name}</span>
              <span className={`text-sm ${off > 0 ? 'text-off' : 'text-ink-2'}`}>
                {off > 0 ? `${count(off, 'project')} out of line` : summary}
              </span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="projects" className={GROUP}>
          {sheet.data?.projects.map(({ folder, name }) => (
            <Command.Item
              key={folder}
              value={`${name} ${folder}`}
              onSelect={() => go(`projects/${folder}`)}
              className={ITEM}
            >
              <span className="font-semibold">{name}</span>
              <span className="text-sm text-ink-2">{folder}</span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="findings" className={GROUP}>
          {findings.data?.findings.slice(0, MOST_FINDINGS).map(({ id, says }) => (
            <Command.Item
              key={id}
              value={says}
              keywords={[id]}
              onSelect={() => go('findings', { finding: id })}
              className={ITEM}
            >
              <span className="truncate">{says}</span>
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="pages" className={GROUP}>
          {PAGES.map((page) => (
            <Command.Item
              key={page}
              value={TITLES[page]}
              onSelect={() => go(page)}
              className={ITEM}
            >
              {TITLES[page]}
            </Command.Item>
          ))}
        </Command.Group>
        <Command.Group heading="actions" className={GROUP}>
          <Command.Item
            value="Read repository and registry now"
            onSelect={() => {
              refresh.mutate();
              onDone();
            }}
            className={ITEM}
          >
            Read repository and registry now
          </Command.Item>
          <Command.Item
            value="Close the books"
            onSelect={() => go('findings', { close: 'yes' })}
            className={ITEM}
          >
            Close the books
          </Command.Item>
          <Command.Item
            value="Show what is out of line"
            onSelect={() => go('sheet', { show: 'out' })}
            className={ITEM}
          >
            Show what is out of line
          </Command.Item>
        </Command.Group>
      </Command.List>
    </Command>
  );
}

const PAGES = [
  'overview',
  'sheet',
  'trace',
  'trace/weights',
  'findings',
  'projects',
  'shared',
  'move-in',
  'diff',
  'lockfile',
  'drift',
  'roll-call',
  'merge',
  'team',
  'journal',
] as const;

const TITLES: Readonly<Record<(typeof PAGES)[number], string>> = {
  overview: 'Overview',
  sheet: 'Sheet',
  trace: 'Trace',
  'trace/weights': 'What leaves with each requirement',
  findings: 'Findings',
  projects: 'Projects',
  shared: 'Shared versions',
  'move-in': 'Move in',
  diff: 'Drafts',
  lockfile: 'Lockfile',
  drift: 'Drift',
  'roll-call': 'Roll call',
  merge: 'Merge desk',
  team: 'Team',
  journal: 'Journal',
};
