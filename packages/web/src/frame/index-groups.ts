import type { WorkspaceState } from '../api/client';
import { count } from '../parts/words';

/** A figure in the index: what wants attention on that page. */
export interface IndexFigure {
  readonly text: string;
  /** The same in a sentence. */
  readonly says: string;
  /** Is something wrong? Else it is only open. */
  readonly isOff: boolean;
}

export interface IndexLine {
  readonly to: string;
  readonly text: string;
  /** Null: nothing wants attention. */
  readonly figure: IndexFigure | null;
}

export interface IndexGroup {
  readonly title: string;
  readonly lines: readonly IndexLine[];
}

/** What is known of the workspace beside its state; undefined: not known yet. */
interface Known {
  readonly findings: number | undefined;
  readonly drafts: number | undefined;
}

/** The pages of a workspace in the order of the index. */
export function indexGroups(
  state: WorkspaceState | undefined,
  { findings, drafts }: Known,
): readonly IndexGroup[] {
  const line = (to: string, text: string, figure: IndexFigure | null = null): IndexLine => ({
    to,
    text,
    figure,
  });
  const outOfLine = state?.outOfLine;
  const bringIn = line('bring-in', 'Bring in', {
    text: 'open',
    says: 'The files that make this repository a workspace are not posted yet',
    isOff: false,
  });
  if (state?.bringIn === 'needed')
    return [
      { title: 'State', lines: [bringIn] },
      { title: 'Work', lines: [line('team', 'Team')] },
    ];
  return [
    {
      title: 'State',
      lines: [
        ...(state?.bringIn === 'prepared' ? [bringIn] : []),
        line('overview', 'Overview'),
        line(
          'findings',
          'Findings',
          figure(findings, (n) => `${count(n, 'finding')} open`),
        ),
      ],
    },
    {
      title: 'Versions',
      lines: [
        line(
          'alignment',
          'Alignment',
          figure(outOfLine, (n) => `${count(n, 'shared package')} out of line`),
        ),
        line('shared', 'Shared'),
        line('centralise', 'Centralise'),
        line('upgrades', 'Upgrades'),
        line('registry', 'Registry'),
      ],
    },
    {
      title: 'Graph and lockfile',
      lines: [
        line('trace', 'Trace'),
        line('projects', 'Projects'),
        line('lockfile', 'Lockfile', lockFigure(state)),
        line('drift', 'Drift'),
        line(
          'machines',
          'Machines',
          figure(
            state?.machinesBehind,
            (n) =>
              `${count(n, 'machine or build run', 'machines and build runs')} on another lockfile`,
          ),
        ),
        line(
          'archives',
          'Archives',
          figure(state?.archivesMissing, (n) => `${count(n, 'archive')} could not be had`),
        ),
      ],
    },
    {
      title: 'Work',
      lines: [
        line(
          'diff',
          'Drafts',
          figure(drafts, (n) => `${count(n, 'draft')} not posted`, false),
        ),
        line('merge', 'Merge branches'),
        line('journal', 'Journal'),
        line('team', 'Team'),
      ],
    },
  ];
}

function figure(
  number: number | undefined,
  says: (number: number) => string,
  isOff = true,
): IndexFigure | null {
  return number === undefined || number === 0
    ? null
    : { text: String(number), says: says(number), isOff };
}

function lockFigure(state: WorkspaceState | undefined): IndexFigure | null {
  if (state === undefined || state.lock.state === 'consistent') return null;
  const { state: text, reasons } = state.lock;
  return { text, says: `The lockfile is ${text}: ${count(reasons.length, 'reason')}`, isOff: true };
}
