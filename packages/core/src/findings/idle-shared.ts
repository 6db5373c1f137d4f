import type { OtherwiseLine } from '../manifest/index.js';
import { SHARED_FILE } from '../workspace/index.js';
import type { Edit } from '../edit/index.js';
import type { Span } from '../text/index.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

/** A line of the shared file that serves nothing: nobody requires what it agrees on, or has what it pins. */
export const idleShared: FindingRule = {
  kind: 'idle-shared',
  severity: 'note',
  raise: (grounds) => {
    const { shared, exceptions } = grounds.workspace;
    const raise = (
      mark: string,
      name: string,
      says: string,
      span: Span,
      cure: string,
      edit: Edit,
      file = SHARED_FILE,
    ): FindingDraft => ({
      mark: [mark],
      package: name,
      says,
      evidence: [{ kind: 'place', says: mark, place: grounds.place(file, span) }],
      remedies: [remedy(cure, edit)],
    });
    const idle = [...shared.shared]
      .filter(([name]) => !grounds.standing.has(name))
      .map(([name, { text, span, file }]) =>
        raise(
          'shared',
          name,
          `${name} is agreed at ${text}, and no project requires it`,
          span,
          `agree on ${name} no more`,
          { kind: 'retire-shared', package: name },
          file,
        ),
      );
    const pins = [...shared.pins]
      .filter(([name]) => grounds.answers.copiesOf(name).length === 0)
      .map(([name, { text, span }]) =>
        raise(
          'pin',
          name,
          `${name} is pinned to ${text}, and there is no copy of it`,
          span,
          `pin ${name} no more`,
          {
            kind: 'unpin',
            package: name,
          },
        ),
      );
    const served = new Set(
      [...grounds.standing.values()].flatMap((list) =>
        list.flatMap(({ standing }) => (standing.kind === 'excepted' ? [standing.exception] : [])),
      ),
    );
    const idleExceptions = exceptions
      .filter((line) => line.until >= grounds.stand.today && !served.has(line))
      .map((line) => ({
        ...raise(
          'exception',
          line.package,
          `${line.project} has an exception for ${line.package} ${line.range}, and does not ask for that`,
          line.span,
          `end the exception of ${line.project} for ${line.package}`,
          { kind: 'end-exception', package: line.package, project: line.project },
        ),
        mark: ['exception', line.project],
      }));
    const idleOtherwise = shared.otherwise
      .filter((line) => line.until >= grounds.stand.today && !serves(grounds, line))
      .map((line) => ({
        ...raise(
          'otherwise',
          line.package,
          `What ${line.of} asks for of ${line.package} is to be answered as ${line.range}, and no copy of it asks otherwise`,
          line.span,
          `answer ${line.of} as it asks again`,
          { kind: 'end-otherwise', of: line.of, package: line.package },
        ),
        mark: ['otherwise', line.of],
      }));
    return [...idle, ...pins, ...idleExceptions, ...idleOtherwise];
  },
};

/** Does any copy ask for another range than the line answers? */
function serves({ resolution }: Grounds, { of, package: name, range }: OtherwiseLine): boolean {
  return resolution.copies.some(
    (copy) =>
      copy.name === of &&
      copy.requirements.some((one) => one.name === name && one.written !== range),
  );
}
