/** A change that a step of the history makes to one hand-written file. */
export type Change =
  | {
      readonly kind: 'range';
      readonly folder: string;
      readonly name: string;
      readonly to: string;
      readonly as?: 'runtime' | 'dev';
    }
  | { readonly kind: 'shared'; readonly name: string; readonly to: string }
  | { readonly kind: 'append'; readonly file: string; readonly text: string }
  /** Every place of a text, as somebody edits a file by hand. */
  | { readonly kind: 'replace'; readonly file: string; readonly from: string; readonly to: string };

/** One commit of the made-up repository. */
export interface Step {
  readonly day: string;
  readonly who: string;
  readonly message: string;
  readonly changes: readonly Change[];
  /** Packages whose answers the crew renewed, as with `lock --refresh`. */
  readonly refresh?: readonly string[];
  /** Nobody resolved: the lockfile stays as it was. */
  readonly forgetsLock?: boolean;
}

const range = (folder: string, name: string, to: string, as?: 'runtime' | 'dev'): Change =>
  as === undefined ? { kind: 'range', folder, name, to } : { kind: 'range', folder, name, to, as };
const shared = (name: string, to: string): Change => ({ kind: 'shared', name, to });
const note = (file: string, text: string): Change => ({ kind: 'append', file, text });

/** `main`, oldest first; the first commit is the tree in `demo/repository`. */
export const MAIN: readonly Step[] = [
  {
    day: '2024-11-25',
    who: 'platform crew',
    message: 'Bring all projects into one repository',
    changes: [],
  },
  {
    day: '2024-12-09',
    who: 'gate crew',
    message: 'Log gate openings in one line',
    changes: [note('services/gate-service/src/index.ts', '\nexport const gateLine = "opened";\n')],
  },
  {
    day: '2025-01-13',
    who: 'web crew',
    message: 'Let guests pay by season',
    changes: [
      note('apps/season-web/src/index.ts', '\nexport const seasons = ["winter", "summer"];\n'),
    ],
  },
  {
    day: '2025-01-27',
    who: 'platform crew',
    message: 'Agree on pitonhttp 5.4',
    changes: [shared('pitonhttp', '^5.4.0')],
  },
  {
    day: '2025-02-17',
    who: 'gate crew',
    message: 'Try firnstore 7 at the gates',
    changes: [range('services/gate-service', 'firnstore', '~7.0.0')],
  },
  {
    day: '2025-03-03',
    who: 'platform crew',
    message: 'Agree on firnstore 7',
    changes: [shared('firnstore', '^7.0.0'), range('services/gate-service', 'firnstore', 'shared')],
  },
  {
    day: '2025-03-24',
    who: 'web crew',
    message: 'Season web moves to the new logger',
    changes: [range('apps/season-web', 'scree-log', '^3.0.0')],
  },
  {
    day: '2025-04-07',
    who: 'rescue crew',
    message: 'Show patrols on the desk map',
    changes: [
      note('apps/dispatch-desk/src/index.ts', '\nexport const layers = ["lifts", "patrols"];\n'),
    ],
  },
  {
    day: '2025-05-05',
    who: 'platform crew',
    message: 'Agree on cairn-dates 2.4',
    changes: [shared('cairn-dates', '~2.4.0')],
  },
  {
    day: '2025-05-26',
    who: 'gate crew',
    message: 'neve-cache is stable now',
    changes: [range('services/gate-service', 'neve-cache', '^1.0.0')],
  },
  {
    day: '2025-06-23',
    who: 'rescue crew',
    message: 'Dispatch desk: queue that survives a power cut',
    changes: [range('apps/dispatch-desk', 'serac-queue', '^2.0.0')],
  },
  {
    day: '2025-07-14',
    who: 'snow crew',
    message: 'Weigh layers by age',
    changes: [note('services/snow-report/src/index.ts', '\nexport const layerWeight = 0.8;\n')],
  },
  {
    day: '2025-08-11',
    who: 'web crew',
    message: 'Slope board moves to the new logger',
    changes: [range('apps/slope-board', 'scree-log', '^3.0.0')],
  },
  {
    day: '2025-09-15',
    who: 'web crew',
    message: 'Moraine 4.1 on the season pages',
    changes: [
      range('apps/season-web', 'moraine-core', '4.1.0'),
      range('apps/season-web', 'moraine-forms', '4.1.0'),
    ],
  },
  {
    day: '2025-10-13',
    who: 'platform crew',
    message: 'Agree on moraine 4.1',
    changes: [
      shared('moraine-core', '4.1.0'),
      range('apps/season-kiosk', 'moraine-core', '4.0.2'),
      range('apps/season-kiosk', 'moraine-forms', '4.0.2'),
    ],
  },
  {
    day: '2025-10-27',
    who: 'rescue crew',
    message: 'Hold the desk grid until the patrol has tried it',
    changes: [range('apps/dispatch-desk', 'moraine-grid', '4.0.2')],
  },
  {
    day: '2025-11-24',
    who: 'kiosk crew',
    message: 'Leave for the kiosk to stay on the old logger',
    changes: [
      note(
        'ledger.shared.toml',
        '\n[[exceptions]]\nproject = "season-kiosk"\npackage = "moraine-forms"\nrange = "4.0.2"\nreason = "the pass form is certified with this release"\nowner = "kiosk crew"\nuntil = 2027-03-31\n\n[[exceptions]]\nproject = "radio-bridge"\npackage = "cairn-dates"\nrange = "~2.2.0"\nreason = "the radios send the old day format until their update"\nowner = "rescue crew"\nuntil = 2026-06-30\n',
      ),
    ],
  },
  {
    day: '2026-01-12',
    who: 'web crew',
    message: 'Season web: patterns of the new logger',
    changes: [range('apps/season-web', 'scree-log', '^3.1.0')],
  },
  {
    day: '2026-02-09',
    who: 'gate crew',
    message: 'Renew what the gates stand on',
    changes: [],
    refresh: ['pitonhttp', 'verglas-tls', 'firn-pool'],
  },
  {
    day: '2026-03-16',
    who: 'snow crew',
    message: 'Snow report: dates by the new calendar',
    changes: [range('services/snow-report', 'cairn-dates', '~2.5.0')],
  },
  {
    day: '2026-04-13',
    who: 'snow crew',
    message: 'Avalanche watch on the new logger',
    changes: [
      range('services/avalanche-watch', 'scree-log', '^3.2.0'),
      range('services/avalanche-watch', 'serac-queue', '^2.1.0'),
    ],
  },
  {
    day: '2026-05-18',
    who: 'gate crew',
    message: 'Sign passes with gendarme 4',
    changes: [range('services/gate-service', 'gendarme-auth', '^4.0.0')],
  },
  {
    day: '2026-06-15',
    who: 'platform crew',
    message: 'Pin the state of the screens',
    changes: [
      note(
        'ledger.shared.toml',
        '\n[pins]\nrime-headers = "1.1.0"          # 1.1.1 folds long headers\n',
      ),
    ],
  },
  {
    day: '2026-07-20',
    who: 'web crew',
    message: 'Pass office: longer receipts',
    changes: [note('apps/pass-office/src/index.ts', '\nexport const receiptLines = 60;\n')],
  },
  {
    day: '2026-08-24',
    who: 'snow crew',
    message: 'Try talus-test 6 on the snow report',
    changes: [range('services/snow-report', 'talus-test', '^6.0.0', 'dev')],
  },
  {
    day: '2026-09-14',
    who: 'web crew',
    message: 'Pass office on the new logger',
    changes: [range('apps/pass-office', 'scree-log', '^3.1.0')],
  },
  {
    day: '2026-10-12',
    who: 'rescue crew',
    message: 'Radio bridge: keep the old calls',
    changes: [note('services/radio-bridge/src/index.ts', '\nexport const channels = 12;\n')],
  },
  {
    day: '2026-11-09',
    who: 'platform crew',
    message: 'Write down who to ask',
    changes: [note('README.md', '\nQuestions about shared versions go to the platform crew.\n')],
  },
];

