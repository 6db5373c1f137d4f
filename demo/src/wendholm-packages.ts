import type { PackageLine } from './package-line.js';

/** What the ferries take from the registry that everybody uses. */
export const SEA_PACKAGES: readonly PackageLine[] = [
  line('Skerry.Log', 'lines in a book, kept dry', '2.4:3 2.6:2 3.0:3 3.1:4 3.2:3', {
    'kelp-json': '^1.2.0',
  }),
  line('anemone-widgets', 'buttons for wet fingers', '5.8:2 6.0:4 6.1:3', {
    'seafret-color': '^1.0.0',
    'thole-events': '^1.0.0',
  }),
  line('berth-paint', 'a paint shop of that name, no kin of ours', '9.0:1 9.1:2'),
  line('bilge-metrics', 'how much water is in the boat', '1.0:3 1.1:3', {
    'shoal-units': '^1.0.0',
  }),
  line('binnacle-config', 'settings that point north', '1.2:2 1.3:4', { 'kelp-json': '^1.0.0' }),
  line('bladderwrack-forms', 'forms that float', '2.0:2 2.1:5', {
    'anemone-widgets': '^6.0.0',
    'sandbar-state': '^4.0.0',
  }),
  line('bollard-lint', 'rules to tie up to', '1.9:2 2.0:3', { 'razorshell-parse': '^1.0.0' }),
  line('crowsnest-trace', 'who called whom, seen from above', '0.9:3 1.0:2', {
    'periwinkle-ids': '^1.0.0',
  }),
  line('cuttlebone-text', 'text set in columns', '2.0:3 2.2:2'),
  line('dogwatch-cron', 'what is due in the short watch', '1.0:4', { 'shoal-units': '^1.0.0' }),
  line('driftwood-fakes', 'made-up ships and cargo', '0.7:2 0.8:4', { 'periwinkle-ids': '^1.0.0' }),
  line('eddyline-queue', 'work in the order of the current', '2.9:2 3.0:5', {
    'lugworm-retry': '^2.0.0',
    'thole-events': '^1.0.0',
  }),
  line('fairlead-auth', 'who may come aboard', '2.1:2 2.2:3 2.3:2', { 'petrel-tls': '^1.0.0' }),
  line('foghorn-tone', 'one long, two short', '1.9:1 2.0:3'),
  line('fulmar-cache', 'keeps what was seen', '3.1:2 3.2:4', { 'periwinkle-ids': '^1.0.0' }),
  line('gannet-http', 'dives for answers', '4.9:2 5.0:2 5.2:4', {
    'lugworm-retry': '^2.0.0',
    'kittiwake-net': '^1.0.0',
  }),
  line('gunwale-grid', 'rows and columns along the side', '3.8:2 4.0:4', {
    'anemone-widgets': '^6.0.0',
  }),
  line('halyard-args', 'words of a command line, hoisted', '1.3:2 1.4:4'),
  line('kelp-json', 'reads it, comments and all', '1.0:2 1.2:2 1.4:4 2.0:2'),
  line('kittiwake-net', 'sockets in a gale', '1.0:2 1.1:4', { 'petrel-tls': '^1.0.0' }),
  line('limpet-test', 'holds on until it is right', '5.0:2 5.1:5 5.2:2', {
    'tidewrack-diff': '^1.0.0',
  }),
  line('lugworm-retry', 'digs again', '1.8:1 1.9:1 2.0:4'),
  line('merganser-xml', 'dips into documents', '1.0:3', { 'razorshell-parse': '^1.0.0' }),
  line('periwinkle-ids', 'small and all different', '1.0:5'),
  line('petrel-tls', 'walks on water', '1.0:4 1.1:2'),
  line('razorshell-parse', 'opens what is shut', '1.0:2 1.1:4'),
  line('saltmarsh-theme', 'greens and greys', '1.0:2 1.1:3', { 'seafret-color': '^1.0.0' }),
  line('samphire-css', 'styles that grow anywhere', '3.0:2 3.1:3'),
  line('sandbar-state', 'state that shifts slowly', '3.9:2 4.0:4', { 'thole-events': '^1.0.0' }),
  line('scupper-fs', 'files, and the way out', '2.0:4', { 'sextant-path': '^1.0.0' }),
  line('seafret-color', 'colours in thin fog', '1.0:4'),
  line('sextant-path', 'where a file is, by the sun', '1.0:4'),
  line('shoal-units', 'knots, fathoms, hours', '1.1:2 1.2:3'),
  line('thole-events', 'what an oar turns on', '1.0:5'),
  line('tidewrack-diff', 'what the tide has left', '1.0:4'),
  line('tombolo-router', 'ways to an island', '1.9:2 2.0:3', { 'sandbar-state': '^4.0.0' }),
  line('whelk-zip', 'wound up small', '2.0:2 2.1:3'),
];

/** What Wendholm Ferries makes itself; its own registry has it. */
export const HOUSE_PACKAGES: readonly PackageLine[] = [
  line('@house/berth-map', 'where each boat lies', '1.0:4', { '@house/tide-tables': '^2.0.0' }),
  line('@house/crew-hours', 'how long a watch may be', '3.0:2 3.1:3', { 'shoal-units': '^1.0.0' }),
  line('@house/fog-codes', 'what each horn says', '1.0:4'),
  line('@house/tide-tables', 'high and low water at our piers', '2.0:2 2.3:2 2.4:4', {
    'shoal-units': '^1.1.0',
  }),
  line('@house/till-rules', 'fares, change and receipts', '1.4:2 1.5:4', { 'kelp-json': '^1.2.0' }),
  line('berth-paint', 'the colours of our piers', '1.1:2 1.2:3', { 'seafret-color': '^1.0.0' }),
];

function line(
  name: string,
  summary: string,
  releases: string,
  needs: Readonly<Record<string, string>> = {},
): PackageLine {
  return { name, summary, stretches: [['2023-03-06', releases]], needs: [['*', needs]] };
}
