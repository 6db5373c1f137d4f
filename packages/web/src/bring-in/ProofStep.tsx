import type { ReactNode } from 'react';
import type { BringIn, BroughtIn, Draft } from '../api/client';
import { useDraft } from '../draft/useDraft';
import { usePencil } from '../draft/usePencil';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { ProblemList } from '../parts/ProblemList';
import { Section } from '../parts/Section';
import { TextLink } from '../parts/TextLink';
import { useIs } from '../session/useSession';
import { shapesText, type BringInForm } from './bring-in-form';
import { useForget, usePrepare } from './useBringIn';

interface Props {
  readonly context: FrameContext;
  readonly proposal: BringIn;
  readonly form: BringInForm;
  readonly read: BroughtIn | undefined;
  readonly onGo: (step: 'manifests' | 'registries') => void;
}

/** The workspace as it would be: read, resolved, with its findings; and the draft that adds its files. */
export function ProofStep({ context, proposal, form, read, onGo }: Props) {
  const { slug, state, draftId, takeDraft } = context;
  const isKeeper = useIs('keeper');
  const prepare = usePrepare(slug);
  const forget = useForget(slug);
  const pencil = usePencil({ slug, draftId, takeDraft });
  const draft = useDraft(slug, draftId, state?.head.commit).data;
  const isPrepared = state?.bringIn === 'prepared';
  const isSame = proposal.prepared?.shapes === shapesText(form);
  const work = (): void =>
    prepare.mutate(form, {
      onSuccess: () => {
        if (draft?.edits.some(({ edit }) => edit.kind === 'bring-up') === true) return;
        pencil.mutate({
          kind: 'edits',
          edits: [{ kind: 'bring-up' }],
          draftName: `Bring in ${form.name}`,
        });
      },
    });
  const unresolved = read?.workspace?.unresolved ?? [];
  const isBusy = prepare.isPending || pencil.isPending;
  const failed = prepare.error ?? pencil.error ?? forget.error;
  return (
    <div className="flex flex-col gap-4">
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={!isKeeper || isBusy || read?.workspace == null} onClick={work}>
          {prepare.isPending
            ? 'Asking the registries'
            : pencil.isPending
              ? 'Resolving'
              : isPrepared
                ? 'Read and resolve again'
                : 'Read, resolve and make a draft'}
        </Button>
        {isPrepared && (
          <Button look="text" disabled={forget.isPending} onClick={() => forget.mutate()}>
            forget what was prepared
          </Button>
        )}
        {isPrepared && !isSame && (
          <span className="text-sm text-caution">
            The fields say something else than what was resolved.
          </span>
        )}
      </div>
      {failed !== null && <ErrorNotice error={failed} />}
      {read?.workspace === null && (
        <Notice kind="trouble" title="Read so, it is no workspace yet">
          <ProblemList problems={read.problems.slice(0, 10)} isAtHead={false} />
          <Button look="text" onClick={() => onGo('manifests')}>
            Back to the manifests
          </Button>
        </Notice>
      )}
      {isPrepared && draft !== undefined && <Proof context={context} draft={draft} read={read} />}
      <div className="grid grid-cols-2 gap-3.5 max-fold:grid-cols-1">
        <Section
          title="The draft adds ledger.toml, ledger.shapes.toml and ledger.lock"
          empty={null}
        >
          <pre
            tabIndex={0}
            aria-label="Text of ledger.shapes.toml"
            className="max-h-[300px] overflow-auto p-2.5 font-mono text-sm"
          >
            {shapesText(form)}
          </pre>
        </Section>
        <Section
          title="Left alone"
          empty={
            unresolved.length === 0 && read?.problemCount === 0
              ? 'Every entry is read, and nothing is wrong.'
              : null
          }
        >
          <div className="max-h-[300px] overflow-auto p-2.5 text-sm">
            {unresolved.map(({ name, text, file, line }) => (
              <p key={`${file} ${line} ${name}`} className="pb-2">
                <code className="font-mono text-xs text-ink">
                  {file}:{line}
                </code>
                <br />“{text}” is no range for {name}. It is kept as it stands, and not resolved.
              </p>
            ))}
            <ProblemList problems={read?.problems ?? []} isAtHead={false} />
          </div>
        </Section>
      </div>
    </div>
  );
}

interface ProofProps {
  readonly context: FrameContext;
  readonly draft: Draft;
  readonly read: BroughtIn | undefined;
}

function Proof({ context: { slug, state }, draft, read }: ProofProps) {
  const { consequences, kind, explanations, problems } = draft.evaluation;
  if (consequences === null)
    return (
      <Notice kind="trouble" title={kind === 'unanswered' ? 'No answer' : 'It cannot be resolved'}>
        {explanations.flat().map((sentence) => (
          <p key={sentence}>{sentence}</p>
        ))}
        <ProblemList problems={problems} isAtHead={false} />
      </Notice>
    );
  const { adopted, copiesAfter, outOfLineAfter, findings } = consequences;
  return (
    <>
      <Section title="Read and resolved" empty={null}>
        <dl className="grid grid-cols-5 max-fold:grid-cols-2" aria-label="Figures of the workspace">
          <Figure name="projects" to={`/w/${slug}/projects`}>
            {state?.projects}
          </Figure>
          <Figure name="requirements">{read?.workspace?.requirements}</Figure>
          <Figure name="copies in the lockfile" to={`/w/${slug}/lockfile`}>
            {copiesAfter}
          </Figure>
          <Figure name="packages out of line" to={`/w/${slug}/alignment`}>
            {outOfLineAfter}
          </Figure>
          <Figure name="findings" to={`/w/${slug}/findings`}>
            {findings.left}
          </Figure>
        </dl>
      </Section>
      {adopted !== null && (
        <Section
          title={`What is installed today: ${adopted.kept} of ${adopted.kept + adopted.changed.length} versions stay`}
          empty={adopted.changed.length === 0 ? 'The first lockfile keeps all of them.' : null}
        >
          <table className="w-full border-collapse text-sm">
            <tbody>
              {adopted.changed.map(({ name, from, to, why }) => (
                <tr key={`${name} ${from}`} className="h-[31px] border-b border-rule even:bg-bar">
                  <td className="px-2.5 font-semibold">{name}</td>
                  <td className="px-2.5 font-mono">
                    {from} → {to.length === 0 ? 'gone' : to.join(', ')}
                  </td>
                  <td className="px-2.5 text-ink-2">{why}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Section>
      )}
      <p>
        The draft is in pencil at the side. Post it there, or look at the workspace first: every
        page shows it as it would be.
      </p>
    </>
  );
}

interface FigureProps {
  readonly name: string;
  readonly to?: string;
  readonly children: ReactNode;
}

function Figure({ name, to, children }: FigureProps) {
  return (
    <div className="flex flex-col-reverse border-r border-rule px-2.5 py-2 last:border-r-0">
      <dt className="text-sm text-ink-2">
        {to === undefined ? name : <TextLink to={to}>{name}</TextLink>}
      </dt>
      <dd className="font-mono text-lg font-semibold">{children ?? '…'}</dd>
    </div>
  );
}
