import { describe, expect, test } from 'vitest';
import { readRootManifest } from './root-manifest.js';
import { registryOf, schemeOf } from './registries.js';

const HEAD = 'format = 1\nname = "w"\nprojects = ["*"]\n';

function read(text: string): ReturnType<typeof readRootManifest> {
  return readRootManifest(`${HEAD}${text}`);
}

describe('registries', () => {
  const { root, problems } = read(
    '[registries]\nhouse = ["@lifts/*", "brindle-*", "a*b*c", "exact"]\nmain = ["*"]\n',
  );
  const of = (name: string): string | null => registryOf(root!.registries, name);

  test.each([
    ['@lifts/core', 'house'],
    ['@lifts/core/deep', 'house'],
    ['@lift/core', 'main'],
    ['brindle-', 'house'],
    ['my-brindle-x', 'main'],
    ['abc', 'house'],
    ['axxbxxcxxc', 'house'],
    ['acb', 'main'],
    ['ab', 'main'],
    ['exact', 'house'],
    ['exactly', 'main'],
  ])('%s is asked of %s', (name, registry) => {
    expect(problems).toEqual([]);
    expect(of(name)).toBe(registry);
  });

  test('a name that no pattern matches is asked of nobody', () => {
    const { registries } = read('[registries]\nhouse = ["@lifts/*"]\n').root!;
    expect(registryOf(registries, 'log')).toBeNull();
  });

  test('each writes versions in a scheme of its own, SemVer where nothing is said', () => {
    const { root: two } = read(
      '[registries]\nyard = { names = ["yard-*"], versions = "dotted" }\nmain = { names = ["*"] }\n',
    );
    const schemes = ['yard-log', 'log'].map((name) => schemeOf(two!.registries, name));
    expect(schemes).toEqual(['dotted', 'semver']);
  });

  test('the short form names one for all', () => {
    expect(registryOf(read('registry = "main"\n').root!.registries, '@a/b')).toBe('main');
  });

  test.each([
    ['', 'KEY_MISSING'],
    ['registry = "m"\n[registries]\nmain = ["*"]\n', 'REGISTRY_TWICE'],
    ['[registries]\n', 'KEY_MISSING'],
    ['[registries]\nmain = "*"\n', 'WRONG_TYPE'],
    ['[registries]\nmain = []\n', 'KEY_MISSING'],
    ['[registries]\nmain = { names = [] }\n', 'KEY_MISSING'],
    ['[registries]\nmain = { names = ["*"], versions = "odd" }\n', 'VALUE_UNKNOWN'],
    ['[registries]\nmain = { names = ["*"], version = "dotted" }\n', 'UNKNOWN_KEY'],
    ['registry = "a b"\n', 'NAME_INVALID'],
    ['[registries]\n"a/b" = ["*"]\n', 'NAME_INVALID'],
    ['registries = 1\n', 'WRONG_TYPE'],
  ])('%j is refused', (text, code) => {
    expect(read(text).problems.map((one) => one.code)).toContain(code);
  });
});
