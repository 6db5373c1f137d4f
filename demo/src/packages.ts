import type { PackageLine } from './package-line.js';

/** Every package of the made-up registry. */
export const PACKAGES: readonly PackageLine[] = [
  {
    name: 'alpenglow-theme',
    summary: 'colours and type for screens in snow light',
    stretches: [['2023-08-07', '2.0:3 2.2:4']],
    needs: [['*', { 'firnline-color': '^1.1.0', 'sastrugi-css': '^4.0.0' }]],
  },
  {
    name: 'arete-validate',
    summary: 'checks of data at the edge',
    stretches: [
      ['2023-06-05', '2.1:3 2.6:2'],
      ['2024-10-07', '3.0:5 3.1:3'],
    ],
    needs: [['*', { 'nunatak-ids': '^1.0.0' }]],
  },
  {
    name: 'avalung-gauge',
    summary: 'pressure of a slope, as a number',
    stretches: [['2024-03-04', '1.0:3']],
  },
  {
    name: 'belay-retry',
    summary: 'tries again, within reason',
    stretches: [
      ['2023-02-20', '1.4:3 1.5:1'],
      ['2024-06-03', '2.0:3 2.1:3'],
    ],
    deprecated: [['<2.0.0', 'tries for ever on a closed line; use 2.x']],
  },
  {
    name: 'bergschrund-fs',
    summary: 'files across gaps',
    stretches: [['2023-09-18', '1.0:3 1.2:3']],
    needs: [['*', { 'esker-path': '^2.0.0' }]],
  },
  {
    name: 'bivouac-boot',
    summary: 'starts a service the same way each time',
    stretches: [['2024-04-08', '1.0:4 1.1:2']],
    needs: [['*', { 'karst-config': '^1.1.0', 'scree-log': '^2.9.0 || ^3.0.0' }]],
  },
  {
    name: 'brindle-lint',
    summary: 'the house rules of Brindlepeak',
    stretches: [['2023-11-06', '0.9:2 1.0:4 1.1:2']],
    needs: [['*', { 'piolet-parse': '^2.0.0', 'cornice-cli': '^2.0.0' }]],
  },
  {
    name: 'cairn-dates',
    summary: 'days, seasons and opening hours',
    stretches: [
      ['2023-01-16', '2.2:3 2.3:3'],
      ['2025-02-03', '2.4:6 2.5:3 3.0:1'],
    ],
    needs: [['*', { 'snowline-units': '^1.0.0' }]],
  },
  {
    name: 'cirque-table',
    summary: 'rows and columns that keep up',
    stretches: [['2023-10-16', '1.0:4']],
    needs: [['*', { 'icefall-events': '^2.0.0' }]],
  },
  {
    name: 'cornice-cli',
    summary: 'arguments of a command',
    stretches: [['2023-03-13', '2.0:3 2.3:2']],
    needs: [['*', { 'piolet-parse': '^2.0.0', 'firnline-color': '^1.0.0' }]],
  },
  {
    name: 'couloir-stream',
    summary: 'narrow streams, steadily',
    stretches: [['2023-06-19', '2.0:3 2.2:3']],
    needs: [['*', { 'graupel-buffer': '^1.0.0' }]],
  },
  {
    name: 'crevasse-diff',
    summary: 'what lies between two things',
    stretches: [['2023-07-10', '1.0:3']],
  },
  {
    name: 'depthhoar-db',
    summary: 'pages and rows on disk',
    stretches: [['2023-05-01', '3.0:3 3.1:3']],
    needs: [['*', { 'graupel-buffer': '^1.0.0', 'firn-pool': '^1.3.0' }]],
  },
  {
    name: 'drumlin-maps',
    summary: 'hills as shapes',
    stretches: [['2023-08-21', '1.2:2 1.3:3']],
    terms: [
      [
        '*',
        {
          id: 'drumlin-2',
          title: 'Terms for the shapes of hills',
          url: 'https://hills.brindlepeak.example/terms',
        },
      ],
    ],
    needs: [['*', { 'snowline-units': '^1.0.0' }]],
  },
  { name: 'esker-path', summary: 'paths that wind', stretches: [['2023-02-27', '2.0:3 2.1:2']] },
  {
    name: 'firn-pool',
    summary: 'keeps connections ready',
    stretches: [['2023-02-13', '1.2:3 1.3:2 1.4:2']],
  },
  {
    name: 'firnline-color',
    summary: 'colours for people and terminals',
    stretches: [['2023-01-23', '1.0:2 1.1:4']],
  },
  {
    name: 'firnstore',
    summary: 'records that last a season and longer',
    stretches: [
      ['2023-05-08', '5.2:2 6.0:3 6.3:2'],
      ['2025-02-03', '7.0:4 7.1:3'],
    ],
    needs: [
      ['>=7.0.0', { 'depthhoar-db': '^3.1.0', 'tarn-json': '^1.3.0', 'couloir-stream': '^2.0.0' }],
      ['*', { 'depthhoar-db': '^3.0.0', 'tarn-json': '^1.2.0', 'couloir-stream': '^2.0.0' }],
    ],
  },
  {
    name: 'gendarme-auth',
    summary: 'who is there, and may they',
    stretches: [
      ['2023-03-06', '3.1:3 3.2:3'],
      ['2025-06-02', '4.0:4'],
    ],
    needs: [
      ['>=4.0.0', { 'verglas-tls': '^1.1.0', 'nunatak-ids': '^1.2.0', 'hoarfrost-hash': '^2.0.0' }],
      ['*', { 'verglas-tls': '^1.0.0', 'nunatak-ids': '^1.0.0' }],
    ],
  },
  {
    name: 'glacis-router',
    summary: 'from address to screen',
    stretches: [
      ['2023-05-15', '6.0:3 6.2:4 6.4:3'],
      ['2026-11-15', '7.0:1'],
    ],
    needs: [['*', { 'esker-path': '^2.0.0' }]],
  },
  {
    name: 'glacis-state',
    summary: 'what a screen remembers',
    stretches: [['2023-05-22', '1.8:2 2.0:4 2.1:4']],
    needs: [
      ['<2.1.0', { 'tarn-json': '~1.2.4' }],
      ['*', { 'tarn-json': '^1.2.4' }],
    ],
  },
  {
    name: 'graupel-buffer',
    summary: 'bytes in small grains',
    stretches: [['2023-03-27', '1.0:3 1.1:2']],
  },
  {
    name: 'hoarfrost-hash',
    summary: 'sums of things',
    stretches: [
      ['2023-01-30', '1.0:3'],
      ['2025-01-13', '2.0:3'],
    ],
  },
  {
    name: 'icefall-events',
    summary: 'one thing after another',
    stretches: [['2023-04-24', '2.0:2 2.1:3']],
  },
  {
    name: 'kames-metrics',
    summary: 'counts and gauges',
    stretches: [['2023-12-04', '1.0:3 1.2:2']],
    needs: [['*', { 'icefall-events': '^2.0.0' }]],
    besides: [['>=1.2.0', { 'ogive-trace': '^0.10.0' }]],
  },
  {
    name: 'karst-config',
    summary: 'settings from files and surroundings',
    stretches: [['2023-08-14', '1.1:3 1.2:3']],
    needs: [['*', { 'piolet-parse': '^2.1.0', 'arete-validate': '>=2.6.0 <4.0.0' }]],
  },
  {
    name: 'moraine-charts',
    summary: 'charts of the moraine set',
    stretches: [
      ['2023-03-20', '3.8:3'],
      ['2023-10-09', '4.0:4'],
      ['2025-09-08', '4.1:4 4.2:1'],
    ],
    needs: [['*', { 'moraine-core': '~same', 'drumlin-maps': '^1.2.0' }]],
  },
  {
    name: 'moraine-core',
    summary: 'the ground the moraine set stands on',
    stretches: [
      ['2023-03-20', '3.8:3'],
      ['2023-10-09', '4.0:4'],
      ['2025-09-08', '4.1:4 4.2:1'],
    ],
    needs: [['*', { 'glacis-state': '^2.0.0', 'sastrugi-css': '^4.0.0' }]],
  },
  {
    name: 'moraine-forms',
    summary: 'forms of the moraine set',
    stretches: [
      ['2023-03-20', '3.8:3'],
      ['2023-10-09', '4.0:4'],
      ['2025-09-08', '4.1:4 4.2:1'],
    ],
    needs: [['*', { 'moraine-core': '~same', 'arete-validate': '>=2.6.0 <4.0.0' }]],
  },
  {
    name: 'moraine-grid',
    summary: 'grids of the moraine set',
    stretches: [
      ['2023-03-20', '3.8:3'],
      ['2023-10-09', '4.0:4'],
      ['2025-09-08', '4.1:4 4.2:1'],
    ],
    needs: [['*', { 'moraine-core': '~same', 'cirque-table': '^1.0.0' }]],
    besides: [['>=4.1.0', { 'glacis-state': '^2.1.0' }]],
  },
  {
    name: 'moulin-queue',
    summary: 'a small queue that turns',
    stretches: [['2024-01-08', '0.4:3 0.5:4']],
    needs: [['*', { 'icefall-events': '^2.1.0', 'graupel-buffer': '^1.0.0' }]],
  },
  {
    name: 'neve-cache',
    summary: 'keeps what was asked before',
    stretches: [
      ['2023-09-04', '0.8:3 0.9:3'],
      ['2025-05-12', '1.0:3 1.1:2'],
    ],
    needs: [['*', { 'spindrift-cache': '^3.0.0' }]],
    optional: [['*', { 'neve-native': { range: '^1.0.0', when: ['linux-*'] } }]],
  },
  {
    name: 'neve-native',
    summary: 'the fast half of neve-cache',
    stretches: [['2023-10-02', '1.0:4 1.1:2']],
    targets: ['linux-x64', 'linux-arm64'],
  },
  {
    name: 'nunatak-ids',
    summary: 'names that do not clash',
    stretches: [['2023-02-06', '1.0:2 1.2:3']],
  },
  {
    name: 'ogive-trace',
    summary: 'follows a request through',
    stretches: [['2024-02-19', '0.9:3 0.10:2']],
    needs: [['*', { 'kames-metrics': '^1.0.0' }]],
  },
  {
    name: 'penitente-pdf',
    summary: 'upright pages',
    stretches: [['2023-11-20', '2.0:3']],
    platform: [['*', { runtime: '>=18' }]],
    needs: [['*', { 'graupel-buffer': '^1.0.0', 'firnline-color': '^1.0.0' }]],
  },
  { name: 'piolet-parse', summary: 'takes text apart', stretches: [['2023-01-09', '2.0:2 2.1:3']] },
  {
    name: 'pitonhttp',
    summary: 'requests that hold',
    stretches: [
      ['2023-04-03', '4.8:3 5.0:2 5.2:3'],
      ['2025-01-20', '5.4:4 5.5:3 5.6:3'],
    ],
    withdrawn: ['5.5.1'],
    needs: [
      [
        '>=5.4.0',
        {
          'belay-retry': '^2.0.0',
          'verglas-tls': '^1.1.0',
          'rime-headers': '^1.0.0',
          'firn-pool': '^1.2.0',
          'tarn-json': '^1.3.0',
        },
      ],
      [
        '*',
        {
          'belay-retry': '^1.4.0 || ^2.0.0',
          'verglas-tls': '^1.0.0',
          'rime-headers': '^1.0.0',
          'firn-pool': '^1.2.0',
        },
      ],
    ],
  },
  { name: 'randkluft-rand', summary: 'chance, repeatably', stretches: [['2024-05-06', '1.0:3']] },
  {
    name: 'rime-headers',
    summary: 'headers, read and written',
    stretches: [['2023-03-06', '1.0:4 1.1:2']],
  },
  {
    name: 'ropeline-rpc',
    summary: 'calls along a line',
    stretches: [['2024-02-05', '0.6:3 0.7:3 0.8:2']],
    needs: [
      ['>=0.7.0', { 'moulin-queue': '^0.5.0', 'tarn-json': '^1.3.0' }],
      ['*', { 'moulin-queue': '^0.4.0', 'tarn-json': '^1.2.0' }],
    ],
  },
  {
    name: 'sastrugi-css',
    summary: 'ridges for style sheets',
    stretches: [['2023-01-16', '4.0:3 4.1:5']],
  },
  {
    name: 'scree-log',
    summary: 'structured logging',
    stretches: [
      ['2023-02-06', '2.0:3 2.1:2 2.4:2 2.9:6'],
      ['2025-03-10', '3.0:4 3.1:3 3.2:5 3.3:1'],
    ],
    platform: [['>=3.3.0', { runtime: '>=22' }]],
    needs: [
      ['>=3.0.0', { 'tarn-json': '^1.3.0', 'firnline-color': '^1.0.0' }],
      ['*', { 'tarn-json': '^1.2.0' }],
    ],
  },
  {
    name: 'serac-queue',
    summary: 'work in order, even when the ground moves',
    stretches: [
      ['2023-07-03', '1.0:3 1.3:3'],
      ['2024-08-05', '1.6:2 2.0:4 2.1:3'],
    ],
    needs: [
      ['>=2.0.0', { 'icefall-events': '^2.0.0', 'belay-retry': '^2.0.0' }],
      ['*', { 'icefall-events': '^2.0.0', 'belay-retry': '^1.4.0' }],
    ],
  },
  {
    name: 'snowline-units',
    summary: 'metres, feet and degrees',
    stretches: [['2023-01-09', '1.0:3 1.1:2']],
  },
  {
    name: 'spindrift-cache',
    summary: 'a cache that blows away',
    stretches: [['2023-04-17', '3.0:3 3.1:4']],
  },
  {
    name: 'talus-test',
    summary: 'tests that stack up',
    stretches: [
      ['2023-05-29', '5.0:3 5.1:4'],
      ['2026-03-02', '6.0:2'],
    ],
    needs: [
      ['*', { 'crevasse-diff': '^1.0.0', 'firnline-color': '^1.0.0', 'bergschrund-fs': '^1.0.0' }],
    ],
  },
  {
    name: 'tarn-json',
    summary: 'JSON, strictly',
    stretches: [
      ['2023-01-09', '1.1:2 1.2:10'],
      ['2024-09-02', '1.3:5 1.4:2'],
    ],
  },
  {
    name: 'verglas-tls',
    summary: 'thin ice over the wire',
    stretches: [['2023-01-30', '1.0:3 1.1:4']],
    needs: [['*', { 'hoarfrost-hash': '^1.0.0 || ^2.0.0' }]],
  },
  {
    name: 'whiteout-mask',
    summary: 'hides what should not be seen',
    licence: 'LicenseRef-Valley-Works',
    stretches: [['2024-06-17', '1.0:3']],
  },
  {
    name: 'windslab-worker',
    summary: 'heavy work beside the main line',
    stretches: [
      ['2024-01-22', '1.0:3'],
      ['2025-10-06', '2.0:2'],
    ],
    needs: [['>=2.0.0', { 'rime-headers': '^1.1.1' }]],
  },
  {
    name: 'yodelmark-text',
    summary: 'words in several tongues',
    stretches: [['2023-07-24', '3.0:2 3.2:3']],
  },
];
