import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useOutletContext, useParams, useSearchParams } from 'react-router';
import { answer, api, type Project, type ProjectRequirement } from '../api/client';
import { keys } from '../api/keys';
import { countingEdits, useDraft } from '../draft/useDraft';
import { usePencil } from '../draft/usePencil';
import { EditDialog } from '../edit/EditDialog';
import { addForm, requirementForm, type RequirementStep } from '../edit/edit-forms';
import type { EditForm } from '../edit/form';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { bytes, count } from '../parts/words';
import { pencilledCells } from '../alignment/pencilled-cells';
import { packagePanelQuery } from '../alignment/useAlignment';
import { useNames } from '../alignment/useNames';
import { REQUIREMENT_COLUMNS, RequirementLine } from './RequirementLine';
import { TextLink } from '../parts/TextLink';
import { EditorButton } from '../session/EditorButton';
import { PlaceLink } from '../file/PlaceLink';
import { folderPath } from '../parts/folder-path';

const KINDS = ['runtime', 'dev', 'peer', 'optional'] as const;
const TITLES = {
  runtime: 'at run time',
  dev: 'for development',
  peer: 'of whoever requires it',
  optional: 'where it can be had',
} as const;

/** One project: what it requires itself, and beneath each line what that line alone brings along. */
export function ProjectPage() {
  const frame = useOutletContext<FrameContext>();
  const { slug, state, draftId } = frame;
  const folder = useParams()['*'] ?? '';
  const [params] = useSearchParams();
  const commit = state?.head.commit;
  const project = useQuery({
    queryKey: keys.project(slug, folder, commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/project', {
          params: { path: { slug }, query: { folder } },
          signal,
        }),
      ),
    enabled: commit !== undefined,
  });
  const names = useNames(slug, commit);
  const queries = useQueryClient();
  const draft = useDraft(slug, draftId, commit);
  const pencil = usePencil(frame);
  const [form, setForm] = useState<EditForm | null>(null);
  const ask = useMutation({
    mutationFn: async ([step, line]: readonly [RequirementStep, ProjectRequirement]) => {
      const { name, kind, range } = line;
      // Who else requires it can take the step as well; what a project answers, each writes for itself.
      const folders = new Set([folder]);
      if (line.project === null) {
        const panel = await queries.fetchQuery(packagePanelQuery(slug, name, commit));
        for (const one of panel.requirements) folders.add(one.folder);
      }
      const having = (names.data?.projects ?? []).filter((one) => folders.has(one.folder));
      return requirementForm(step, { name, kind, range: range ?? '' }, having, [folder]);
    },
    onSuccess: setForm,
  });
  if (project.isError) {
    return <ErrorNotice error={project.error} onRetry={() => void project.refetch()} />;
  }
  const { data } = project;
  const projects = names.data?.projects ?? [];
  const pencilled = pencilledCells(
    countingEdits(draft.data),
    (name) => names.data?.packages.find((one) => one.name === name)?.agreed ?? null,
  );
  const added = countingEdits(draft.data).filter(
    (edit) => edit.kind === 'add-requirement' && edit.projects.includes(folder),
  );
  const query = params.get('draft') === null ? '' : `?draft=${params.get('draft')}`;
  return (
    <>
      <PageHead title={data?.name ?? folder} state={state}>
        {data === undefined ? 'Reading the project.' : <Heading project={data} />}
      </PageHead>
      {data !== undefined && (
        <>
          <div className="flex flex-wrap items-center gap-3 pb-2.5 text-sm">
            <EditorButton
              onClick={() =>
                setForm(
                  addForm(projects, [folder], names.data?.packages.map(({ name }) => name) ?? []),
                )
              }
            >
              Add a requirement…
            </EditorButton>
            <TextLink
              to={`/w/${slug}/alignment?${new URLSearchParams({ project: folder, scope: 'direct' }).toString()}`}
            >
              Its packages on Alignment
            </TextLink>
            <span className="text-ink-2">
              <code className="font-mono">{data.file}</code>
            </span>
          </div>
          {pencil.isError && <ErrorNotice error={pencil.error} />}
          {ask.isError && <ErrorNotice error={ask.error} />}
          {added.length > 0 && (
            <p className="pb-2 text-sm">
              <span className="pencilled">
                {added.map((edit) => ('package' in edit ? edit.package : '')).join(', ')} added in
                pencil
              </span>
            </p>
          )}
          {KINDS.map((kind) => {
            const lines = data.requirements.filter((one) => one.kind === kind);
            return lines.length === 0 ? null : (
              <section key={kind} aria-label={`Requirements: ${kind}`} className="pb-4">
                <h2 className="rule-double-top bg-paper px-2 pt-1 font-serif text-base text-ink-2 italic">
                  {kind}: {TITLES[kind]}
                </h2>
                <div
                  aria-hidden
                  className="border-b border-rule-strong bg-leaf px-2 py-1.5 text-sm text-ink-2 max-fold:hidden"
                >
                  <div className={REQUIREMENT_COLUMNS}>
                    <span>Package</span>
                    <span>Range</span>
                    <span>In use</span>
                    <span>How it stands</span>
                  </div>
                </div>
                <ul className="bg-leaf">
                  {lines.map((line) => (
                    <RequirementLine
                      key={line.name}
                      slug={slug}
                      line={line}
                      query={query}
                      pencilled={pencilled(line.name, folder)}
                      isBusy={pencil.isPending}
                      onTake={() =>
                        pencil.mutate({
                          kind: 'edits',
                          edits: [{ kind: 'take-shared', package: line.name, projects: [folder] }],
                          draftName: `${data.name} takes ${line.name}`,
                        })
                      }
                      onAsk={(step) => ask.mutate([step, line])}
                    />
                  ))}
                </ul>
              </section>
            );
          })}
          {data.requirements.length === 0 && (
            <p className="rule-double-top bg-leaf px-3 py-8 text-center text-ink-2">
              This project requires nothing yet.
            </p>
          )}
          <Unresolved unresolved={data.unresolved} />
          <RequiredBy slug={slug} project={data} query={query} />
        </>
      )}
      {form !== null && <EditDialog form={form} onClose={() => setForm(null)} />}
    </>
  );
}

