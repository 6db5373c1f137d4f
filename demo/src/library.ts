import type { TermsOfUse } from '@deep-ledger/core';
import type { PackageLine } from './package-line.js';

/** What the registry has beside what the lifts use: name and summary, and what some of them need. */
const SHELF: readonly (readonly [
  name: string,
  summary: string,
  needs?: Readonly<Record<string, string>>,
])[] = [
  ['ablation-log', 'rotates log files before the disk is full', { 'esker-path': '^2.0.0' }],
  ['abseil-queue', 'lets long lists down in short lengths'],
  ['accretion-store', 'a store that only ever appends'],
  ['alidade-geo', 'bearings and distances between points'],
  ['altiplano-grid', 'wide tables with a fixed head'],
  ['anabatic-events', 'events that rise to whoever listens'],
  ['avens-icons', 'small pictures for small screens'],
  ['backstay-lock', 'one worker at a time, across machines'],
  ['barometer-health', 'says whether a service is well'],
  ['belvedere-views', 'pages put together from parts'],
  ['bellwether-flags', 'switches for features, read at the start', { 'karst-config': '^1.1.0' }],
  ['birchbark-docs', 'turns comments into pages'],
  ['boulder-sort', 'sorts what does not fit into memory'],
  ['braided-merge', 'merges two texts that had one beginning'],
  ['bridle-limits', 'holds callers to a number a second'],
  ['calving-split', 'cuts large files at good places'],
  ['carabiner-hooks', 'runs what was hooked in, in order'],
  ['cataract-pipe', 'pipes between processes, with pressure'],
  ['chimney-smoke', 'short tests of a whole page'],
  ['chough-mail', 'writes mail that mail readers read'],
  ['cloudbase-files', 'files that live on several hosts'],
  ['clovehitch-forms', 'ties fields to values'],
  ['col-router', 'finds the page for an address'],
  ['compass-i18n', 'texts in many languages', { 'yodelmark-text': '^3.0.0' }],
  ['coppice-trees', 'trees that are cut back and grow again'],
  ['corrie-pool', 'keeps what is dear to make'],
  ['crampon-guard', 'checks of arguments at the door'],
  ['creek-csv', 'reads tables with commas'],
  ['crux-solve', 'puzzles with constraints'],
  ['dale-maps', 'maps of valleys', { 'drumlin-maps': '^1.2.0' }],
  ['deadfall-scan', 'finds files that nobody reads'],
  ['dewpoint-alerts', 'warns before a limit is reached'],
  ['dipper-http', 'asks for a page and waits no longer than it should'],
  ['downdraft-spool', 'prints what is waiting'],
  ['driftwood-logs', 'gathers lines from many machines'],
  ['eddy-cache', 'keeps answers until they turn'],
  ['edelweiss-theme', 'white letters on grey'],
  ['fallline-sort', 'the steepest way down a list'],
  ['fellside-walk', 'walks folders'],
  ['fern-uuid', 'names that are never given twice'],
  ['firebreak-limits', 'stops a failure from going on'],
  ['floe-sheets', 'spreadsheets without a program for them'],
  ['flume-batch', 'sends many small things as one'],
  ['foehn-dry', 'removes what is there twice'],
  ['fogbow-charts', 'charts for few colours'],
  ['forecourt-auth', 'who is at the door', { 'verglas-tls': '^1.0.0' }],
  ['freeboard-quota', 'says how much room is left'],
  ['funicular-steps', 'runs steps up and takes them back'],
  ['gaiter-wrap', 'wraps lines at the edge'],
  ['gantry-cron', 'does things on their day'],
  ['garnet-hash', 'sums of files'],
  ['glade-mock', 'stands in for what is not there'],
  ['gneiss-bits', 'numbers bit by bit'],
  ['gorge-zip', 'packs and unpacks'],
  ['granite-types', 'checks of shapes as a program runs'],
  ['gully-trace', 'which call led to which'],
  ['halyard-deploy', 'puts a release where it belongs'],
  ['hanging-list', 'lists that are read as they come'],
  ['heather-color', 'colours by name'],
  ['hemlock-lint', 'finds what is likely wrong'],
  ['hollow-stub', 'answers that were agreed on before'],
  ['hummock-diff', 'shows what changed in a picture'],
  ['isobar-lines', 'lines of equal value on a map'],
  ['jib-upload', 'sends large files in parts'],
  ['juniper-text', 'compares words as people do'],
  ['kestrel-watch', 'watches files for a change'],
  ['kettle-warm', 'fills caches before the first guest'],
  ['knoll-crypto', 'seals and opens letters'],
  ['landrace-seed', 'made-up people for tests'],
  ['larch-markdown', 'Markdown to pages'],
  ['ledge-session', 'remembers who was here'],
  ['levee-backup', 'copies that can be put back'],
  ['lichen-style', 'styles that grow slowly'],
  ['lodestone-search', 'finds words in many texts'],
  ['loess-stats', 'means and spreads', { 'kames-metrics': '^1.0.0' }],
  ['marmot-jobs', 'work that sleeps until its time'],
  ['meander-url', 'takes addresses apart'],
  ['mica-render', 'draws thin layers over each other'],
  ['mistral-push', 'tells browsers what is new'],
  ['monadnock-one', 'makes sure that there is one'],
  ['nightjar-quiet', 'holds messages back until morning'],
  ['osier-tables', 'weaves two tables into one'],
  ['outcrop-view', 'shows what is under the cursor'],
  ['palisade-cors', 'who may ask from where'],
  ['peat-archive', 'keeps old rows, pressed'],
  ['pennant-badge', 'small signs with a number'],
  ['pinnacle-rank', 'the best first'],
  ['plumb-check', 'is it straight?'],
  ['quarry-sql', 'queries put together safely', { 'depthhoar-db': '^3.0.0' }],
  ['ravine-stream', 'streams that can be read twice'],
  ['ridge-layout', 'pages on a grid'],
  ['rucksack-env', 'what a program takes along'],
  ['saddle-proxy', 'stands between two services'],
  ['sawtooth-retry', 'tries again, later each time', { 'belay-retry': '^2.0.0' }],
  ['scarp-edge', 'edges in pictures'],
  ['shale-split', 'layers of one file'],
  ['sheepfold-group', 'groups by what is alike'],
  ['sluice-rate', 'lets through what fits'],
  ['spur-cli', 'commands with subcommands', { 'cornice-cli': '^2.0.0' }],
  ['stile-steps', 'forms in several steps'],
  ['sundial-time', 'time without a clock', { 'cairn-dates': '^2.3.0' }],
  ['tallow-print', 'prints on paper that is long and narrow'],
  ['thicket-graph', 'graphs with many edges'],
  ['thermal-load', 'who is busy'],
  ['towline-sync', 'keeps two stores alike'],
  ['treeline-menu', 'menus that open to the side'],
  ['tumulus-bury', 'deletes what must not be found again'],
  ['upland-forms', 'fields for heights and grades'],
  ['viaduct-bus', 'messages over a gap', { pitonhttp: '^5.0.0' }],
  ['waymark-links', 'links that do not break'],
  ['weir-filter', 'keeps back what should not pass'],
  ['windrose-chart', 'charts of directions'],
  ['yarrow-test', 'tests that are told as stories', { 'talus-test': '^5.0.0' }],
];

