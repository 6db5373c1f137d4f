import fc from 'fast-check';
import { release, type Version } from './version.js';

const number = fc.integer({ min: 0, max: 3 });
const identifier = fc.oneof(fc.integer({ min: 0, max: 2 }), fc.constantFrom('a', 'b', 'a-1'));

export const anyRelease = fc.tuple(number, number, number).map(([a, b, c]) => release(a, b, c));

export const anyVersion: fc.Arbitrary<Version> = fc
  .record({ base: anyRelease, prerelease: fc.array(identifier, { maxLength: 2 }) })
  .map(({ base, prerelease }) => ({ ...base, prerelease }));

/** Every version with numbers up to 4 and none, or one of a few, prereleases: dense enough to hit every bound. */
export const GRID: readonly Version[] = grid();

function grid(): Version[] {
  const prereleases: Version['prerelease'][] = [
    [],
    [0],
    [1],
    [2],
    ['a'],
    ['a', 0],
    ['a', 'a'],
    ['a-1'],
    ['b'],
    ['b', 2],
  ];
  const versions: Version[] = [];
  for (let major = 0; major <= 4; major++) {
    for (let minor = 0; minor <= 4; minor++) {
      for (let patch = 0; patch <= 4; patch++) {
        for (const prerelease of prereleases)
          versions.push({ ...release(major, minor, patch), prerelease });
      }
    }
  }
  return versions;
}
