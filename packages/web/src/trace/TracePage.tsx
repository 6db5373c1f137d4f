import { useMemo } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import type { Edit, NamedLink, ProjectName, Trace, TraceNode } from '../api/client';
import { usePencil } from '../draft/usePencil';
import { isTyping } from '../frame/is-typing';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import { useWindowKey } from '../frame/useWindowKey';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { TextLink } from '../parts/TextLink';
import { count, short } from '../parts/words';
import { useNames } from '../alignment/useNames';
import { ChainList, type Step } from './ChainList';
import { Leaving } from './Leaving';
import { NameLists } from './NameLists';
import { SeveralCopies } from './SeveralCopies';
import { traceParams, traceView, type TraceView } from './trace-address';
import { TraceControls } from './TraceControls';
import { TraceDrawing } from './TraceDrawing';
import { pencilledTrace } from './pencilled-trace';
import { StruckLinks } from './StruckLinks';
import { useChains, useSeveral, useTrace, useWhatIf, useWithout } from './useTrace';
import { useComeIntoSight } from './useComeIntoSight';
import { WhatIf } from './WhatIf';
import { WhatIfForm } from './WhatIfForm';

const NO_PROJECTS: readonly ProjectName[] = [];
const NO_LINKS: readonly NamedLink[] = [];
const NO_COPIES: readonly string[] = [];

/** Who brings this package in, by which chains, at which versions, and what would leave with it. */
export function TracePage() {
  const frame = useOutletContext<FrameContext>();
  const { slug, state } = frame;
  const commit = state?.head.commit;
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const view = useMemo(() => traceView(params), [params]);
  const tried = view.tried ?? [];
  const struck = view.struck ?? NO_LINKS;
  const go = (next: TraceView): void => change(traceParams(next));
  const names = useNames(slug, commit);
  const trace = useTrace(slug, commit, view);
  const chains = useChains(slug, commit, view);
  const several = useSeveral(slug, commit, view.package);
  const outcome = useComeIntoSight(tried.length + struck.length);
  const whatIf = useWhatIf(slug, commit, tried);
  const without = useWithout(slug, commit, struck);
  const pencil = usePencil(frame);
  const projects = names.data?.projects ?? NO_PROJECTS;
  const packages = useMemo(() => names.data?.packages.map(({ name }) => name) ?? [], [names.data]);
  const tryOut = (edits: readonly Edit[]): void => go({ ...view, tried: [...tried, ...edits] });
  // A requirement of a project is an edit; what a release requires can only be thought away.
  const strike = (from: Step | TraceNode, to: Step | TraceNode): void => {
    if (from.id === null || to.id === null) return;
    const isSupplied = 'link' in to && to.link === 'supplied';
    if (from.kind === 'project' && !isSupplied)
      tryOut([{ kind: 'remove-requirement', package: to.name, projects: [from.id] }]);
    else if (!struck.some((link) => link.from === from.id && link.to === to.id))
      go({ ...view, struck: [...struck, { from: from.id, to: to.id }] });
  };
  const putIn = (): void => {
    if (tried.length === 0 || pencil.isPending) return;
    pencil.mutate(
      { kind: 'edits', edits: tried, draftName: `Trace of ${view.package ?? 'the workspace'}` },
      { onSuccess: () => change({ if: null }) },
    );
  };
  useWindowKey((event) => {
    const isPlain = !event.ctrlKey && !event.metaKey && !event.altKey;
    if (event.key.toLowerCase() === 'p' && isPlain && !isTyping(event.target)) putIn();
  });
  const title = titleOf(view, projects);
  const found = trace.data;
  const isTried = tried.length > 0;
  const answer = isTried ? whatIf.data : undefined;
  const leaving = struck.length > 0 ? (without.data?.copies ?? NO_COPIES) : NO_COPIES;
  const pencilled = useMemo(
    () => (found === undefined ? null : pencilledTrace(found, { answer, struck, leaving })),
    [found, answer, struck, leaving],
  );
  const open = (id: string): void => {
    const [name = '', version] = id.split(' ');
    go(version === undefined ? { project: id } : { package: name });
  };
  return (
    <>
      <PageHead title={`Trace ${title}`} state={state}>
        {found === undefined ? 'Following the chains.' : headingOf(found)}{' '}
        {commit !== undefined && (
          <span className="text-ink-3">
            At <code className="font-mono text-sm">{short(commit)}</code>.
          </span>
        )}
      </PageHead>
      <NameLists packages={packages} projects={projects} />
      <TraceControls
        view={view}
        direction={found?.direction ?? view.direction ?? 'up'}
        projects={projects}
        packages={packages}
        targets={found?.targets ?? []}
        versions={several.data?.copies.map(({ version }) => version) ?? []}
        onChange={go}
      />
      {trace.isError && <ErrorNotice error={trace.error} onRetry={() => void trace.refetch()} />}
      {found !== undefined && pencilled !== null && !trace.isError && (
        <TraceDrawing
          trace={found}
          title={`Trace ${title}`}
          pencilled={pencilled}
          chosen={view.through ?? null}
          onChoose={(id) => change({ through: id })}
          onOpen={open}
          onOpenColumn={(column) => go({ ...view, open: [...(view.open ?? []), column] })}
          onStrike={strike}
        />
      )}
      <div className="flex flex-wrap items-center justify-between gap-2 py-2.5">
        <WhatIfForm
          subject={[view.package, view.project, view.from, view.through].join(' ')}
          projects={projects}
          initialProject={projectOf(
            view,
            projects.map(({ folder }) => folder),
          )}
          initialPackage={
            view.through?.split(' ')[1] === undefined
              ? (view.package ?? '')
              : view.through.split(' ')[0]!
          }
          onTry={(edit) => tryOut([edit])}
        />
        <TextLink to={`/w/${slug}/trace/weights`}>What leaves with each requirement</TextLink>
      </div>
      <div ref={outcome}>
        {struck.length > 0 && (
          <StruckLinks
            slug={slug}
            struck={struck}
            without={without.isPlaceholderData ? undefined : without.data}
            error={without.error}
            onTakeBack={(index) => go({ ...view, struck: struck.filter((_, i) => i !== index) })}
          />
        )}
        {isTried && (
          <div className="pb-3">
            <WhatIf
              tried={tried}
              answer={whatIf.isPlaceholderData ? undefined : whatIf.data}
              isPencilling={pencil.isPending}
              onTakeBack={(index) => go({ ...view, tried: tried.filter((_, i) => i !== index) })}
              onPencil={putIn}
              onTry={tryOut}
            />
            {whatIf.isError && <ErrorNotice error={whatIf.error} />}
            {pencil.isError && <ErrorNotice error={pencil.error} />}
          </div>
        )}
      </div>
      <div className="grid grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-x-6 gap-y-3 pb-4 max-fold:grid-cols-1">
        {several.data !== undefined && several.data.copies.length > 1 && (
          <SeveralCopies several={several.data} onTry={tryOut} />
        )}
        <Leaving
          key={view.through}
          slug={slug}
          commit={commit}
          node={view.through ?? found?.ends.at(-1)}
        />
      </div>
      {(view.package ?? view.project) !== undefined && (
        <Chains
          chains={chains}
          ends={found?.ends ?? []}
          onChoose={(id) => change({ through: id })}
          onStrike={strike}
        />
      )}
    </>
  );
}

