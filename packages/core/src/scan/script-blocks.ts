import type { ScriptLanguage } from './scan-script.js';

/** A script inside a file of another language. */
export interface ScriptBlock {
  readonly text: string;
  readonly language: ScriptLanguage;
  /** The line of the file on which it begins, from 1. */
  readonly line: number;
}

/**
 * The script elements of a file of markup: those that run, not data. Comments are passed over.
 *  > <script setup lang="ts">import { a } from 'one'</script>
 *                            ^                     ^
 * O(length).
 */
export function markupScripts(text: string): readonly ScriptBlock[] {
  const blocks: ScriptBlock[] = [];
  const tag = /<!--[\s\S]*?-->|<script\b((?:"[^"]*"|'[^']*'|[^>"'])*)>([\s\S]*?)<\/script\s*>/gi;
  for (const match of text.matchAll(tag)) {
    const [all, attributes, body] = match;
    if (attributes === undefined || body === undefined || !runs(attributes)) continue;
    const start = match.index + all.indexOf('>', '<script'.length + attributes.length) + 1;
    blocks.push({ text: body, language: languageOf(attributes), line: lineAt(text, start) });
  }
  return blocks;
}

/** The script between two lines of dashes with which a file begins, and its script elements. */
export function frontedScripts(text: string): readonly ScriptBlock[] {
  const front = /^\uFEFF?\s*---[ \t]*\r?\n([\s\S]*?)^---[ \t]*$/m.exec(text);
  const blocks = markupScripts(text);
  if (front === null || front.index !== 0) return blocks;
  const start = front[0].indexOf('\n', front[0].indexOf('---')) + 1;
  return [{ text: front[1]!, language: 'ts', line: lineAt(text, start) }, ...blocks];
}

/**
 * The scripts of a text with marks: its script elements, and paragraphs that begin with `import` or `export`. Text
 * between fences, or indented, is an example and not a script.
 */
export function markedScripts(text: string): readonly ScriptBlock[] {
  const blocks: ScriptBlock[] = [];
  let fence: string | null = null;
  let isParagraph = false;
  let open: { line: number; lines: string[] } | null = null;
  const visible: string[] = [];
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    const mark = /^ {0,3}(`{3,}|~{3,})/.exec(line)?.[1];
    const wasFenced = fence !== null;
    if (mark !== undefined && fence === null) fence = mark;
    else if (mark !== undefined && fence !== null && mark.startsWith(fence)) fence = null;
    const isProse = !wasFenced && mark === undefined;
    visible.push(isProse ? line : '');
    if (open !== null) {
      if (line.trim() !== '') {
        open.lines.push(line);
        continue;
      }
      blocks.push({ text: open.lines.join('\n'), language: 'tsx', line: open.line });
      open = null;
    }
    if (isProse && !isParagraph && /^(?:import|export)\b/.test(line))
      open = { line: i + 1, lines: [line] };
    isParagraph = line.trim() !== '';
  }
  if (open !== null) blocks.push({ text: open.lines.join('\n'), language: 'tsx', line: open.line });
  return [...blocks, ...markupScripts(visible.join('\n'))];
}

function runs(attributes: string): boolean {
  const type = /\btype\s*=\s*["']?([^"'\s>]+)/i.exec(attributes)?.[1]?.toLowerCase();
  return type === undefined || type === 'module' || /(?:java|ecma|type)script|\bjsx$/.test(type);
}

function languageOf(attributes: string): ScriptLanguage {
  const named = /\b(?:lang|type)\s*=\s*["']?([^"'\s>]+)/i.exec(attributes)?.[1]?.toLowerCase();
  if (named === 'tsx' || named === 'jsx') return 'tsx';
  return named === 'ts' || named?.includes('typescript') === true ? 'ts' : 'js';
}

function lineAt(text: string, offset: number): number {
  let line = 1;
  for (let at = text.indexOf('\n'); at >= 0 && at < offset; at = text.indexOf('\n', at + 1)) line++;
  return line;
}
