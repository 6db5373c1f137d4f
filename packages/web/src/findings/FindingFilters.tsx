import type { Findings } from '../api/client';
import { Choice } from '../parts/Choice';
import { SelectField } from '../parts/SelectField';
import { day, short } from '../parts/words';
import type { FindingsView } from './findings-view';
import { KIND_WORDS } from './kind-words';

interface Props {
  readonly findings: Findings['findings'];
  readonly view: FindingsView;
  readonly onChange: (values: Readonly<Record<string, string | null>>) => void;
}

/** Narrows the list by kind, severity, project, who brought it and since when. */
export function FindingFilters({ findings, view, onChange }: Props) {
  const kinds = [...new Set(findings.map(({ kind }) => kind))];
  const projects = [...new Set(findings.flatMap(({ project }) => project ?? []))].sort();
  const began = new Map(
    findings.flatMap(({ since }) => (since === null || since.isEarlier ? [] : [[since.at, since]])),
  );
  const authors = [...new Set(findings.flatMap(({ since }) => since?.author ?? []))].sort();
  const every = { value: '', text: 'any' };
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 pb-2.5">
      <input
        type="search"
        aria-label="Find a finding"
        placeholder="Find"
        value={view.words}
        onChange={(event) => onChange({ q: event.target.value })}
        className="h-[28px] w-[130px] rounded-sm border border-rule-strong bg-leaf px-2"
      />
      <Choice
        label="Which findings"
        value={view.show}
        onChange={(show) => onChange({ show: show === 'open' ? null : show })}
        options={[
          { value: 'open', text: 'Open' },
          { value: 'muted', text: 'Muted' },
        ]}
      />
      <SelectField
        isInLine
        label="Kind"
        value={view.kind}
        onChange={(kind) => onChange({ kind })}
        options={[every, ...kinds.map((value) => ({ value, text: KIND_WORDS[value] }))]}
      />
      <SelectField
        isInLine
        label="Severity"
        value={view.severity}
        onChange={(severity) => onChange({ severity })}
        options={[every, ...['error', 'warning', 'note'].map((value) => ({ value, text: value }))]}
      />
      <SelectField
        isInLine
        label="Project"
        value={view.project}
        onChange={(project) => onChange({ project })}
        options={[every, ...projects.map((value) => ({ value, text: value }))]}
      />
      <SelectField
        isInLine
        label="Brought by"
        value={view.by}
        onChange={(by) => onChange({ by })}
        options={[every, ...authors.map((value) => ({ value, text: value }))]}
      />
      <SelectField
        isInLine
        label="Since"
        value={view.since}
        onChange={(since) => onChange({ since })}
        options={[
          every,
          ...[...began.values()]
            .sort((a, b) => b.at.localeCompare(a.at))
            .map(({ at, commit, subject }) => ({
              value: at,
              text: `${day(at)} ${short(commit)} ${subject}`,
            })),
        ]}
      />
    </div>
  );
}
