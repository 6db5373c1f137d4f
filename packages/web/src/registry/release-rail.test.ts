import { expect, test } from 'vitest';
import type { RegistryPackage } from '../api/client';
import { railMarks } from './release-rail';

type Release = RegistryPackage['releases'][number];

const release = (version: string, published: string, more: Partial<Release> = {}): Release => ({
  version,
  published,
  licence: 'MIT',
  isLicenceAllowed: true,
  terms: null,
  bytes: 1,
  needs: [],
  peers: [],
  platform: [],
  targets: ['*'],
  deprecated: null,
  isPrerelease: false,
  why: null,
  isInUse: false,
  ...more,
});

test('marks stand at their days and look as they can be used; those in use are drawn on top', () => {
  const marks = railMarks([
    release('2.0.0', '2026-01-11', { why: 'was withdrawn' }),
    release('1.1.0', '2026-01-06', { isInUse: true, deprecated: 'old' }),
    release('1.0.0', '2026-01-01'),
  ]);
  expect(marks).toEqual([
    { version: '2.0.0', x: 1, look: 'shut' },
    { version: '1.0.0', x: 0, look: 'free' },
    { version: '1.1.0', x: 0.5, look: 'used' },
  ]);
  expect(railMarks([release('1.0.0', '2026-01-01')])).toMatchObject([{ x: 0 }]);
});
