import { useState, type FormEvent } from 'react';
import type { ProjectName } from '../api/client';
import { Choice } from '../parts/Choice';
import { SelectField } from '../parts/SelectField';
import { useTyped } from '../parts/useTyped';
import { SUBJECT_LIST } from './NameLists';
import { LINK_KINDS, type LinkKind, type TraceView } from './trace-address';

interface Props {
  readonly view: TraceView;
  readonly direction: 'up' | 'down';
  readonly projects: readonly ProjectName[];
  readonly packages: readonly string[];
  readonly targets: readonly string[];
  readonly versions: readonly string[];
  readonly onChange: (view: TraceView) => void;
}

/** What is traced, which way, and which links count. */
export function TraceControls(props: Props) {
  const { view, direction, projects, packages, targets, versions, onChange } = props;
  const subject =
    view.package ?? projects.find(({ folder }) => folder === view.project)?.name ?? '';
  const kinds = view.kinds ?? LINK_KINDS;
  const toggle = (kind: LinkKind): void => {
    const next = kinds.includes(kind) ? kinds.filter((one) => one !== kind) : [...kinds, kind];
    onChange(without(view, next.length === LINK_KINDS.length ? {} : { kinds: next }, ['kinds']));
  };
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2 pb-3">
      <SubjectField
        key={view.package ?? view.project ?? ''}
        subject={subject}
        projects={projects}
        packages={packages}
        onChoose={(chosen) => onChange(chosen)}
      />
      <Choice
        label="Which way"
        value={direction}
        onChange={(next) => onChange({ ...view, direction: next })}
        options={[
          { value: 'up', text: 'Who brings it' },
          { value: 'down', text: 'What it brings' },
        ]}
      />
      <div
        role="group"
        aria-label="Kinds of links"
        className="flex overflow-hidden rounded-sm border border-rule-strong"
      >
        {LINK_KINDS.map((kind) => (
          <button
            key={kind}
            type="button"
            aria-pressed={kinds.includes(kind)}
            onClick={() => toggle(kind)}
            className="border-r border-rule-strong px-2 py-[4px] text-sm text-ink-2 last:border-r-0 hover:bg-bar aria-pressed:bg-ink aria-pressed:text-paper"
          >
            {kind}
          </button>
        ))}
      </div>
      {view.package !== undefined && versions.length > 1 && (
        <SelectField
          isInLine
          label="Copy"
          value={view.version ?? ''}
          onChange={(version) =>
            onChange(without(view, version === '' ? {} : { version }, ['version', 'through']))
          }
          options={[
            { value: '', text: 'all' },
            ...versions.map((value) => ({ value, text: value })),
          ]}
        />
      )}
      <SelectField
        isInLine
        label="For"
        value={view.target ?? ''}
        onChange={(target) => onChange(without(view, target === '' ? {} : { target }, ['target']))}
        options={[
          { value: '', text: 'every target' },
          ...targets.map((value) => ({ value, text: value })),
        ]}
      />
      {view.package !== undefined && (
        <SelectField
          isInLine
          label="From"
          value={view.from ?? ''}
          onChange={(from) => onChange(without(view, from === '' ? {} : { from }, ['from']))}
          options={[
            { value: '', text: 'every project' },
            ...projects.map(({ folder, name }) => ({ value: folder, text: name })),
          ]}
        />
      )}
      <SelectField
        isInLine
        label="Steps"
        value={view.steps === undefined ? '' : String(view.steps)}
        onChange={(steps) =>
          onChange(without(view, steps === '' ? {} : { steps: Number(steps) }, ['steps']))
        }
        options={[
          { value: '', text: 'any' },
          ...[1, 2, 3, 4, 6, 8].map((n) => ({ value: String(n), text: `at most ${n}` })),
        ]}
      />
    </div>
  );
}

/** The view with some values in place of others. */
function without(view: TraceView, set: TraceView, keys: readonly (keyof TraceView)[]): TraceView {
  const kept = Object.fromEntries(
    Object.entries(view).filter(([key]) => !keys.includes(key as keyof TraceView)),
  ) as TraceView;
  return { ...kept, ...set };
}

interface SubjectProps {
  readonly subject: string;
  readonly projects: readonly ProjectName[];
  readonly packages: readonly string[];
  readonly onChoose: (view: TraceView) => void;
}

function SubjectField({ subject, projects, packages, onChoose }: SubjectProps) {
  const [text, setText] = useTyped(subject);
  const [unknown, setUnknown] = useState<string | null>(null);
  const choose = (name: string): boolean => {
    const project = projects.find((one) => one.name === name || one.folder === name);
    if (packages.includes(name)) onChoose({ package: name });
    else if (project !== undefined) onChoose({ project: project.folder });
    else return false;
    return true;
  };
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (text.trim() === '') onChoose({});
    else if (!choose(text.trim())) {
      const near = packages.find((one) => one.includes(text.trim()));
      if (near === undefined) setUnknown(text.trim());
      else choose(near);
    }
  };
  return (
    <form onSubmit={submit} className="flex flex-col gap-0.5">
      <input
        type="search"
        aria-label="Trace a package or a project"
        placeholder="a package or a project"
        list={SUBJECT_LIST}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setUnknown(null);
          if (event.target.value !== subject) choose(event.target.value);
        }}
        className="h-[30px] w-[190px] rounded-sm border border-rule-strong bg-leaf px-2"
      />
      <span role="status" className="text-sm text-off">
        {unknown !== null && `No package or project here has “${unknown}” in its name.`}
      </span>
    </form>
  );
}
