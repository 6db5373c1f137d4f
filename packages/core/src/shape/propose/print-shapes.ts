import { printString } from '../../manifest/index.js';
import type { Proposal, ProposedManifest } from './propose-shapes.js';

/** A proposal as the text of `ledger.shapes.toml`. */
export function printShapes({ manifests, shared }: Proposal): string {
  const parts = manifests.map(printManifest);
  if (shared !== null)
    parts.push(
      `[shared]\nfile = ${printString(shared.file)}\nsyntax = ${printString(shared.syntax)}\nat = ${printString(shared.at)}\n`,
    );
  return ['format = 1\n', ...parts].join('\n');
}

function printManifest(manifest: ProposedManifest): string {
  const { files, syntax, pattern, levels, name, version, requirements, ranges, shared } = manifest;
  const lines = [
    '[[manifest]]',
    `files = [${printString(files)}]`,
    `syntax = ${printString(syntax)}`,
    ...(levels === 0 ? [] : [`folder = ${levels}`]),
    ...(pattern === null ? [] : [`pattern = '${pattern}'`]),
    ...(name === null ? [] : [`name = ${printString(name)}`]),
    ...(version === null ? [] : [`version = ${printString(version)}`]),
  ];
  if (pattern === null)
    for (const { at, package: item, range, kind } of requirements)
      lines.push(
        '',
        '[[manifest.requirements]]',
        `at = ${printString(at)}`,
        ...(item === null ? [] : [`package = ${printString(item)}`]),
        ...(range === null ? [] : [`range = ${printString(range)}`]),
        ...(kind === 'runtime' ? [] : [`kind = ${printString(kind)}`]),
      );
  if (ranges !== 'semver' || shared !== null)
    lines.push(
      '',
      '[manifest.spelling]',
      ...(ranges === 'semver' ? [] : [`ranges = ${printString(ranges)}`]),
      ...(shared === null ? [] : [`shared = ${printString(shared)}`]),
    );
  return `${lines.join('\n')}\n`;
}
