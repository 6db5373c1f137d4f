import type { WorkspaceState } from '../api/client';
import { Notice } from '../parts/Notice';
import { ProblemList } from '../parts/ProblemList';
import { count } from '../parts/words';

/** What stands against the whole workspace: files that cannot be read, a registry that does not answer. */
export function Troubles({ state }: { readonly state: WorkspaceState }) {
  const blocking = state.problems.filter((problem) => problem.isBlocking);
  const others = state.problems.filter((problem) => !problem.isBlocking);
  const { registryState: registry } = state;
  return (
    <div className="flex flex-col gap-2 pb-3 empty:hidden">
      {state.repositoryTrouble !== null && (
        <Notice kind="caution" title="The repository does not answer">
          <p>{state.repositoryTrouble}</p>
          <p>What follows is as it was read last; nothing can be posted until it answers.</p>
        </Notice>
      )}
      {blocking.length > 0 && (
        <Notice
          kind="trouble"
          title={`${count(blocking.length, 'problem')} in the files; nothing can be posted until ${blocking.length === 1 ? 'it is' : 'they are'} repaired`}
        >
          <ProblemList problems={blocking} />
        </Notice>
      )}
      {registry.state !== 'up' && (
        <Notice
          kind={registry.unknown.length > 0 ? 'trouble' : 'caution'}
          title={
            registry.state === 'down'
              ? 'The registry does not answer'
              : 'The registry answers nonsense'
          }
        >
          <p>{registry.messages.join(' ')}</p>
          <p>
            {registry.unknown.length > 0
              ? `Nothing is known of ${registry.unknown.join(', ')}, so drafts cannot be evaluated.`
              : 'What follows rests on what it said before.'}
          </p>
        </Notice>
      )}
      {others.length > 0 && (
        <Notice kind="caution" title={`${count(others.length, 'remark')} on the files`}>
          <ProblemList problems={others} />
        </Notice>
      )}
    </div>
  );
}