const replace = (file: string, from: string, to: string): Change => ({
  kind: 'replace',
  file,
  from,
  to,
});

export interface Branch {
  readonly name: string;
  /** The message of the commit on `main` that it starts from; without it, the head. */
  readonly from?: string;
  readonly steps: readonly Step[];
}

const LOCK = 'ledger.lock';

/** Branches beside `main`. */
export const BRANCHES: readonly Branch[] = [
  {
    name: 'desk-printer',
    from: 'Try talus-test 6 on the snow report',
    steps: [
      {
        day: '2026-09-21',
        who: 'kiosk crew',
        message: 'Printer of the desk: logger and dates as it needs them',
        changes: [
          range('apps/pass-office', 'scree-log', '~3.0.0'),
          range('apps/slope-board', 'cairn-dates', '~2.5.0'),
        ],
      },
    ],
  },
  {
    name: 'grid-trial',
    steps: [
      {
        day: '2026-11-11',
        who: 'web crew',
        message: 'Try moraine 4.2 on the slope board',
        changes: [
          range('apps/slope-board', 'moraine-grid', '4.2.0'),
          range('apps/slope-board', 'moraine-core', '4.2.0'),
        ],
        forgetsLock: true,
      },
    ],
  },
  {
    name: 'old-image',
    steps: [
      {
        day: '2026-11-12',
        who: 'kiosk crew',
        message: 'What the old machine image offers',
        changes: [
          replace('ledger.toml', 'runtime = "20.11.0"', 'runtime = "16.20.0"'),
          replace('ledger.toml', 'minimum-age-days = 0', 'minimum-age-days = 600'),
          replace('apps/season-kiosk/ledger.project.toml', 'yodelmark-text = "^3.0.0"\n', ''),
        ],
        forgetsLock: true,
      },
      {
        day: '2026-11-12',
        who: 'kiosk crew',
        message: 'Put the lockfile right by hand',
        changes: [
          replace(LOCK, 'by 5.5.0\n', 'by 5.5.1\n'),
          replace(LOCK, 'copy pitonhttp 5.5.0\n', 'copy pitonhttp 5.5.1\n'),
          replace(LOCK, '/archives/pitonhttp/5.5.0\n', '/archives/pitonhttp/5.5.1\n'),
        ],
        forgetsLock: true,
      },
    ],
  },
  {
    name: 'torn-manifest',
    steps: [
      {
        day: '2026-11-12',
        who: 'rescue crew',
        message: 'Half a line',
        changes: [note('apps/dispatch-desk/ledger.project.toml', '\n[needs.optional\n')],
        forgetsLock: true,
      },
    ],
  },
];
