import { afterAll, beforeAll, expect, test } from 'vitest';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';

interface Draft extends SeenDraft {
  readonly id: string;
  readonly evaluation: SeenDraft['evaluation'] & {
    readonly consequences: { readonly ownRanges: readonly object[]; readonly sum: string };
  };
}

const TURN_ON = { kind: 'set-policy', package: null, setting: 'own-ranges', value: 'refused' };
const OWN = { kind: 'set-range', package: 'log', range: '^2.0.0', projects: ['apps/kit'] };

let world: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
});
afterAll(() => world.stop());

const drafted = (edits: readonly object[]): Promise<Draft> => world.drafted<Draft>(edits);

function post(draft: Draft) {
  return world.server.http
    .post(world.at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: 'As seen' });
}

test('the rule is turned on by a draft that shows whom it hits; from then on no post adds another range', async () => {
  const on = await drafted([TURN_ON]);
  expect(on.evaluation.consequences.ownRanges).toEqual([
    { project: 'apps/web', name: 'log', range: '^2.0.0', agreed: '^1.0.0', isAdded: false },
  ]);
  await post(on).expect(201);

  const added = await drafted([OWN]);
  expect(added.evaluation.consequences.ownRanges).toMatchObject([{ isAdded: true }]);
  const refused = await post(added).expect(409);
  expect(refused.body).toMatchObject({ code: 'OWN_RANGE_REFUSED' });
  expect((refused.body as { detail: string }).detail).toContain(
    'apps/kit would write ^2.0.0 for log, on which ^1.0.0 is agreed.',
  );
  // With an exception it may.
  const granted = await drafted([
    {
      kind: 'grant-exception',
      project: 'kit',
      package: 'log',
      range: '^2.0.0',
      reason: 'tries it',
      owner: 'us',
      until: '2099-01-01',
    },
  ]);
  expect(granted.evaluation.consequences.ownRanges).toEqual([]);
  await post(granted).expect(201);
  // What was there stays, and other work goes on.
  await post(await drafted([{ kind: 'pin', package: 'json', version: '1.0.0' }])).expect(201);
});
