import { useOutletContext } from 'react-router';
import type { Overview, WorkspaceState } from '../api/client';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { TextLink } from '../parts/TextLink';
import { count } from '../parts/words';

interface Props {
  readonly slug: string;
  readonly overview: Overview;
}

/** One thing to do, as a link to where it is done. */
export interface Step {
  readonly says: string;
  readonly why: string;
  /** Below the workspace. */
  readonly to: string;
}

/** What to do first, and what then; each is one click away. */
export function NextSteps({ slug, overview }: Props) {
  const { state } = useOutletContext<FrameContext>();
  if (state === undefined) return null;
  const [first, ...others] = nextSteps(state, overview);
  return (
    <section
      aria-label="What to do first"
      className="mb-4 border-l-[3px] border-agreed bg-leaf px-3 py-2"
    >
      {first === undefined ? (
        <p className="font-semibold">
          Nothing is left to do: all is in line, and the lockfile is consistent.
        </p>
      ) : (
        <>
          <p>
            First:{' '}
            <span className="font-semibold">
              <TextLink to={`/w/${slug}/${first.to}`}>{first.says}</TextLink>
            </span>
            . <span className="text-ink-2">{first.why}</span>
          </p>
          {others.length > 0 && (
            <ul className="pt-1 text-sm">
              {others.map(({ says, why, to }) => (
                <li key={to}>
                  Then: <TextLink to={`/w/${slug}/${to}`}>{says}</TextLink>.{' '}
                  <span className="text-ink-2">{why}</span>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </section>
  );
}

/** What stands in the way of posting first, then what clears most at once. */
export function nextSteps(
  state: WorkspaceState,
  { now, remedies }: Pick<Overview, 'now' | 'remedies'>,
): readonly Step[] {
  const steps: Step[] = [];
  const { lock, problems, outOfLine, machinesBehind: behind } = state;
  if (problems.length > 0)
    steps.push({
      says: 'Repair the files that cannot be read',
      why: `${count(problems.length, 'problem')} ${problems.length === 1 ? 'stands' : 'stand'} in the way of every post.`,
      to: 'findings?kind=unreadable',
    });
  if (lock.state !== 'consistent')
    steps.push({
      says: 'Repair the lockfile',
      why: `It is ${lock.state}: ${count(lock.reasons.length, 'reason')}.`,
      to: 'lockfile',
    });
  if (remedies.length > 0)
    steps.push({
      says: 'Clear everything that can be cleared',
      why: 'One draft without a major step and without a decision, tried as a whole.',
      to: 'findings?clear=yes',
    });
  if (now.error > 0)
    steps.push({
      says: `Look at ${count(now.error, 'error')}`,
      why: 'What is installed is not what was agreed on, or cannot be.',
      to: 'findings?severity=error',
    });
  if (outOfLine > 0)
    steps.push({
      says: `Level ${count(outOfLine, 'shared package')}`,
      why: 'Some of their requirements neither take nor equal what was agreed on.',
      to: 'alignment?show=out',
    });
  if (behind > 0)
    steps.push({
      says: `See ${count(behind, 'machine or build run', 'machines and build runs')} on another lockfile`,
      why: 'They install something else than the branch has.',
      to: 'machines',
    });
  return steps.slice(0, 5);
}
