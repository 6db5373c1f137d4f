import { useEffect, useRef, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import type { BringIn, BroughtIn } from '../api/client';
import { FirstVisit } from '../frame/FirstVisit';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { TextLink } from '../parts/TextLink';
import { count, short } from '../parts/words';
import { usePageTitle } from '../parts/usePageTitle';
import { useIs } from '../session/useSession';
import { firstFile, openedOf, shapesText, type BringInForm } from './bring-in-form';
import { ManifestsStep } from './ManifestsStep';
import { ProofStep } from './ProofStep';
import { RegistriesStep } from './RegistriesStep';
import { useBroughtIn, useProposal } from './useBringIn';
import { useKeptForm } from './useKeptForm';
import { useSettled } from '../parts/useSettled';

const STEPS = [
  { value: 'manifests', text: '1 Manifests' },
  { value: 'registries', text: '2 Registries' },
  { value: 'proof', text: '3 Proof and draft' },
] as const;
type Step = (typeof STEPS)[number]['value'];

/** What does the tool read in this repository, what does it not, and what would it write? */
export function BringInPage() {
  const context = useOutletContext<FrameContext>();
  const { slug, state } = context;
  usePageTitle('Bring in', state?.name);
  const isDone = state?.bringIn === 'done';
  const proposal = useProposal(slug, isDone ? undefined : state?.head.commit);
  const kept = useKeptForm(slug, proposal.data);
  if (isDone)
    return (
      <>
        <h1 className="font-serif text-title font-[650]">Bring in {state.name}</h1>
        <p className="mt-0.5 text-ink-2">
          This repository is a workspace already: it has a ledger.toml.{' '}
          <TextLink to={`/w/${slug}/overview`}>See how it stands</TextLink>
        </p>
      </>
    );
  if (proposal.isError)
    return <ErrorNotice error={proposal.error} onRetry={() => void proposal.refetch()} />;
  if (proposal.data === undefined || kept.form === null)
    return (
      <>
        <h1 className="font-serif text-title font-[650]">Bring in {state?.name ?? slug}</h1>
        <p className="mt-0.5 text-ink-2">Looking at the files of the repository.</p>
      </>
    );
  return (
    <BringInSteps
      context={context}
      proposal={proposal.data}
      form={kept.form}
      isTyped={kept.isTyped}
      onChange={kept.change}
      onBeginAgain={kept.beginAgain}
    />
  );
}

interface StepsProps {
  readonly context: FrameContext;
  readonly proposal: BringIn;
  readonly form: BringInForm;
  readonly isTyped: boolean;
  readonly onChange: (form: BringInForm) => void;
  readonly onBeginAgain: () => void;
}

function BringInSteps({ context, proposal, form, isTyped, onChange, onBeginAgain }: StepsProps) {
  const { slug, state } = context;
  const [params] = useSearchParams();
  const changeAddress = useChangeAddress();
  const isKeeper = useIs('keeper');
  const [isShown, setShown] = useState(false);
  const step = STEPS.find(({ value }) => value === params.get('step'))?.value ?? 'manifests';
  const settled = useSettled(form);
  const opened = openedOf(form, params.get('kind'));
  const sample = params.get('file') ?? firstFile(form, opened);
  const read = useBroughtIn(slug, proposal.commit, settled, sample);
  const at = STEPS.findIndex(({ value }) => value === step);
  const go = (to: Step): void => changeAddress({ step: to === 'manifests' ? null : to });
  const steps = useRef<HTMLDivElement>(null);
  const isLedOn = useRef(false);
  const goOn = (to: Step): void => {
    isLedOn.current = true;
    go(to);
  };
  // Who leads on by keys was on a control that went with its step; they find themselves at the next one.
  useEffect(() => {
    if (isLedOn.current) steps.current?.focus();
    isLedOn.current = false;
  }, [step]);
  return (
    <>
      <header className="flex flex-wrap items-end justify-between gap-x-4 gap-y-2 pb-2">
        <div className="min-w-0 flex-1 basis-[320px]">
          <h1 className="font-serif text-title font-[650] tracking-[-0.015em]">
            Bring in {form.name}
          </h1>
          <p className="mt-0.5 text-ink-2">{heading(form, read.data)}</p>
        </div>
        <p className="text-right font-mono text-sm text-ink-2">
          step {at + 1} of {STEPS.length}
          <br />
          {state?.branch} at {short(proposal.commit)}
        </p>
      </header>
      <FirstVisit />
      <div className="flex flex-wrap items-center justify-between gap-3 pb-3">
        <div className="flex flex-wrap items-center gap-3">
          <Choice ref={steps} label="Step" value={step} options={STEPS} onChange={go} />
          <span className="text-sm text-ink-2">nothing is written before the draft is posted</span>
        </div>
        <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
          {isTyped && (
            <Button look="text" onClick={onBeginAgain}>
              begin again from what was recognised
            </Button>
          )}
          <Button look="text" onClick={() => setShown(true)}>
            show ledger.shapes.toml
          </Button>
        </div>
      </div>
      {!isKeeper && (
        <div className="pb-3">
          <Notice kind="caution" title="A keeper brings a repository in">
            You can look at what is read and try other places; nothing of it is kept.
          </Notice>
        </div>
      )}
      {read.isError && (
        <div className="pb-3">
          <ErrorNotice error={read.error} onRetry={() => void read.refetch()} />
        </div>
      )}
      {step === 'manifests' && (
        <ManifestsStep
          proposal={proposal}
          form={form}
          read={read.data}
          opened={opened}
          file={sample}
          onChange={onChange}
          onNext={() => goOn('registries')}
        />
      )}
      {step === 'registries' && (
        <RegistriesStep
          slug={slug}
          state={state}
          form={form}
          onChange={onChange}
          onNext={() => goOn('proof')}
        />
      )}
      {step === 'proof' && (
        <ProofStep context={context} proposal={proposal} form={form} read={read.data} onGo={goOn} />
      )}
      <Dialog
        open={isShown}
        title="ledger.shapes.toml"
        about="What the fields of this page say, as the file that the draft will add."
        onClose={() => setShown(false)}
      >
        <pre className="max-h-[60vh] overflow-auto bg-bar p-3 font-mono text-sm">
          {shapesText(form)}
        </pre>
      </Dialog>
    </>
  );
}

function heading({ kinds }: BringInForm, read: BroughtIn | undefined): string {
  const recognised = kinds.filter(({ isSkipped }) => !isSkipped).length;
  const kindWords = count(recognised, 'kind of manifest', 'kinds of manifest');
  if (read === undefined) return `It has no ledger.toml. ${kindWords} recognised; reading them.`;
  if (read.workspace === null)
    return `It has no ledger.toml. ${kindWords}; read so, it is no workspace yet: see the problems.`;
  const { projects, requirements, packages, unresolvedCount: unresolved } = read.workspace;
  const open =
    unresolved === 0
      ? ''
      : ` ${count(unresolved, 'entry is', 'entries are')} no range and left alone.`;
  const wrong = read.problemCount === 0 ? '' : ` ${count(read.problemCount, 'problem')}.`;
  return `It has no ledger.toml. ${kindWords}: ${count(projects, 'project')}, ${count(requirements, 'requirement')} on ${count(packages, 'package')}.${open}${wrong}`;
}
