import { SHARED_FILE } from '../workspace/index.js';
import type { Edit } from '../edit/index.js';
import { rangeFor } from '../manifest/index.js';
import { isSameRange, type Range } from '../version/index.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

/** An exception whose last day is over, or a line by which a release is answered otherwise. */
export const lapsedException: FindingRule = {
  kind: 'lapsed-exception',
  severity: 'warning',
  raise: (grounds) => [...lapsedExceptions(grounds), ...lapsedOtherwise(grounds)],
};

function lapsedExceptions(grounds: Grounds): readonly FindingDraft[] {
  return grounds.workspace.exceptions
    .filter(({ until }) => until < grounds.stand.today)
    .map(({ project: named, package: name, range, until, owner, span }) => {
      const project = grounds.workspace.projects.find(
        (one) => one.name === named || one.folder === named,
      );
      const differs =
        project?.requirements.some(
          (one) =>
            one.name === name &&
            one.meaning.kind === 'range' &&
            isSameRange(one.meaning.range, rangeOf(grounds, name, range)),
        ) ?? false;
      const end: Edit = { kind: 'end-exception', package: name, project: named };
      const take: Edit[] =
        differs && project !== undefined
          ? [{ kind: 'take-shared', package: name, projects: [project.folder] }]
          : [];
      return {
        project: project?.folder ?? null,
        package: name,
        says: `The exception of ${named} for ${name} ${range} lapsed on ${until}; ${owner} answers for it`,
        evidence: [
          { kind: 'place', says: 'the exception', place: grounds.place(SHARED_FILE, span) },
        ],
        remedies: [
          remedy(
            differs
              ? `take the shared version of ${name} again in ${named}`
              : `end the exception of ${named} for ${name}`,
            end,
            ...take,
          ),
        ],
      };
    });
}

function lapsedOtherwise(grounds: Grounds): readonly FindingDraft[] {
  return grounds.workspace.shared.otherwise
    .filter(({ until }) => until < grounds.stand.today)
    .map(({ of, package: name, range, until, owner, span }) => ({
      mark: [of],
      package: name,
      says: `What ${of} asks for of ${name} was answered as ${range} until ${until}; ${owner} answers for it`,
      evidence: [{ kind: 'place', says: 'the line', place: grounds.place(SHARED_FILE, span) }],
      remedies: [
        remedy(`answer ${of} as it asks again`, { kind: 'end-otherwise', of, package: name }),
      ],
    }));
}

function rangeOf({ workspace }: Grounds, name: string, text: string): Range {
  return rangeFor(workspace.policy, name, text);
}
