import { useState, type ReactNode } from 'react';
import type { RegistryPackage } from '../api/client';
import { SelectField } from '../parts/SelectField';
import { TextLink } from '../parts/TextLink';
import { bytes, count, day } from '../parts/words';
import { AddingForm } from './AddingForm';
import { Notes } from './Notes';
import { ReleaseRail } from './ReleaseRail';
import { useNotes } from './useRegistry';

interface Props {
  readonly slug: string;
  readonly commit: string | undefined;
  readonly found: RegistryPackage;
  /** The release that is looked at; null: the newest. */
  readonly release: string | null;
}

/** A package of a registry: its releases, what the chosen one asks for, and what adding it would bring. */
export function RegistryPackageView({ slug, commit, found, release }: Props) {
  const { name, summary, registry, releases, newest, projects } = found;
  const [wanted, setWanted] = useState(release);
  const usual = newest ?? releases[0]?.version ?? '';
  const chosen = releases.some(({ version }) => version === wanted) ? wanted! : usual;
  const shown = releases.find(({ version }) => version === chosen);
  const requiring = projects.filter(({ kind }) => kind !== null);
  return (
    <section
      aria-label={`Package ${name}`}
      className="rule-double-top flex min-w-0 flex-col gap-3 bg-leaf p-3"
    >
      <header>
        <h2 className="font-serif text-lg font-[650] break-words">{name}</h2>
        <p className="text-ink-2">
          {summary === '' ? 'Its registry says nothing of what it is.' : summary}
        </p>
        <p className="text-sm text-ink-2">
          {count(releases.length, 'release')} in {registry};{' '}
          {requiring.length === 0
            ? 'no project requires it.'
            : `${count(requiring.length, 'project')} ${requiring.length === 1 ? 'requires' : 'require'} it.`}{' '}
          {releases.some(({ isInUse }) => isInUse) && (
            <TextLink to={`/w/${slug}/trace?package=${encodeURIComponent(name)}`}>
              trace it
            </TextLink>
          )}
        </p>
      </header>
      {shown === undefined ? (
        <p className="text-ink-2">It has no release.</p>
      ) : (
        <>
          <ReleaseRail releases={releases} chosen={chosen} onChoose={setWanted} />
          <SelectField
            label="Release"
            value={chosen}
            options={releases.map(({ version, why, isInUse, isPrerelease, deprecated }) => ({
              value: version,
              text: [
                version,
                ...(version === newest ? ['newest'] : []),
                ...(isInUse ? ['in use'] : []),
                ...(isPrerelease ? ['prerelease'] : []),
                ...(deprecated === null ? [] : ['deprecated']),
                ...(why === null ? [] : ['cannot be used']),
              ].join(' · '),
            }))}
            onChange={setWanted}
          />
          <Facts release={shown} />
          <WhatIsNew slug={slug} name={name} version={chosen} />
          {shown.why === null ? (
            <AddingForm
              key={`${name} ${commit ?? ''}`}
              slug={slug}
              commit={commit}
              found={found}
              version={chosen}
            />
          ) : (
            <p className="text-off">
              {chosen} cannot be used: {shown.why}.
            </p>
          )}
        </>
      )}
    </section>
  );
}

/** The notes of a release, where it has any. */
function WhatIsNew({
  slug,
  name,
  version,
}: {
  readonly slug: string;
  readonly name: string;
  readonly version: string;
}) {
  const { data, isError } = useNotes(slug, name, version);
  if (isError) return <p className="text-sm text-ink-2">Its notes could not be read.</p>;
  if (data?.text == null) return null;
  return (
    <details open className="border-l-2 border-rule-strong pl-2.5">
      <summary className="cursor-pointer font-semibold">What {version} says of itself</summary>
      <div className="max-h-[220px] overflow-auto">
        <Notes text={data.text} />
        {data.isCut && (
          <p className="text-sm text-ink-2">There is more; only the beginning is shown.</p>
        )}
      </div>
    </details>
  );
}

type Terms = NonNullable<RegistryPackage['releases'][number]['terms']>;

function termsLine({ title, url, state, by, on }: Terms): FactLine {
  const who = by === null || on === null ? '' : `${by} accepted them on ${day(on)}`;
  const words = {
    accepted: who,
    changed: `they changed since ${who}`,
    open: 'nobody has accepted them; a draft that brings it asks for that',
  }[state];
  const text = (
    <>
      <a
        href={url}
        target="_blank"
        rel="noopener noreferrer"
        className="text-agreed hover:underline"
      >
        {title}
      </a>
      : {words}
    </>
  );
  return ['Terms', text, state !== 'accepted'];
}

type FactLine = readonly [term: string, text: ReactNode, isOff?: boolean];

/** What a release asks for, and under which licence it is. */
function Facts({ release }: { readonly release: RegistryPackage['releases'][number] }) {
  const { published, licence, isLicenceAllowed, needs, peers, platform, targets, deprecated } =
    release;
  const lines: readonly FactLine[] = [
    ['Published', day(published)],
    [
      'Licence',
      `${licence ?? 'none told'}${isLicenceAllowed ? '' : ', which the policy does not allow'}`,
      !isLicenceAllowed,
    ],
    ...(release.terms === null ? [] : [termsLine(release.terms)]),
    ['Size', bytes(release.bytes)],
    ['Needs', needs.length === 0 ? 'nothing' : needs.join(', ')],
    ...(peers.length === 0 ? [] : [['Peers', peers.join(', ')] as const]),
    ...(platform.length === 0 ? [] : [['Platform', platform.join(', ')] as const]),
    ...(targets.join() === '*' ? [] : [['For', targets.join(', ')] as const]),
    ...(deprecated === null ? [] : [['Deprecated', deprecated, true] as const]),
  ];
  return (
    <dl className="grid grid-cols-[90px_minmax(0,1fr)] gap-x-2 gap-y-1 text-sm">
      {lines.map(([term, text, isOff]) => (
        <div key={term} className="contents">
          <dt className="text-ink-2">{term}</dt>
          <dd className={`break-words ${isOff === true ? 'text-off' : ''}`}>{text}</dd>
        </div>
      ))}
    </dl>
  );
}
