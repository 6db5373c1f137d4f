import { NAME_WORDS, type Span } from '../text/index.js';
import { versionProblemMessage, type VersionProblem } from '../version/index.js';

/** What can be wrong in a hand-written file, or between several of them. Spans are offsets in the file. */
export type ManifestProblem = { readonly span: Span } & (
  | {
      readonly code: 'SYNTAX';
      /** In whole sentences. */
      readonly message: string;
    }
  | { readonly code: 'FILE_MISSING'; readonly what: string; readonly remedy: string }
  | { readonly code: 'FORMAT_UNKNOWN'; readonly found: string }
  | {
      readonly code: 'UNKNOWN_KEY';
      readonly key: string;
      readonly meant: string | null;
      readonly known: readonly string[];
    }
  | { readonly code: 'KEY_MISSING'; readonly key: string; readonly example: string }
  | {
      readonly code: 'WRONG_TYPE';
      readonly key: string;
      readonly expected: string;
      readonly found: string;
    }
  | {
      readonly code: 'VALUE_UNKNOWN';
      readonly key: string;
      readonly found: string;
      readonly allowed: readonly string[];
    }
  | { readonly code: 'NUMBER_OUT_OF_BOUNDS'; readonly key: string; readonly found: number }
  | { readonly code: 'QUERY_INVALID'; readonly key: string; readonly message: string }
  | { readonly code: 'SHAPE_WITHOUT_MATCH'; readonly files: readonly string[] }
  | { readonly code: 'MANIFEST_TWICE'; readonly otherFile: string }
  | { readonly code: 'RANGE_FOREIGN'; readonly name: string; readonly text: string }
  | { readonly code: 'REGISTRY_TWICE' }
  | { readonly code: 'REGISTRY_NONE'; readonly name: string }
  | { readonly code: 'NAME_INVALID'; readonly what: string; readonly found: string }
  | { readonly code: 'DATE_INVALID'; readonly key: string; readonly found: string }
  | { readonly code: 'RANGE_INVALID'; readonly key: string; readonly cause: VersionProblem }
  | { readonly code: 'VERSION_INVALID'; readonly key: string; readonly cause: VersionProblem }
  | {
      readonly code: 'TARGET_UNKNOWN';
      readonly pattern: string;
      readonly targets: readonly string[];
    }
  | {
      readonly code: 'REQUIRED_TWICE';
      readonly name: string;
      readonly kinds: readonly [string, string];
    }
  | {
      readonly code: 'TOO_MANY_REQUIREMENTS';
      readonly most: number;
      readonly of: 'project' | 'workspace';
    }
  | { readonly code: 'MORE_PROBLEMS'; readonly count: number }
  | { readonly code: 'GLOB_OUTSIDE'; readonly glob: string }
  | { readonly code: 'GLOB_WITHOUT_MATCH'; readonly glob: string }
  | { readonly code: 'OWNER_NAMELESS' }
  | { readonly code: 'OWNER_WITHOUT_MATCH'; readonly pattern: string }
  | { readonly code: 'PROJECT_TWICE'; readonly name: string; readonly otherFile: string }
  | { readonly code: 'PROJECT_UNKNOWN'; readonly name: string; readonly meant: string | null }
  | { readonly code: 'NAMED_TWICE'; readonly what: string; readonly name: string }
  | { readonly code: 'NOT_SHARED'; readonly name: string }
  | {
      readonly code: 'AGREED_TWICE';
      readonly name: string;
      readonly first: string;
      readonly second: string;
    }
);

