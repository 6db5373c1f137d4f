import { firstProblems, type ManifestProblem, type ProjectManifest } from '../manifest/index.js';
import type { ForeignProjects } from './foreign-projects.js';
import { mainFile, type Report } from './project-builder.js';
import type { FileProblem } from './workspace.js';

/*
 * Each is far beyond what a repository needs; without them one commit could take the time of everybody who reads it.
 */
const MOST_OF_PROJECT = 20_000;
const MOST_OF_WORKSPACE = 250_000;

/** Takes out the projects that go beyond the limits. @returns their folders. O(projects) */
export function leaveOutTooMany(
  manifests: Map<string, ProjectManifest>,
  foreign: ForeignProjects,
  report: Report,
): readonly string[] {
  const out: string[] = [];
  let left = MOST_OF_WORKSPACE;
  for (const [folder, { requirements, nameSpan }] of manifests) {
    const count = requirements.length + (foreign.projects.get(folder)?.unresolved.length ?? 0);
    const of = left < MOST_OF_PROJECT ? 'workspace' : 'project';
    const limit = Math.min(MOST_OF_PROJECT, left);
    if (count <= limit) {
      left -= count;
      continue;
    }
    const first = requirements[limit];
    const most = of === 'workspace' ? MOST_OF_WORKSPACE : MOST_OF_PROJECT;
    const span = first?.span ?? nameSpan;
    const file = first?.file ?? mainFile(folder, foreign);
    report(file, [{ code: 'TOO_MANY_REQUIREMENTS', most, of, span }]);
    out.push(folder);
  }
  for (const folder of out) manifests.delete(folder);
  return out;
}

/** Of each file's problems the first. O(problems). */
export function firstOfEachFile(problems: readonly FileProblem[]): readonly FileProblem[] {
  const byFile = new Map<string, ManifestProblem[]>();
  for (const { file, problem } of problems) {
    const own = byFile.get(file) ?? [];
    own.push(problem);
    byFile.set(file, own);
  }
  const first = [...byFile].map(([file, own]) => ({ file, own, told: firstProblems(own) }));
  // Where nothing is left out, they stay in the order in which they were found.
  if (first.every(({ own, told }) => own === told)) return problems;
  return first.flatMap(({ file, told }) => told.map((problem) => ({ file, problem })));
}
