import type { RequirementKind } from '@deep-ledger/core';
import { useState } from 'react';
import { useOutletContext } from 'react-router';
import type { RegistryPackage, WhatIfAnswer } from '../api/client';
import { usePencil } from '../draft/usePencil';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { SelectField } from '../parts/SelectField';
import { bytes, count } from '../parts/words';
import { EditorButton } from '../session/EditorButton';
import { useWhatIf } from '../trace/useTrace';
import { addingEdits, mannersFor, type Manner } from './adding';

interface Props {
  readonly slug: string;
  readonly commit: string | undefined;
  readonly found: RegistryPackage;
  readonly version: string;
}

const KINDS = ['runtime', 'dev', 'peer', 'optional'].map((kind) => ({ value: kind, text: kind }));

/** Adds a package to any number of projects, and says first what that would bring. */
export function AddingForm({ slug, commit, found, version }: Props) {
  const pencil = usePencil(useOutletContext<FrameContext>());
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [kind, setKind] = useState<RequirementKind>('runtime');
  const [manner, setManner] = useState<Manner>(found.agreed === null ? 'caret' : 'shared');
  const [typed, setTyped] = useState('');
  const manners = mannersFor(found, version, chosen.length);
  const usable = manners.some(({ value }) => value === manner) ? manner : 'caret';
  const edits = addingEdits(found, { version, manner: usable, kind, projects: chosen });
  const whatIf = useWhatIf(slug, commit, edits);
  const shown = found.projects.filter(({ name, folder }) =>
    `${name} ${folder}`.toLowerCase().includes(typed.trim().toLowerCase()),
  );
  const toggle = (folder: string, isChosen: boolean): void => {
    const next = isChosen ? [...chosen, folder] : chosen.filter((one) => one !== folder);
    setChosen(next);
    // Two that require the same had better agree.
    if (found.agreed === null && next.length === 2 && chosen.length === 1) setManner('shared');
  };
  return (
    <form
      className="flex flex-col gap-2.5"
      onSubmit={(event) => {
        event.preventDefault();
        pencil.mutate(
          { kind: 'edits', edits, draftName: `add ${found.name}` },
          { onSuccess: () => setChosen([]) },
        );
      }}
    >
      <fieldset>
        <legend className="font-semibold">Add it to</legend>
        {found.projects.length > 8 && (
          <input
            type="search"
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
            placeholder="Find a project"
            aria-label="Find a project"
            className="mb-1 h-[28px] w-full rounded-sm border border-rule-strong bg-leaf px-2"
          />
        )}
        <ul className="max-h-[210px] overflow-auto border border-rule px-2 py-1">
          {shown.map(({ folder, name, kind: has, range }) => (
            <li key={folder}>
              <label className="flex items-baseline gap-2 py-0.5">
                <input
                  type="checkbox"
                  className="accent-agreed"
                  disabled={has !== null}
                  checked={chosen.includes(folder) || has !== null}
                  onChange={({ target }) => toggle(folder, target.checked)}
                />
                <span className="min-w-0 truncate">{name}</span>
                {has !== null && (
                  <span className="ml-auto font-mono text-xs whitespace-nowrap text-ink-2">
                    {range} {has}
                  </span>
                )}
              </label>
            </li>
          ))}
        </ul>
      </fieldset>
      <div className="grid grid-cols-2 gap-2">
        <SelectField
          label="Range"
          value={usable}
          options={manners}
          onChange={(value) => setManner(value as Manner)}
        />
        <SelectField
          label="Kind"
          value={kind}
          options={KINDS}
          onChange={(value) => setKind(value as RequirementKind)}
        />
      </div>
      <div aria-live="polite">
        {chosen.length === 0 ? (
          <p className="text-sm text-ink-2">Choose projects to see what it would bring.</p>
        ) : whatIf.isError ? (
          <ErrorNotice error={whatIf.error} />
        ) : whatIf.data === undefined || whatIf.isPlaceholderData ? (
          <p className="text-sm text-ink-2">Resolving the workspace with it.</p>
        ) : (
          <Brings answer={whatIf.data} />
        )}
      </div>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      <div>
        <EditorButton type="submit" disabled={chosen.length === 0 || pencil.isPending}>
          {pencil.isPending
            ? 'Pencilling'
            : `Pencil in${chosen.length === 0 ? '' : ` for ${count(chosen.length, 'project')}`}`}
        </EditorButton>
      </div>
    </form>
  );
}

/** The result of a resolution of the whole workspace with it. */
function Brings({
  answer: { evaluation, problems, bytes: size },
}: {
  readonly answer: WhatIfAnswer;
}) {
  const { consequences } = evaluation;
  if (evaluation.kind !== 'answered' || consequences === null)
    return (
      <div className="text-sm text-off">
        <p className="font-semibold">Nothing answers the workspace with it.</p>
        {[...(problems ?? []), ...evaluation.explanations.flat()].map(
          (sentence) => sentence !== null && <p key={sentence}>{sentence}</p>,
        )}
      </div>
    );
  const { entered, left, moved } = consequences.change;
  const come = new Set([
    ...entered.map(({ name, version }) => `${name} ${version}`),
    ...moved.map(({ name, to }) => `${name} ${to}`),
  ]);
  // A finding tells of the copies that were there before.
  const refused = consequences.refusedLicences.filter(({ name, version }) =>
    come.has(`${name} ${version}`),
  );
  return (
    <div className="text-sm">
      <p className="font-semibold">It would bring</p>
      <ul className="text-ink-2">
        <li>
          {entered.length === 0
            ? 'no copy that is not there already'
            : `${count(entered.length, 'copy', 'copies')}: ${entered.map((one) => `${one.name} ${one.version}`).join(', ')}`}
        </li>
        {moved.length > 0 && <li>{count(moved.length, 'copy moves', 'copies move')} along</li>}
        {left.length > 0 && <li>{count(left.length, 'copy leaves', 'copies leave')}</li>}
        {size !== 0 && <li>{`${size < 0 ? '−' : '+'}${bytes(Math.abs(size))}`}</li>}
        {consequences.peersBroken.map(({ copy, name, range }) => (
          <li key={`${copy} ${name}`} className="text-off">
            {copy} asks for {name} {range} beside it, which nothing meets
          </li>
        ))}
        {refused.map(({ name, version, licence }) => (
          <li key={`${name} ${version}`} className="text-off">
            {name} {version} is under {licence ?? 'no licence'}, which the policy does not allow
          </li>
        ))}
        {consequences.openTerms.map(({ id, title, copies }) => (
          <li key={`${id} ${title}`} className="text-off">
            {copies.map(({ name, version }) => `${name} ${version}`).join(', ')}{' '}
            {copies.length === 1 ? 'is' : 'are'} under “{title}”, which nobody has accepted; the
            draft asks for that
          </li>
        ))}
      </ul>
    </div>
  );
}