/** The problem in words: what is wrong, then what can be done. */
export function manifestProblemMessage(problem: ManifestProblem): string {
  switch (problem.code) {
    case 'SYNTAX':
      return problem.message;
    case 'FILE_MISSING':
      return `${problem.what} ${problem.remedy}`;
    case 'FORMAT_UNKNOWN':
      return `Format ${problem.found} is not known to this version of the tool, which reads format 1. Update the tool, or write "format = 1".`;
    case 'UNKNOWN_KEY':
      return problem.meant === null
        ? `"${problem.key}" is not known here. Known are ${problem.known.join(', ')}.`
        : `"${problem.key}" is not known here. Did you mean "${problem.meant}"?`;
    case 'KEY_MISSING':
      return `"${problem.key}" is missing. Add a line such as ${problem.example}.`;
    case 'WRONG_TYPE':
      return `"${problem.key}" must be ${problem.expected}, not ${problem.found}.`;
    case 'VALUE_UNKNOWN':
      return `"${problem.found}" is no value for "${problem.key}". Write one of ${problem.allowed.join(', ')}.`;
    case 'NUMBER_OUT_OF_BOUNDS':
      return `${problem.found} is no value for "${problem.key}". Write a whole number from 0 up.`;
    case 'QUERY_INVALID':
      return `"${problem.key}" cannot be used: ${problem.message}`;
    case 'SHAPE_WITHOUT_MATCH':
      return `No file matches ${problem.files.map((one) => `"${one}"`).join(', ')}. Correct the patterns or remove the shape.`;
    case 'MANIFEST_TWICE':
      return `This project has ${problem.otherFile} as well. Keep one of the two, or leave this file out of the shape's patterns with "!".`;
    case 'RANGE_FOREIGN':
      return `"${problem.text}" of "${problem.name}" is no range, and \`readable = "strict"\` allows nothing else.`;
    case 'REGISTRY_TWICE':
      return '`registry` is the short form of [registries]. Keep one of the two.';
    case 'REGISTRY_NONE':
      return `No registry of this workspace has a pattern for "${problem.name}". Add one to [registries] in ledger.toml, such as main = ["*"] as the last line.`;
    case 'NAME_INVALID':
      return `"${problem.found}" is no name of a ${problem.what}. ${NAME_WORDS}`;
    case 'DATE_INVALID':
      return `"${problem.found}" is no day. Write "${problem.key}" as a TOML date such as 2027-03-31.`;
    case 'RANGE_INVALID':
      return `The range of "${problem.key}" cannot be read: ${versionProblemMessage(problem.cause)}.`;
    case 'VERSION_INVALID':
      return `The version of "${problem.key}" cannot be read: ${versionProblemMessage(problem.cause)}.`;
    case 'TARGET_UNKNOWN':
      return `"${problem.pattern}" matches none of the workspace's targets (${problem.targets.join(', ')}), so this requirement would never be answered. Correct the pattern or add the target to ledger.toml.`;
    case 'REQUIRED_TWICE':
      return `"${problem.name}" is required twice, as ${problem.kinds[0]} and as ${problem.kinds[1]}. Keep one of the two.`;
    case 'TOO_MANY_REQUIREMENTS':
      return `At most ${problem.most.toLocaleString('en')} requirements of a ${problem.of} are read, and from here on there are more. Take out those that are not needed, or leave the file out of the ${problem.of === 'project' ? 'workspace' : "workspace's patterns"}.`;
    case 'MORE_PROBLEMS':
      return `There are ${problem.count.toLocaleString('en')} more problems in this file, the first of them here. Mend those above first.`;
    case 'GLOB_OUTSIDE':
      return `"${problem.glob}" leads out of the repository. Write a path below its root, with "/" between folders.`;
    case 'GLOB_WITHOUT_MATCH':
      return `"${problem.glob}" matches no folder with a ledger.project.toml. Add the file to the project's folder or remove the pattern.`;
    case 'OWNER_NAMELESS':
      return 'An owner has no name. Write it in quotes, as in "kiosk crew" = ["apps/*"].';
    case 'OWNER_WITHOUT_MATCH':
      return `"${problem.pattern}" matches the folder of no project. Correct the pattern or remove it.`;
    case 'PROJECT_TWICE':
      return `The name "${problem.name}" is already borne by the project in ${problem.otherFile}. Give one of the two another name.`;
    case 'PROJECT_UNKNOWN':
      return problem.meant === null
        ? `No project of this workspace is named "${problem.name}". Require the package by a range, or add the project.`
        : `No project of this workspace is named "${problem.name}". Did you mean "${problem.meant}"?`;
    case 'NAMED_TWICE':
      return `There is more than one ${problem.what} named "${problem.name}". Give one of them another name.`;
    case 'NOT_SHARED':
      return `"${problem.name}" takes the shared version, but none is agreed on. Add it to [shared] in ledger.shared.toml, or write a range here.`;
    case 'AGREED_TWICE':
      return `"${problem.name}" is agreed on twice, in ${problem.first} and in ${problem.second}. Keep one of the two.`;
  }
}

const MOST_TOLD = 200;

/** The first problems of a file, and how many more there are: nobody mends thousands one by one. */
export function firstProblems(problems: readonly ManifestProblem[]): readonly ManifestProblem[] {
  const others = problems.slice(MOST_TOLD);
  const [next] = others;
  if (next === undefined) return problems;
  const count = others.reduce((sum, one) => sum + countOf(one), 0);
  return [...problems.slice(0, MOST_TOLD), { code: 'MORE_PROBLEMS', count, span: next.span }];
}

function countOf(problem: ManifestProblem): number {
  return problem.code === 'MORE_PROBLEMS' ? problem.count : 1;
}