interface ChainsProps {
  readonly chains: ReturnType<typeof useChains>;
  readonly ends: readonly string[];
  readonly onChoose: (id: string) => void;
  readonly onStrike: (from: Step, to: Step) => void;
}

function Chains({ chains, ends, onChoose, onStrike }: ChainsProps) {
  const list = chains.data?.pages.flatMap((page) => page.chains) ?? [];
  const total = chains.data?.pages[0]?.total ?? null;
  if (chains.isError)
    return <ErrorNotice error={chains.error} onRetry={() => void chains.refetch()} />;
  if (chains.data === undefined) return null;
  return (
    <>
      <p className="pb-1.5 text-ink-2">
        {list.length === 0
          ? 'No chain is like this.'
          : total === null
            ? `The first ${list.length} chains, the shortest first`
            : `${list.length} of ${count(Number(total), 'chain')}, the shortest first`}
      </p>
      {list.length > 0 && (
        <ChainList chains={list} ends={ends} onChoose={onChoose} onStrike={onStrike} />
      )}
      {chains.hasNextPage && (
        <Button
          look="quiet"
          className="mt-3"
          disabled={chains.isFetchingNextPage}
          onClick={() => void chains.fetchNextPage()}
        >
          {chains.isFetchingNextPage ? 'Following' : 'Show more chains'}
        </Button>
      )}
    </>
  );
}

function titleOf(
  { package: name, version, project }: TraceView,
  projects: readonly { folder: string; name: string }[],
): string {
  if (name !== undefined) return version === undefined ? name : `${name} ${version}`;
  if (project !== undefined)
    return projects.find(({ folder }) => folder === project)?.name ?? project;
  return 'of all projects';
}

function headingOf({
  subject,
  direction,
  ends,
  chains,
  projects,
  size,
  cycles,
  nodes,
}: Trace): string {
  const cycle =
    cycles.length === 0
      ? ''
      : ` ${count(cycles.length, 'cycle')}: ${cycles.map((one) => one.join(', ')).join('; ')}.`;
  if (subject === 'workspace')
    return `${count(nodes.length, 'project')} among themselves.${cycle || ' None require each other in a cycle.'}`;
  if (direction === 'down')
    return `It brings ${count(size - ends.length, 'project or copy', 'projects and copies')}.`;
  const copies = count(ends.length, 'copy', 'copies');
  return `${subject === 'project' ? 'It is' : copies + ','} reached by ${chains ?? 'very many'} ${chains === '1' ? 'chain' : 'chains'} from ${count(projects, 'project')}.`;
}

function projectOf(view: TraceView, folders: readonly string[]): string {
  return (
    [view.through, view.from, view.project].find(
      (one): one is string => one !== undefined && folders.includes(one),
    ) ?? ''
  );
}
