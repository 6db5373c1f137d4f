import type { ScanSettings } from '../manifest/index.js';
import { globMatcher } from '../text/index.js';
import { scanByPatterns } from './scan-by-patterns.js';
import { scanScript, type ScriptLanguage } from './scan-script.js';
import { frontedScripts, markedScripts, markupScripts, type ScriptBlock } from './script-blocks.js';
import { NOTHING_SEEN, type SourceScan } from './source-scan.js';

/** Changes with what a scan finds, so that results that are kept are known to be old. */
export const SCAN_REVISION = 1;

const SCRIPTS: Readonly<Record<string, ScriptLanguage>> = {
  ts: 'ts',
  mts: 'ts',
  cts: 'ts',
  tsx: 'tsx',
  js: 'js',
  mjs: 'js',
  cjs: 'js',
  jsx: 'js',
};

const MIXED: Readonly<Record<string, (text: string) => readonly ScriptBlock[]>> = {
  html: markupScripts,
  htm: markupScripts,
  vue: markupScripts,
  svelte: markupScripts,
  astro: frontedScripts,
  md: markedScripts,
  mdx: markedScripts,
  markdown: markedScripts,
};

/** Machines write these; nobody's imports stand in them. */
const NEVER_SOURCE = /(?:^|\/)(?:node_modules|\.git)\/|\.min\.[cm]?js$/;

/** Decides which files a scan reads, and reads them. */
export class SourceScanner {
  private readonly isSkipped: (path: string) => boolean;
  private readonly patterns: readonly {
    readonly isFor: (path: string) => boolean;
    readonly pattern: ScanSettings['patterns'][number];
  }[];
  /** Results for the same content differ where this differs. */
  readonly key: string;

  constructor({ skip, patterns }: ScanSettings) {
    this.isSkipped = skip.length === 0 ? () => false : globMatcher(skip);
    this.patterns = patterns.map((pattern) => ({
      isFor: globMatcher(pattern.files.flatMap((one) => [one, `**/${one}`])),
      pattern,
    }));
    this.key = JSON.stringify([SCAN_REVISION, patterns]);
  }

  /** @param path from the project's folder */
  isSource(path: string): boolean {
    if (NEVER_SOURCE.test(path) || this.isSkipped(path)) return false;
    const extension = extensionOf(path);
    return extension in SCRIPTS || extension in MIXED || this.hasPatternsFor(path);
  }

  hasPatternsFor(path: string): boolean {
    return this.patterns.some(({ isFor }) => isFor(path));
  }

  /** What a file refers to: a function of its content, its name's ending and the patterns alone. O(length). */
  scan(path: string, text: string): SourceScan {
    const extension = extensionOf(path);
    const scans: SourceScan[] = [];
    const language = SCRIPTS[extension];
    if (language !== undefined) scans.push(scanScript(text, language));
    for (const block of MIXED[extension]?.(text) ?? [])
      scans.push(scanScript(block.text, block.language, block.line));
    const patterns = this.patterns.flatMap(({ isFor, pattern }) => (isFor(path) ? pattern : []));
    if (patterns.length > 0) scans.push({ references: scanByPatterns(text, patterns), unseen: [] });
    if (scans.length === 0) return NOTHING_SEEN;
    return scans.length === 1
      ? scans[0]!
      : {
          references: scans.flatMap(({ references }) => references),
          unseen: scans.flatMap(({ unseen }) => unseen),
        };
  }
}

function extensionOf(path: string): string {
  return path.slice(path.lastIndexOf('.') + 1).toLowerCase();
}
