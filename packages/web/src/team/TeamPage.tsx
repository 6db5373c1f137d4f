import { useOutletContext } from 'react-router';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { PageHead } from '../frame/PageHead';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { useIs } from '../session/useSession';
import { Section } from '../parts/Section';
import { Audit } from './Audit';
import { Registries } from './Registries';
import { People } from './People';
import { Tokens } from './Tokens';
import { useAccounts, useSetApproval, useTokens } from './useTeam';

/** Who may do what. */
export function TeamPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const isKeeper = useIs('keeper');
  const accounts = useAccounts().data;
  const tokens = useTokens(slug, isKeeper).data;
  const approval = useSetApproval(slug);
  const keepers = accounts?.filter(({ role, isActive }) => role === 'keeper' && isActive).length;
  return (
    <>
      <PageHead title="Team" state={state}>
        {accounts === undefined
          ? 'Reading who may do what.'
          : `${count(accounts.length, 'person', 'people')}, ${count(keepers ?? 0, 'keeper')}${tokens === undefined ? '' : `; ${count(tokens.length, 'token')} of machines`}. ${state?.needsApproval === true ? 'A post waits for a second person.' : 'A keeper posts without asking anyone.'}`}
      </PageHead>
      <div className="flex flex-col gap-7">
        <Section
          title="People"
          step={<span className="text-ink-2">what each may do, in every workspace</span>}
          empty={null}
        >
          <People />
        </Section>
        <Section
          title="A second person"
          step={<span className="text-ink-2">before a post in this workspace</span>}
          empty={null}
        >
          <label className="flex items-baseline gap-2 px-2 py-2.5">
            <input
              type="checkbox"
              checked={approval.isPending ? approval.variables : (state?.needsApproval ?? false)}
              disabled={!isKeeper || state === undefined}
              onChange={(event) => approval.mutate(event.target.checked)}
            />
            <span>
              A draft is posted only when somebody who had no part in it has approved it as it
              stands.
            </span>
          </label>
          {approval.isError && <ErrorNotice error={approval.error} />}
        </Section>
        <Section
          title="Registries"
          step={<span className="text-ink-2">where the packages of this workspace come from</span>}
          empty={null}
        >
          <Registries slug={slug} commit={state?.head.commit} isKeeper={isKeeper} />
        </Section>
        {isKeeper && (
          <>
            <Section
              title="Machines"
              step={<span className="text-ink-2">tokens for this workspace alone</span>}
              empty={null}
            >
              <Tokens slug={slug} />
            </Section>
            <Section
              title="Record"
              step={<span className="text-ink-2">who did what in this workspace</span>}
              empty={null}
            >
              <Audit slug={slug} />
            </Section>
          </>
        )}
      </div>
    </>
  );
}