/** What must be accepted before some of them are used. */
const TERMS: Readonly<Record<string, TermsOfUse>> = {
  'dale-maps': {
    id: 'dale-survey-1',
    title: 'Terms of the Dale Survey for its maps',
    url: 'https://survey.brindlepeak.example/terms',
  },
  'fogbow-charts': {
    id: 'fogbow-3',
    title: 'Fogbow: free for up to 100 screens',
    url: 'https://fogbow.brindlepeak.example/terms',
  },
};

const FIRST_DAY = Date.parse('2023-03-06T00:00:00Z');
const DAY_MS = 86_400_000;

/** Packages that nobody uses yet, each with 3 to 20 releases in one to three major lines, drawn from its name. */
export const LIBRARY: readonly PackageLine[] = SHELF.map(([name, summary, needs]) => {
  const drawn = [...name].reduce((all, one) => (all * 31 + one.charCodeAt(0)) % 99_991, 7);
  const majors = 1 + (drawn % 3);
  const stretches = Array.from({ length: majors }, (_, i) => {
    const day = new Date(FIRST_DAY + ((drawn % 200) + i * 330) * DAY_MS).toISOString().slice(0, 10);
    const minors = Array.from(
      { length: 1 + ((drawn >> (i + 2)) % 2) },
      (_, minor) => `${i + 1}.${minor}:${3 - (minor % 2)}`,
    );
    return [day, minors.join(' ')] as const;
  });
  return {
    name,
    summary,
    stretches,
    ...(TERMS[name] !== undefined
      ? {}
      : drawn % 7 === 0
        ? { licence: 'BSD-3-Clause' }
        : drawn % 5 === 0
          ? { licence: 'ISC' }
          : {}),
    ...(needs === undefined ? {} : { needs: [['*', needs]] }),
    ...(TERMS[name] === undefined ? {} : { terms: [['*', TERMS[name]]] }),
  };
});
