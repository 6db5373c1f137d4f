import type { ScanPattern } from '../manifest/index.js';
import { packageOfSpecifier } from './package-of-specifier.js';
import type { SourceReference } from './source-scan.js';

/** Longer lines were made by a machine, and are passed over. */
const LONGEST_LINE = 2000;

/**
 * The packages that lines name as patterns say: a line that begins, after blanks, with what stands before
 * `{package}` and goes on with what stands after it. A blank in a pattern is one blank or more. Patterns are
 * plain text, so that none can take more than O(length).
 */
export function scanByPatterns(
  text: string,
  patterns: readonly ScanPattern[],
): readonly SourceReference[] {
  const tests = patterns.map(({ reads }) => lineTest(reads));
  const references: SourceReference[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    if (line.length > LONGEST_LINE) return;
    for (const test of tests) {
      const match = test.exec(line);
      const name = match === null ? null : packageOfSpecifier(match[2]!);
      if (match === null || name === null) continue;
      references.push({
        package: name,
        specifier: match[2]!,
        form: 'pattern',
        line: i + 1,
        column: match[1]!.length + 1,
        isTypeOnly: false,
        isSure: false,
      });
      return;
    }
  });
  return references;
}

/** A name, perhaps with a path in it; a colon only between two of its other characters. */
const NAME_LIKE = String.raw`@?[\p{L}\p{Nd}][\p{L}\p{M}\p{Nd}._~+@/-]*(?::[\p{L}\p{Nd}][\p{L}\p{M}\p{Nd}._~+@/-]*)*`;

function lineTest(reads: string): RegExp {
  const [before, after] = reads.split('{package}').map((part) =>
    part
      .split(/\s+/)
      .map((word) => word.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&'))
      .join('\\s+'),
  );
  return new RegExp(`^(\\s*${before!.replace(/^\\s\+/, '')})(${NAME_LIKE})${after}`, 'u');
}