function Heading({ project: { requirements, copies } }: { readonly project: Project }) {
  const ofPackages = requirements.filter((one) => one.project === null);
  const off = requirements.filter(({ isOff }) => isOff).length;
  const alone = ofPackages.reduce((sum, one) => sum + one.bytesAlone, 0);
  return (
    <>
      Requires {count(ofPackages.length, 'package')} and{' '}
      {count(requirements.length - ofPackages.length, 'project')} itself, and reaches{' '}
      {count(copies, 'copy', 'copies')} through them, of which nothing else brings {bytes(alone)}.{' '}
      {off === 0 ? (
        <span className="level text-agreed">All in line.</span>
      ) : (
        <span className="text-off">{off} out of line.</span>
      )}
    </>
  );
}

/** What the manifest requires by a path, an address or another thing that is no range. */
function Unresolved({ unresolved }: Pick<Project, 'unresolved'>) {
  if (unresolved.length === 0) return null;
  return (
    <section aria-label="Left alone" className="pb-4">
      <h2 className="rule-double-top bg-paper px-2 pt-1 font-serif text-base text-ink-2 italic">
        left alone: no ranges
      </h2>
      <ul className="bg-leaf">
        {unresolved.map(({ name, text, place }) => (
          <li
            key={name}
            className="flex flex-wrap items-baseline gap-x-4 border-b border-rule px-2 py-1.5"
          >
            <span className="font-semibold">{name}</span>
            <code className="font-mono text-sm">{text === '' ? 'no range' : text}</code>
            <span className="text-sm text-ink-2">
              <PlaceLink place={place} />
            </span>
          </li>
        ))}
      </ul>
      <p className="px-2 pt-1.5 text-sm text-ink-2">
        These are kept as they are written. They have no part in the lockfile.
      </p>
    </section>
  );
}

function RequiredBy({
  slug,
  project: { name, requiredBy },
  query,
}: {
  readonly slug: string;
  readonly project: Project;
  readonly query: string;
}) {
  return (
    <p className="text-sm text-ink-2">
      {requiredBy.length === 0 ? (
        <>No project of ours requires {name}.</>
      ) : (
        <>
          Required by{' '}
          {requiredBy.map(({ folder, name: other }, i) => (
            <span key={folder}>
              {i > 0 && ', '}
              <TextLink to={`/w/${slug}/projects/${folderPath(folder)}${query}`}>{other}</TextLink>
            </span>
          ))}
          .
        </>
      )}
    </p>
  );
}
