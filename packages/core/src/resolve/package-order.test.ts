import { expect, test } from 'vitest';
import { packageOrder } from './package-order.js';
import { recordsOf } from './world.arbitrary.js';

test('a package comes before those it needs; circles stand together', () => {
  const records = recordsOf({
    app: { '1.0.0': { needs: { left: '*', right: '*' } } },
    left: { '1.0.0': { needs: { base: '*' } } },
    right: { '1.0.0': { needs: { base: '*' } }, '2.0.0': { needs: { ring: '*' } } },
    ring: { '1.0.0': { needs: { right: '*' } } },
    base: { '1.0.0': {} },
  });
  const order = packageOrder(records);
  expect(order).toHaveLength(4);
  const place = (name: string): number => order.findIndex((group) => group.includes(name));
  expect(place('app')).toBe(0);
  expect(place('base')).toBe(3);
  expect(order[place('ring')]).toEqual(['right', 'ring']);
});

test('a chain of 20,000 packages does not run out of stack', () => {
  const names = Array.from({ length: 20_000 }, (_, i) => `p${i}`);
  const records = recordsOf(
    Object.fromEntries(
      names.map((name, i) => [
        name,
        { '1.0.0': { needs: i + 1 < names.length ? { [`p${i + 1}`]: '*' } : {} } },
      ]),
    ),
  );
  expect(packageOrder(records).map(([name]) => name)).toEqual(names);
});
