import { isUnbounded } from '../version/index.js';
import { requirementEvidence } from './evidence.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import { SHARED_FILE } from '../workspace/index.js';

/** A range without an upper bound: whatever is published next is let in. */
export const loose: FindingRule = {
  kind: 'loose',
  severity: 'note',
  raise: (grounds) => {
    const agreed = [...grounds.workspace.agreements].flatMap(([name, { range, text }]) => {
      if (!isUnbounded(range)) return [];
      const { span = [0, 0] as const, file = SHARED_FILE } =
        grounds.workspace.shared.shared.get(name) ?? {};
      const version = grounds.answers.copiesOf(name).at(-1);
      return [
        {
          package: name,
          says: `${name} is agreed at ${text}, which has no upper bound`,
          evidence: [
            {
              kind: 'place' as const,
              says: `${name} "${text}"`,
              place: grounds.place(file, span),
            },
          ],
          remedies:
            version === undefined
              ? []
              : [
                  remedy(`agree on ${name} ^${version}`, {
                    kind: 'set-shared',
                    package: name,
                    range: `^${version}`,
                  }),
                ],
        },
      ];
    });
    const own = [...grounds.standing.values()].flatMap((list) =>
      list.flatMap(({ requirement, range, text, answer }): FindingDraft[] => {
        const { written, isEverywhere, project, name } = requirement;
        if (written === 'shared' || isEverywhere || !isUnbounded(range)) return [];
        return [
          {
            project,
            package: name,
            ...(requirement.kind === 'runtime' ? {} : { mark: [requirement.kind] }),
            says: `${grounds.project(project)!.name} asks for ${name} ${text}, which has no upper bound`,
            evidence: [requirementEvidence(grounds, requirement)],
            remedies:
              answer === null
                ? []
                : [
                    remedy(`ask for ${name} ^${answer} in ${grounds.project(project)!.name}`, {
                      kind: 'set-range',
                      package: name,
                      range: `^${answer}`,
                      projects: [project],
                    }),
                  ],
          },
        ];
      }),
    );
    return [...agreed, ...own];
  },
};
