import { expect, test } from 'vitest';
import { manifestProblemMessage } from './manifest-problem.js';
import { carryOut } from './plan.js';
import { readRootManifest } from './root-manifest.js';
import {
  dropStandingOrder,
  nextDue,
  scheduleProblem,
  setStandingOrder,
  type StandingOrderText,
} from './standing-orders.js';

const ROOT = 'format = 1\nname = "test"\nprojects = ["*"]\nregistry = "main"\n';
const ORDER: StandingOrderText = {
  name: 'weekly-patches',
  every: 'monday',
  take: 'minor',
  olderThanDays: 7,
  packages: ['moraine-*'],
  except: ['moraine-grid'],
  to: 'branch',
};

function read(text: string) {
  const { root, problems } = readRootManifest(text);
  return {
    orders: root!.standing.map(({ span: _, ...order }) => order),
    problems: problems.map(manifestProblemMessage),
  };
}

test('an order is written, changed in its place in the file, and taken out; what is as usual is not written', () => {
  const written = carryOut(ROOT, ...setStandingOrder(ORDER))!;
  expect(read(written)).toEqual({ orders: [ORDER], problems: [] });
  const plain: StandingOrderText = {
    ...ORDER,
    take: 'patch',
    olderThanDays: 0,
    packages: [],
    except: [],
    to: 'draft',
  };
  const changed = carryOut(written, ...setStandingOrder(plain))!;
  expect(changed).toBe(
    `${ROOT}\n[[standing]]\nname = "weekly-patches"\nevery = "monday"\ntake = "patch"\n`,
  );
  expect(read(changed).orders).toEqual([plain]);
  expect(read(carryOut(changed, dropStandingOrder(ORDER.name))!).orders).toEqual([]);
});

test('what is wrong with an order is said, and the others stay', () => {
  const text = `${ROOT}
[[standing]]
name = "one"
every = "monday"
[[standing]]
name = "one"
every = "friday"
[[standing]]
name = "two"
every = "someday"
[[standing]]
name = "three"
every = "0 4 32 * *"
[[standing]]
every = "monday"
`;
  const { orders, problems } = read(text);
  expect(orders.map(({ name, every }) => [name, every])).toEqual([['one', 'monday']]);
  expect(problems).toEqual([
    'There is more than one standing order named "one". Give one of them another name.',
    expect.stringContaining('"every" cannot be used: Write a day of the week such as "monday"'),
    expect.stringContaining('"every" cannot be used: '),
    expect.stringContaining('"name" is missing.'),
  ]);
});

test.each([
  ['monday', '2026-11-29T10:00:00Z', '2026-11-30T04:00:00.000Z'],
  ['Monday', '2026-11-30T04:00:00Z', '2026-12-07T04:00:00.000Z'],
  ['30 6 1 * *', '2026-11-30T04:00:00Z', '2026-12-01T06:30:00.000Z'],
  ['0 4 29 2 *', '2026-11-30T04:00:00Z', '2028-02-29T04:00:00.000Z'],
])('%s is due after %s at %s', (every, after, due) => {
  expect(scheduleProblem(every)).toBeNull();
  expect(nextDue(every, new Date(after))?.toISOString()).toBe(due);
});

test('a day that no month has, seconds and words are no time', () => {
  for (const every of ['0 4 31 2 *', '* * * * * *', '@daily', '', '61 4 * * *'])
    expect(scheduleProblem(every), every).not.toBeNull();
});
