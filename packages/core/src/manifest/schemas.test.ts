// oxlint-disable-next-line no-restricted-imports -- the schemas and samples are files in docs/
import { readFileSync } from 'node:fs';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import formats from 'ajv-formats';
import { parseTOML, getStaticTOMLValue } from 'toml-eslint-parser';
import { describe, expect, test } from 'vitest';
import { readProjectManifest } from './project-manifest.js';
import { readRootManifest } from './root-manifest.js';
import { readSharedManifest } from './shared-manifest.js';

function schema(name: string): ValidateFunction {
  const file = new URL(`../../../../docs/schemas/${name}.schema.json`, import.meta.url);
  const ajv = new Ajv2020({ strict: true, allowUnionTypes: true });
  formats.default(ajv);
  return ajv.compile(JSON.parse(readFileSync(file, 'utf8')) as object);
}

/** The value of a TOML text as an editor hands it to a schema: dates as text. */
function valueOf(text: string): unknown {
  return JSON.parse(
    JSON.stringify(getStaticTOMLValue(parseTOML(text)), (key, value: unknown) =>
      key === 'until' ? String(value).slice(0, 10) : value,
    ),
  );
}

/** The whole files among the samples in the page on formats, in order. */
const SAMPLES = [
  ...readFileSync(new URL('../../../../docs/formats.md', import.meta.url), 'utf8').matchAll(
    /```toml\n([^]*?)```/g,
  ),
].flatMap(([, text]) => (/^(format|name) = /.test(text!) ? [text!] : []));

describe.each([
  [
    'ledger',
    0,
    readRootManifest,
    [
      'format = 2',
      'format = 1\nname = "w"\nprojects = "x"\nregistry = "m"',
      'format = 1\nname = "w"\nprojects = []',
      'format = 1\nname = "w"\nprojects = []\nregistry = "m"\n[registries]\nm = ["*"]',
      'format = 1\nname = "w"\nprojects = []\n[registries]\n"m/n" = ["*"]',
      'format = 1\nname = "w"\nprojects = []\nregistry = "m"\n[policy]\ncopies = "two"',
    ],
  ],
  [
    'ledger.shared',
    1,
    readSharedManifest,
    [
      'format = 1\nshare = 1',
      'format = 1\n[shared]\na = 1',
      'format = 1\n[lockstep.s]\nrange = "1"',
    ],
  ],
  [
    'ledger.project',
    2,
    readProjectManifest,
    [
      'version = "1.0.0"',
      'name = "P Q"',
      'name = "p"\n[needs]\na = { when = [] }',
      'name = "p"\n[use]\nx = 1',
    ],
  ],
] as const)('the schema of %s', (name, sample, read, wrong) => {
  const validate = schema(name);

  test('accepts the sample in the docs, as the reader does', () => {
    expect(validate(valueOf(SAMPLES[sample]!)), JSON.stringify(validate.errors)).toBe(true);
    expect(read(SAMPLES[sample]!).problems).toEqual([]);
  });

  test.each(wrong)('refuses %j, as the reader does', (text) => {
    expect(validate(valueOf(text))).toBe(false);
    expect(read(text).problems.length).toBeGreaterThan(0);
  });
});
