import { useState, type FormEvent } from 'react';
import type { Edit, ProjectName } from '../api/client';
import { Button } from '../parts/Button';
import { SelectField } from '../parts/SelectField';
import { useTyped } from '../parts/useTyped';
import { PACKAGE_LIST } from './NameLists';

interface Props {
  /** What is traced: what was typed holds for that alone. */
  readonly subject: string;
  readonly projects: readonly ProjectName[];
  readonly initialProject: string;
  readonly initialPackage: string;
  readonly onTry: (edit: Edit) => void;
}

type Kind = 'remove-requirement' | 'add-requirement' | 'set-range';

/** Asks what is to be tried: a requirement less, one more, or another range. */
export function WhatIfForm(props: Props) {
  const { subject, projects, initialProject, initialPackage, onTry } = props;
  const [kind, setKind] = useState<Kind>('remove-requirement');
  const [project, setProject] = useTyped(initialProject, subject);
  const [name, setName] = useTyped(initialPackage, subject);
  const [range, setRange] = useState('');
  const folder = project || (projects[0]?.folder ?? '');
  const needsRange = kind !== 'remove-requirement';
  const isWhole = name !== '' && folder !== '' && (!needsRange || range !== '');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (!isWhole) return;
    const common = { package: name.trim(), projects: [folder] };
    if (kind === 'remove-requirement') onTry({ kind, ...common });
    else if (kind === 'set-range') onTry({ kind, ...common, range: range.trim() });
    else onTry({ kind, ...common, range: range.trim(), as: 'runtime' });
  };
  return (
    <form
      onSubmit={submit}
      className="flex flex-wrap items-end gap-2"
      aria-label="Try something out"
    >
      <SelectField
        isInLine
        label="What if"
        value={folder}
        onChange={setProject}
        options={projects.map((one) => ({ value: one.folder, text: one.name }))}
      />
      <SelectField
        isInLine
        label="it"
        value={kind}
        onChange={(value) => setKind(value as Kind)}
        options={[
          { value: 'remove-requirement', text: 'did without' },
          { value: 'add-requirement', text: 'also required' },
          { value: 'set-range', text: 'asked otherwise for' },
        ]}
      />
      <input
        aria-label="Package"
        list={PACKAGE_LIST}
        value={name}
        placeholder="package"
        onChange={(event) => setName(event.target.value)}
        className="h-[26px] w-[150px] rounded-sm border border-rule-strong bg-leaf px-1.5 font-mono text-sm"
      />
      {needsRange && (
        <input
          aria-label="Range"
          value={range}
          placeholder="^1.0.0"
          onChange={(event) => setRange(event.target.value)}
          className="h-[26px] w-[90px] rounded-sm border border-rule-strong bg-leaf px-1.5 font-mono text-sm"
        />
      )}
      <Button type="submit" look="quiet" disabled={!isWhole}>
        Try
      </Button>
    </form>
  );
}
