// oxlint-disable-next-line no-restricted-imports -- the schema and the sample are files in docs/
import { readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { getStaticTOMLValue, parseTOML } from 'toml-eslint-parser';
import { expect, test } from 'vitest';
import { readShapes } from './read-shapes.js';

const docs = (path: string): string =>
  readFileSync(new URL(`../../../../docs/${path}`, import.meta.url), 'utf8');
const validate = new Ajv2020({ strict: true, allowUnionTypes: true }).compile(
  JSON.parse(docs('schemas/ledger.shapes.schema.json')) as object,
);
const [, SAMPLE = ''] = /```toml\n([^]*?)```/.exec(docs('shapes.md'))!;
const valueOf = (text: string): unknown => getStaticTOMLValue(parseTOML(text));

test('the schema of ledger.shapes accepts the sample in the docs, as the reader does', () => {
  expect(validate(valueOf(SAMPLE)), JSON.stringify(validate.errors)).toBe(true);
  const { shapes, problems } = readShapes(SAMPLE);
  expect(problems).toEqual([]);
  expect(shapes).toMatchObject({ manifests: [{ levels: 1 }], shared: { file: 'versions.json' } });
});

test.each([
  'format = 2',
  'format = 1\n[[manifest]]\nfiles = ["a"]\nsyntax = "ini"',
  'format = 1\n[[manifest]]\nfiles = ["a"]\nsyntax = "json"\n[[manifest.requirements]]\nat = "libraries"',
  'format = 1\n[shared]\nfile = "a"\nsyntax = "lines"\nat = "$.a"',
  'format = 1\nmanifests = []',
])('both refuse %j', (text) => {
  expect(validate(valueOf(text))).toBe(false);
  expect(readShapes(text).problems).not.toEqual([]);
});
