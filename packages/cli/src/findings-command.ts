import {
  findAll,
  findingsAsSarif,
  lookForNeedless,
  mutesOf,
  standOfBase,
  SEVERITIES,
  type Evidence,
  type Finding,
  type Severity,
} from '@deep-ledger/core';
import { count } from './count-words.js';
import { EXIT } from './exit-codes.js';
import { loadBase, type BaseOptions } from './load-base.js';
import type { Output } from './output.js';
import { scanWorkTree } from './scan-work-tree.js';

export interface FindingsOptions extends BaseOptions {
  readonly json?: true;
  readonly sarif?: true;
  /** Findings of this severity and above end with exit code 1. */
  readonly failOn: Severity;
  /** Leave source alone. */
  readonly scan: boolean;
}

/** Lists what is wrong in a work tree, the worst first. @returns the exit code */
export async function findingsCommand(
  options: FindingsOptions,
  version: string,
  output: Output,
): Promise<number> {
  output.progress('reading manifests and registry');
  const base = await loadBase(options, output);
  const { workspace } = base;
  const use =
    workspace === null || !options.scan
      ? null
      : await scanWorkTree(options.in, workspace, (files) =>
          output.progress(`${files} source files`),
        );
  output.progress('looking for findings');
  const findings = findAll(standOfBase(base, { use, needless: lookForNeedless(base) }));
  output.progress(null);
  const muted = mutesOf(workspace, base.today);
  const open = findings.filter(({ id }) => !muted.has(id));
  if (options.sarif)
    output.say(
      JSON.stringify(findingsAsSarif(findings, { version, commit: null, muted }), null, 2),
    );
  else if (options.json)
    output.say(
      JSON.stringify({
        format: 1,
        findings: findings.map((one) => ({ ...one, isMuted: muted.has(one.id) })),
      }),
    );
  else tell(open, findings.length - open.length, output);
  const worse = SEVERITIES.slice(0, SEVERITIES.indexOf(options.failOn) + 1);
  return open.some(({ severity }) => worse.includes(severity)) ? EXIT.stale : EXIT.ok;
}

function tell(open: readonly Finding[], muted: number, output: Output): void {
  for (const severity of SEVERITIES)
    for (const { says, kind, evidence } of open.filter((one) => one.severity === severity))
      output.say(
        `${output.mark(severity.padEnd(7), severity)}  ${kind.padEnd(16)} ${placeOf(evidence)}${says}`,
      );
  const counts = SEVERITIES.map((severity) =>
    count(open.filter((one) => one.severity === severity).length, severity),
  );
  output.say(
    `${count(open.length, 'finding')}: ${counts.join(', ')}${muted === 0 ? '' : `; ${muted} muted`}.`,
  );
}

function placeOf(evidence: readonly Evidence[]): string {
  const found = evidence.find((one) => one.kind === 'place');
  return found?.kind !== 'place' ? '' : `${found.place.file}:${found.place.line}: `;
}
