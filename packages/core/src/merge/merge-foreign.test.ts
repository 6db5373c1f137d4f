import { describe, expect, test } from 'vitest';
import { readShapes } from '../shape/index.js';
import { mergeFile } from './merge-file.js';

const { shapes } = readShapes(`format = 1
[[manifest]]
files = ["*.json"]
syntax = "json"
[[manifest.requirements]]
at = "$.libraries"
[[manifest.requirements]]
at = "$.tools"
kind = "dev"
`);

const text = (libraries: string, rest = '', above = ''): string =>
  `${above}{\n  "libraries": {\n${libraries}  }${rest}\n}\n`;
const BASE = text('    "ash": "^1.0.0",\n    "elm": "^1.0.0"\n');

function merged(ours: string, theirs: string): unknown {
  return mergeFile('a.json', { base: BASE, ours, theirs }, shapes!);
}

describe('a foreign manifest', () => {
  test('merges requirements of one line each, and what else was changed by lines', () => {
    const ours = text('    "ash": "^2.0.0",\n    "elm": "^1.0.0"\n');
    const theirs = text('    "ash": "^1.0.0",\n    "birch": "^3.0.0"\n', '', '// theirs\n');
    const both =
      '// theirs\n{\n  "libraries": {\n    "ash": "^2.0.0",\n    "birch": "^3.0.0"\n  }\n}\n';
    expect(merged(ours, theirs)).toEqual({ kind: 'merged', text: both });
    expect(merged(theirs, ours)).toEqual({ kind: 'merged', text: both });
  });

  test('tells what both sides changed differently', () => {
    const [ours, theirs] = ['^2.0.0', '^3.0.0'].map((range) =>
      text(`    "ash": "${range}",\n    "elm": "^1.0.0"\n`),
    );
    const conflict = {
      file: 'a.json',
      path: ['runtime', 'ash'],
      base: '^1.0.0',
      ours: '^2.0.0',
      theirs: '^3.0.0',
    };
    expect(merged(ours!, theirs!)).toEqual({ kind: 'conflicts', conflicts: [conflict] });
    expect(
      mergeFile('a.json', { base: BASE, ours: ours!, theirs: theirs! }, shapes!, () => 'theirs'),
    ).toEqual({ kind: 'merged', text: theirs });
  });

  test('is a conflict as a whole where its other lines do not fit together', () => {
    const ours = text('    "ash": "^1.0.0",\n    "elm": "^1.0.0"\n', ',\n  "note": "ours"');
    const theirs = text('    "ash": "^1.0.0",\n    "elm": "^1.0.0"\n', ',\n  "note": "theirs"');
    expect(merged(ours, theirs)).toMatchObject({ kind: 'conflicts', conflicts: [{ path: [] }] });
  });
});
