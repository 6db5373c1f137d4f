import { useOutletContext } from 'react-router';
import type { PanelRequirement, ProjectName } from '../api/client';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { PlaceLink } from '../file/PlaceLink';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { day } from '../parts/words';
import { usePackagePanel } from './useAlignment';
import { TextLink } from '../parts/TextLink';
import { folderPath } from '../parts/folder-path';

interface Props {
  readonly name: string;
  readonly project: ProjectName;
  readonly onClose: () => void;
}

/** Why a cell of the grid says what it says. */
export function CellReason({ name, project, onClose }: Props) {
  const { slug, state, draftId } = useOutletContext<FrameContext>();
  const panel = usePackagePanel(slug, name, state?.head.commit);
  const data = panel.data?.row.name === name ? panel.data : undefined;
  const here = data?.requirements.filter(({ folder }) => folder === project.folder) ?? [];
  const query = draftId === null ? '' : `draft=${draftId}`;
  return (
    <Dialog
      open
      onClose={onClose}
      title={`${name} in ${project.name}`}
      about={data?.row.agreed == null ? 'Nothing is agreed on.' : `Agreed: ${data.row.agreed}`}
    >
      {panel.isError && <ErrorNotice error={panel.error} />}
      {data !== undefined && here.length === 0 && (
        <p>
          {project.name} does not require {name} itself.
        </p>
      )}
      {here.map((one) => (
        <Reason key={one.kind} requirement={one} agreed={data?.row.agreed ?? null} />
      ))}
      <p className="mt-3 flex gap-4">
        <TextLink
          to={`/w/${slug}/alignment?scope=all&open=${encodeURIComponent(name)}&q=${encodeURIComponent(name)}&${query}`}
        >
          Open the panel of {name}
        </TextLink>
        <TextLink to={`/w/${slug}/projects/${folderPath(project.folder)}?${query}`}>
          Open {project.name}
        </TextLink>
      </p>
    </Dialog>
  );
}

const STANDINGS: Readonly<Record<PanelRequirement['standing'], string>> = {
  takes: 'It takes the shared version.',
  equals: 'It writes the agreed range by itself.',
  off: 'It differs from what is agreed.',
  excepted: 'It has an exception.',
  'nothing-agreed': 'Nothing is agreed on for this package.',
};

function Reason({
  requirement: { kind, range, copy, standing, isOff, exception, place },
  agreed,
}: {
  readonly requirement: PanelRequirement;
  readonly agreed: string | null;
}) {
  return (
    <dl className="rule-double-top grid grid-cols-[110px_1fr] gap-y-1 pt-2">
      <dt className="text-ink-2">Requires</dt>
      <dd>
        <code className="font-mono">{range}</code> <span className="text-ink-2">({kind})</span>
      </dd>
      <dt className="text-ink-2">In the lockfile</dt>
      <dd className="font-mono">{copy ?? 'no copy'}</dd>
      <dt className="text-ink-2">Standing</dt>
      <dd className={isOff ? 'text-off' : ''}>
        {STANDINGS[standing]}
        {agreed === null && isOff && ' Projects ask for different ranges.'}
      </dd>
      {exception !== null && (
        <>
          <dt className="text-ink-2">Exception †</dt>
          <dd>
            {exception.reason} ({exception.owner}), until {day(exception.until)}
          </dd>
        </>
      )}
      <dt className="text-ink-2">Written in</dt>
      <dd>
        <PlaceLink place={place} />
      </dd>
    </dl>
  );
}
