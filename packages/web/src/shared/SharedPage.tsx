import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api, type Edit, type Shared } from '../api/client';
import { keys } from '../api/keys';
import { usePencil } from '../draft/usePencil';
import { EditDialog } from '../edit/EditDialog';
import { agreeForm, everywhereForm, otherwiseForm, pinForm, setForm } from '../edit/edit-forms';
import type { EditForm } from '../edit/form';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { useNames } from '../alignment/useNames';
import { Accepted } from './Accepted';
import { AgreedTable } from './AgreedTable';
import { Exceptions } from './Exceptions';
import { Otherwise } from './Otherwise';
import { PolicySection } from './PolicySection';
import { Section } from '../parts/Section';
import { TextLink } from '../parts/TextLink';
import { EditorButton, EditorStep } from '../session/EditorButton';

/** What the workspace has agreed on, and what holds beside it. */
export function SharedPage() {
  const frame = useOutletContext<FrameContext>();
  const { slug, state } = frame;
  const [params] = useSearchParams();
  const commit = state?.head.commit;
  const shared = useQuery({
    queryKey: keys.shared(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/shared', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
  });
  const names = useNames(slug, commit);
  const pencil = usePencil(frame);
  const [form, setOpenForm] = useState<EditForm | null>(null);
  const { data } = shared;
  const packages = names.data?.packages.map(({ name }) => name) ?? [];
  const projects = names.data?.projects ?? [];
  const make = (edit: Edit, draftName: string): void =>
    pencil.mutate({ kind: 'edits', edits: [edit], draftName });
  const centralising = params.get('draft') === null ? '' : `?draft=${params.get('draft')}`;
  return (
    <>
      <PageHead title="Shared versions" state={state}>
        {data === undefined ? 'Reading the shared file.' : headingOf(data)}
      </PageHead>
      {shared.isError && <ErrorNotice error={shared.error} onRetry={() => void shared.refetch()} />}
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      {data !== undefined && (
        <div className="flex flex-col gap-6">
          <Section
            title="Agreed, each by itself"
            step={
              <>
                <EditorButton look="quiet" onClick={() => setOpenForm(agreeForm('', '', packages))}>
                  Agree on a version…
                </EditorButton>{' '}
                <TextLink to={`/w/${slug}/centralise${centralising}`}>
                  Centralise versions from the manifests
                </TextLink>
              </>
            }
            empty={
              data.shared.length === 0 ? 'Nothing is agreed on outside the lockstep sets.' : null
            }
          >
            <AgreedTable
              slug={slug}
              lines={data.shared}
              isBusy={pencil.isPending}
              onChange={({ package: name, range }) => setOpenForm(agreeForm(name, range, packages))}
              onRetire={({ package: name }) =>
                make({ kind: 'retire-shared', package: name }, `retire ${name}`)
              }
            />
          </Section>
          <Section
            title="Lockstep sets"
            step={
              <EditorButton
                look="quiet"
                onClick={() =>
                  setOpenForm(setForm({ name: '', range: '', packages: [] }, packages))
                }
              >
                Make a set…
              </EditorButton>
            }
            empty={data.sets.length === 0 ? 'No packages are set to move together.' : null}
          >
            {data.sets.map((set) => (
              <div key={set.name} className="border-b border-rule pb-1">
                <p className="flex flex-wrap items-baseline gap-3 px-2 pt-2">
                  <b className="font-serif text-base font-semibold">{set.name}</b>
                  <code className="font-mono">{set.range}</code>
                  <EditorStep
                    label={`Change the set ${set.name}`}
                    onClick={() =>
                      setOpenForm(
                        setForm(
                          { ...set, packages: set.packages.map((one) => one.package) },
                          packages,
                        ),
                      )
                    }
                  >
                    change
                  </EditorStep>
                  <EditorStep
                    label={`Dissolve the set ${set.name}`}
                    disabled={pencil.isPending}
                    onClick={() =>
                      make({ kind: 'dissolve-set', set: set.name }, `dissolve ${set.name}`)
                    }
                  >
                    dissolve
                  </EditorStep>
                </p>
                <AgreedTable slug={slug} lines={set.packages} isBusy={pencil.isPending} />
              </div>
            ))}
          </Section>
          {data.suggestions.length > 0 && (
            <Section title="Look as if they moved together" empty={null}>
              <ul>
                {data.suggestions.map((one) => (
                  <li key={one.name} className="border-b border-rule px-2 py-1.5">
                    <b className="font-semibold">{one.packages.join(', ')}</b>{' '}
                    <span className="text-ink-2">{one.why}.</span>{' '}
                    <EditorStep
                      label={`Make a set of ${one.packages.join(', ')}`}
                      onClick={() =>
                        setOpenForm(
                          setForm(
                            {
                              name: one.name,
                              range: agreedRange(data, one.packages) ?? '',
                              packages: one.packages,
                            },
                            packages,
                          ),
                        )
                      }
                    >
                      make a set of them
                    </EditorStep>
                  </li>
                ))}
              </ul>
            </Section>
          )}
          <Section
            title="Everywhere"
            step={
              <EditorButton
                look="quiet"
                onClick={() => setOpenForm(everywhereForm(null, projects, packages))}
              >
                Require a package everywhere…
              </EditorButton>
            }
            empty={data.everywhere.length === 0 ? 'No package is required by every project.' : null}
          >
            <Lines>
              {data.everywhere.map((line) => (
                <Line
                  key={line.package}
                  name={line.package}
                  range={line.range}
                  words={`${line.kind}${line.except.length === 0 ? '' : `, except ${line.except.join(', ')}`}`}
                >
                  <EditorStep
                    label={`Change ${line.package} everywhere`}
                    onClick={() => setOpenForm(everywhereForm(line, projects, packages))}
                  >
                    change
                  </EditorStep>
                  <EditorStep
                    label={`End ${line.package} everywhere`}
                    disabled={pencil.isPending}
                    onClick={() =>
                      make(
                        { kind: 'not-everywhere', package: line.package },
                        `${line.package} no longer everywhere`,
                      )
                    }
                  >
                    end
                  </EditorStep>
                </Line>
              ))}
            </Lines>
          </Section>
          <Section
            title="Pins"
            step={
              <EditorButton
                look="quiet"
                onClick={() => setOpenForm(pinForm('', '', projects, [], packages))}
              >
                Pin a package…
              </EditorButton>
            }
            empty={data.pins.length === 0 ? 'Nothing is pinned.' : null}
          >
            <Lines>
              {data.pins.map((pin) => (
                <Line
                  key={pin.package}
                  name={pin.package}
                  range={`${pin.version} ⊣`}
                  words={`${count(pin.usedBy, 'project')} and ${count(pin.demands, 'copy', 'copies')} ask for it${pin.newest === null || pin.newest === pin.version ? '' : `, newest ${pin.newest}`}${pin.except.length === 0 ? '' : `; leaves out ${pin.except.join(', ')}`}`}
                >
                  <EditorStep
                    label={`Change the pin of ${pin.package}`}
                    onClick={() =>
                      setOpenForm(pinForm(pin.package, pin.version, projects, pin.except))
                    }
                  >
                    change
                  </EditorStep>
                  <EditorStep
                    label={`Unpin ${pin.package}`}
                    disabled={pencil.isPending}
                    onClick={() =>
                      make({ kind: 'unpin', package: pin.package }, `unpin ${pin.package}`)
                    }
                  >
                    unpin
                  </EditorStep>
                </Line>
              ))}
            </Lines>
          </Section>
          <Section
            title="Exceptions †"
            empty={
              data.exceptions.length === 0
                ? 'There are no exceptions. Grant one in the package panel on Alignment.'
                : null
            }
          >
            <Exceptions
              lines={data.exceptions}
              isBusy={pencil.isPending}
              onForm={setOpenForm}
              onEnd={({ project, package: name }) =>
                make(
                  { kind: 'end-exception', project, package: name },
                  `end exception of ${project}`,
                )
              }
            />
          </Section>
          {data.accepted.length > 0 && (
            <Section title="Terms that are accepted" empty={null}>
              <Accepted
                lines={data.accepted}
                isBusy={pencil.isPending}
                onEnd={({ id, title }) => make({ kind: 'end-acceptance', id }, `end ${title}`)}
              />
            </Section>
          )}
          <Section
            title="Answered otherwise †"
            step={
              <EditorButton look="quiet" onClick={() => setOpenForm(otherwiseForm(null, packages))}>
                Answer a release otherwise…
              </EditorButton>
            }
            empty={data.otherwise.length === 0 ? 'Every release gets what it asks for.' : null}
          >
            <Otherwise
              lines={data.otherwise}
              isBusy={pencil.isPending}
              onForm={setOpenForm}
              onEnd={({ of, package: name }) =>
                make({ kind: 'end-otherwise', of, package: name }, `answer ${of} as it asks`)
              }
            />
          </Section>
          <PolicySection
            shared={data}
            isBusy={pencil.isPending}
            onMake={(edit) => make(edit, 'policy')}
          />
        </div>
      )}
      {form !== null && <EditDialog form={form} onClose={() => setOpenForm(null)} />}
    </>
  );
}

function headingOf({ shared, sets, everywhere, pins, exceptions }: Shared): ReactNode {
  const inSets = sets.reduce((sum, { packages }) => sum + packages.length, 0);
  const lapsed = exceptions.filter(({ daysLeft }) => daysLeft < 0).length;
  return (
    <>
      {count(shared.length + inSets + everywhere.length, 'package')} agreed on, {inSets} of them in{' '}
      {count(sets.length, 'lockstep set')} and {everywhere.length} everywhere;{' '}
      {count(pins.length, 'pin')}, {count(exceptions.length, 'exception')}.{' '}
      {lapsed > 0 && <span className="text-off">{count(lapsed, 'exception')} lapsed.</span>}
    </>
  );
}

function agreedRange({ shared }: Shared, packages: readonly string[]): string | undefined {
  return shared.find((one) => packages.includes(one.package))?.range;
}

function Lines({ children }: { readonly children: ReactNode }) {
  return <ul>{children}</ul>;
}

function Line({
  name,
  range,
  words,
  children,
}: {
  readonly name: string;
  readonly range: string;
  readonly words: string;
  readonly children: ReactNode;
}) {
  return (
    <li className="grid grid-cols-[160px_130px_minmax(0,1fr)_auto] items-baseline gap-3 border-b border-rule px-2 py-1.5 max-fold:grid-cols-2">
      <b className="truncate font-semibold">{name}</b>
      <code className="font-mono text-[13px]">{range}</code>
      <span className="text-sm text-ink-2">{words}</span>
      <span className="flex gap-3 text-sm">{children}</span>
    </li>
  );
}
