import type { ProjectRequirement } from '../api/client';
import type { RequirementStep } from '../edit/edit-forms';
import { TextLink } from '../parts/TextLink';
import { bytes, count, day } from '../parts/words';
import { EditorStep } from '../session/EditorButton';
import { folderPath } from '../parts/folder-path';

interface Props {
  readonly slug: string;
  readonly line: ProjectRequirement;
  /** With the draft in hand. */
  readonly query: string;
  /** What it would say with the draft in hand; null: nothing else. */
  readonly pencilled: string | null;
  readonly isBusy: boolean;
  readonly onTake: () => void;
  readonly onAsk: (step: RequirementStep) => void;
}

/** Package, range, what is in use, how it stands. */
export const REQUIREMENT_COLUMNS =
  'grid grid-cols-[minmax(0,190px)_minmax(0,150px)_90px_minmax(0,1fr)] items-baseline gap-x-3 max-fold:grid-cols-2';

/** A direct requirement; indented beneath it, and never beside it, what it alone brings along. */
export function RequirementLine(props: Props) {
  const { slug, line, query, pencilled, isBusy, onTake, onAsk } = props;
  const { name, summary, written, range, project, copy, isOff, agreed, when, isEverywhere } = line;
  const canTake = agreed !== null && written !== 'shared' && !isEverywhere;
  return (
    <li className="border-b border-rule px-2 py-1.5" data-requirement={name}>
      <div className={REQUIREMENT_COLUMNS}>
        <span className="truncate" title={summary}>
          {project === null ? (
            <b className="font-semibold">{name}</b>
          ) : (
            <TextLink to={`/w/${slug}/projects/${folderPath(project.folder)}${query}`}>
              {name}
            </TextLink>
          )}
        </span>
        <span className="truncate font-mono text-sm">
          {pencilled === null ? (
            <span className={isOff ? 'text-off' : 'text-agreed'}>
              {project === null ? (range ?? '') : 'workspace'}
            </span>
          ) : (
            <span className="pencilled" title={`now ${range ?? 'workspace'}`}>
              {pencilled}
            </span>
          )}
          {line.exception !== null && <sup>†</sup>}
        </span>
        <span className="font-mono text-sm">{project === null ? (copy ?? 'none') : ''}</span>
        <span className="text-sm text-ink-2">
          <Standing line={line} /> {when.length > 0 && <>on {when.join(', ')} · </>}
          <Behind line={line} />
        </span>
      </div>
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <Alone line={line} />
        <span className="ml-auto flex flex-wrap gap-x-2.5 text-sm">
          {project === null && (
            <TextLink
              to={`/w/${slug}/alignment?scope=direct&q=${encodeURIComponent(name)}&open=${encodeURIComponent(name)}${query.replace('?', '&')}`}
            >
              panel
            </TextLink>
          )}
          {canTake && (
            <EditorStep
              label={`Take the shared version of ${name}`}
              onClick={onTake}
              disabled={isBusy}
            >
              take shared
            </EditorStep>
          )}
          {!isEverywhere && (
            <>
              {project === null && (
                <EditorStep
                  label={`Range of ${name}`}
                  onClick={() => onAsk('range')}
                  disabled={isBusy}
                >
                  range
                </EditorStep>
              )}
              <EditorStep label={`Kind of ${name}`} onClick={() => onAsk('kind')} disabled={isBusy}>
                kind
              </EditorStep>
              <EditorStep
                label={`Remove ${name}`}
                onClick={() => onAsk('remove')}
                disabled={isBusy}
              >
                remove
              </EditorStep>
            </>
          )}
        </span>
      </div>
    </li>
  );
}

function Standing({ line }: { readonly line: ProjectRequirement }) {
  const { standing, isOff, agreed, exception, isEverywhere, project } = line;
  if (project !== null) return <>a project of ours</>;
  if (isEverywhere) return <>as every project does · </>;
  if (exception !== null)
    return (
      <span title={`${exception.reason} (${exception.owner})`}>
        by exception until {day(exception.until)} ·{' '}
      </span>
    );
  if (standing === 'takes') return <>takes the shared version · </>;
  if (standing === 'equals') return <>its own, equal to the shared · </>;
  if (isOff)
    return (
      <span className="text-off">
        {agreed === null ? 'its own; others ask otherwise' : `its own; agreed is ${agreed}`} ·{' '}
      </span>
    );
  return <>its own · </>;
}

function Behind({
  line: { behind, deprecated, project, copy },
}: {
  readonly line: ProjectRequirement;
}) {
  if (project !== null) return null;
  if (deprecated !== null) return <span className="text-caution">deprecated: {deprecated}</span>;
  if (copy === null) return <>not in the lockfile</>;
  if (behind === null) return <>newest</>;
  return (
    <>
      {count(behind.releases, 'release')} behind {behind.newest} ({behind.step})
    </>
  );
}

function Alone({
  line: { project, bringsAlone, bytesAlone, copy },
}: {
  readonly line: ProjectRequirement;
}) {
  if (project !== null || copy === null) return null;
  if (bringsAlone.length === 0)
    return <p className="pl-4 text-xs text-ink-3">brings nothing alone: others require it too</p>;
  const below = bringsAlone.slice(1);
  return (
    <details className="pl-4 text-xs text-ink-2">
      <summary>
        {below.length === 0
          ? `alone brings its own copy, ${bytes(bytesAlone)}`
          : `alone brings ${count(below.length, 'copy', 'copies')} besides its own, ${bytes(bytesAlone)} in all`}
      </summary>
      <ul className="border-l border-rule-strong pl-3 font-mono text-ink-2">
        {bringsAlone.map(({ name, version }) => (
          <li key={`${name} ${version}`}>
            {name} {version}
          </li>
        ))}
      </ul>
    </details>
  );
}
