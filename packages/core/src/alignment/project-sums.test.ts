import fc from 'fast-check';
import { expect, test } from 'vitest';
import { filesOf, recordsOf, workspaceOf } from '../resolve/world.arbitrary.js';
import { alignmentRows } from './alignment-row.js';
import { projectSums } from './project-sums.js';

const RANGES = ['^1.0.0', '~1.0.0', 'shared', '^2.0.0'];
const RECORDS = recordsOf({
  log: { '1.0.0': {}, '1.2.0': {}, '2.0.0': {} },
  ink: { '1.0.0': {}, '1.2.0': {}, '2.0.0': {} },
});
const SHARED = `format = 1
[shared]
log = "^1.0.0"
ink = "^1.0.0"
[[exceptions]]
project = "kiosk"
package = "log"
range = "^2.0.0"
reason = "old image"
owner = "kiosk crew"
until = 2027-01-01
`;
const anyNeeds = fc.dictionary(fc.constantFrom('log', 'ink'), fc.constantFrom(...RANGES));

test('sums over projects are the sums over packages', () => {
  fc.assert(
    fc.property(anyNeeds, anyNeeds, anyNeeds, (web, kit, kiosk) => {
      const files = filesOf({ web, kit, kiosk }, { 'ledger.shared.toml': SHARED });
      const workspace = workspaceOf(files);
      const rows = alignmentRows(workspace, RECORDS, null, '2025-01-01');
      const sums = projectSums(workspace, rows);
      expect(sums.map(({ folder }) => folder)).toEqual(
        workspace.projects.map(({ folder }) => folder),
      );
      const total = (of: (sum: (typeof sums)[number]) => number): number =>
        sums.reduce((all, sum) => all + of(sum), 0);
      const cells = rows.flatMap((row) => row.cells);
      expect(total((sum) => sum.requirements)).toBe(cells.length);
      expect(total((sum) => sum.takes)).toBe(
        [web, kit, kiosk].flatMap((needs) => Object.values(needs)).filter((one) => one === 'shared')
          .length,
      );
      expect(total((sum) => sum.off)).toBe(cells.filter(({ isOff }) => isOff).length);
      expect(total((sum) => sum.exceptions)).toBe(kiosk['log'] === '^2.0.0' ? 1 : 0);
    }),
  );
});
