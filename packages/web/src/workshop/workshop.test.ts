import { describe, expect, test, vi } from 'vitest';
import type { LevelPreview } from '@deep-ledger/core';
import { Workshop, type Model } from './workshop';

const release = (version: string, needs: Readonly<Record<string, string>> = {}) => ({
  version,
  published: '2024-01-01T00:00:00Z',
  needs,
  archive: { path: `/${version}`, integrity: `sha512-${'A'.repeat(86)}==`, bytes: 10 },
});
const MODEL: Model = {
  commit: 'abc',
  today: '2025-01-01',
  files: [
    {
      path: 'ledger.toml',
      text: 'format = 1\nname = "small"\nprojects = ["*"]\nregistry = "main"\n',
    },
    { path: 'web/ledger.project.toml', text: 'name = "web"\n[needs]\nlog = "^2.0.0"\n' },
    { path: 'kit/ledger.project.toml', text: 'name = "kit"\n[needs]\nlog = "~1.0.0"\n' },
  ],
  packages: [
    { name: 'log', releases: [release('1.0.0'), release('2.0.0', { json: '*' })] },
    { name: 'json', releases: [release('1.0.0')] },
  ],
  missing: [],
};

function workshop(model: Model = MODEL) {
  const fetchModel = vi.fn(() => Promise.resolve(model));
  return { shop: new Workshop(fetchModel), fetchModel };
}

describe('the workshop', () => {
  test('reads a model once, and again when it is another', async () => {
    const { shop, fetchModel } = workshop();
    await shop.open('/model', 'a');
    await shop.open('/model', 'a');
    expect(fetchModel).toHaveBeenCalledTimes(1);
    await shop.open('/model', 'b');
    expect(fetchModel).toHaveBeenCalledTimes(2);
  });

  test('tries a model again that could not be read', async () => {
    const { shop, fetchModel } = workshop();
    fetchModel.mockRejectedValueOnce(new Error('the line is down'));
    await expect(shop.open('/model', 'a')).rejects.toThrow('the line is down');
    await shop.open('/model', 'a');
    expect(await shop.begin('log', [])).toEqual(['2.0.0', '1.0.0']);
  });

  test('says the effect of levelling, on top of edits, and ranks it', async () => {
    const { shop } = workshop();
    await shop.open('/model', 'a');
    const versions = await shop.begin('log', []);
    const previews = versions.map((version) => shop.preview(version)!);
    expect(previews.map(told)).toEqual([
      ['2.0.0', ['web'], ['kit', 'web'], 3, 'answered'],
      ['1.0.0', ['kit'], ['kit', 'web'], 3, 'answered'],
    ]);
    expect(shop.rank(previews).map(({ version, reasons }) => [version, reasons])).toEqual([
      ['2.0.0', ['newest']],
      ['1.0.0', ['fewest copies']],
    ]);
    await shop.begin('log', [
      { kind: 'set-shared', package: 'log', range: '~1.0.0' },
      { kind: 'take-shared', package: 'log', projects: ['web', 'kit'] },
      { kind: 'pin', package: 'log', version: '1.0.0' },
    ]);
    expect(told(shop.preview('2.0.0')!).at(-1)).toBe('unanswered');
  });

  test('refuses a document that is none, with its place', async () => {
    const { shop } = workshop({ ...MODEL, packages: [{ name: 'log', releases: 'many' }] });
    await expect(shop.open('/model', 'a')).rejects.toThrow(/^\/releases: /);
  });
});

function told({ version, allowedBy, takers, files, result }: LevelPreview): readonly unknown[] {
  return [version, allowedBy, takers, files, result.kind];
}
