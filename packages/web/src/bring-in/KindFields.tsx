import type { ManifestForm, RequirementForm } from '@deep-ledger/core';
import { Button } from '../parts/Button';
import { Field } from '../parts/Field';
import { SelectField } from '../parts/SelectField';
import { SCHEMES } from './bring-in-form';

interface Props {
  readonly form: ManifestForm;
  readonly onChange: (form: ManifestForm) => void;
}

const options = <T extends string>(...values: readonly T[]) =>
  values.map((value) => ({ value, text: value }));
const KINDS = options('runtime', 'dev', 'peer', 'optional');
const SYNTAXES = options('toml', 'json', 'yaml', 'xml', 'lines');

/** How one kind of manifests is read, field by field. */
export function KindFields({ form, onChange }: Props) {
  const { spelling } = form;
  const set = (change: Partial<ManifestForm>): void => onChange({ ...form, ...change });
  const spell = (change: Partial<ManifestForm['spelling']>): void =>
    set({ spelling: { ...spelling, ...change } });
  const setPlace = (index: number, change: Partial<RequirementForm>): void =>
    set({
      requirements: form.requirements.map((one, i) => (i === index ? { ...one, ...change } : one)),
    });
  return (
    <div className="flex flex-col gap-2.5" role="group" aria-label="How it is read">
      <Field
        label="Files"
        className="font-mono"
        value={form.files.join(' ')}
        onChange={({ target }) => set({ files: target.value.split(' ') })}
        onBlur={() => set({ files: form.files.filter(Boolean) })}
        hint="Patterns of paths, parted by blanks. One that begins with ! takes paths back."
      />
      <div className="grid grid-cols-2 gap-2">
        <SelectField
          label="Syntax"
          value={form.syntax}
          options={SYNTAXES}
          onChange={(value) => set({ syntax: value as ManifestForm['syntax'] })}
        />
        <Field
          label="Folders up"
          type="number"
          min={0}
          className="font-mono"
          value={form.levels}
          onChange={({ target }) => set({ levels: Math.max(0, Number(target.value) || 0) })}
        />
      </div>
      {form.syntax === 'lines' ? (
        <>
          <Field
            label="Pattern"
            className="font-mono"
            value={form.pattern ?? ''}
            onChange={({ target }) => set({ pattern: target.value })}
            hint="A regular expression with the groups (?P<package>…) and (?P<range>…)."
          />
          <SelectField
            label="They are"
            value={form.kind}
            options={KINDS}
            onChange={(value) => set({ kind: value as ManifestForm['kind'] })}
          />
        </>
      ) : (
        <>
          <Query
            label="The project’s name"
            value={form.name}
            onChange={(name) => set({ name })}
            hint="Empty: the folder’s name."
          />
          <Query
            label="Its version"
            value={form.version}
            onChange={(version) => set({ version })}
          />
          {form.requirements.map((place, i) => (
            <Place
              key={i}
              number={i + 1}
              place={place}
              onChange={(change) => setPlace(i, change)}
              onRemove={() => set({ requirements: form.requirements.filter((_, j) => j !== i) })}
            />
          ))}
          <div>
            <Button
              look="text"
              onClick={() =>
                set({
                  requirements: [
                    ...form.requirements,
                    { at: '$', package: [], join: '', range: null, when: null, kind: 'dev' },
                  ],
                })
              }
            >
              another place
            </Button>
          </div>
        </>
      )}
      <div className="grid grid-cols-2 gap-2">
        <SelectField
          label="Ranges"
          value={spelling.ranges}
          options={[
            { value: 'semver', text: '^1.2.0' },
            { value: 'interval', text: '[1.2,2.0)' },
            { value: 'vers', text: 'vers:' },
          ]}
          onChange={(value) => spell({ ranges: value as typeof spelling.ranges })}
        />
        <SelectField
          label="Versions in them"
          value={spelling.versions}
          options={SCHEMES}
          onChange={(value) => spell({ versions: value as typeof spelling.versions })}
        />
        <SelectField
          label="1.2.3 alone means"
          value={spelling.bare ?? ''}
          options={[
            { value: '', text: 'as it is read' },
            { value: 'exact', text: 'exactly that' },
            { value: 'at-least', text: 'that or newer' },
            { value: 'caret', text: '^1.2.3' },
          ]}
          onChange={(value) =>
            spell({ bare: value === '' ? null : (value as NonNullable<typeof spelling.bare>) })
          }
        />
      </div>
      <Query
        label="Word for the shared version"
        value={spelling.shared}
        onChange={(shared) => spell({ shared })}
        hint="{name} stands for the package. Empty: the same range takes it."
      />
      <Query
        label="Word for a project"
        value={spelling.workspace}
        onChange={(workspace) => spell({ workspace })}
        hint="Empty: a name that a project bears means it."
      />
      <Query
        label="What says app or library"
        value={form.ships?.at ?? null}
        onChange={(at) =>
          set({ ships: at === null ? null : { at, library: form.ships?.library ?? [] } })
        }
        hint="Empty: all are apps."
      />
      {form.ships !== null && (
        <Field
          label="Words for a library"
          className="font-mono"
          value={form.ships.library.join(' ')}
          onChange={({ target }) =>
            set({ ships: { at: form.ships!.at, library: target.value.split(' ') } })
          }
        />
      )}
    </div>
  );
}

interface PlaceProps {
  readonly number: number;
  readonly place: RequirementForm;
  readonly onChange: (change: Partial<RequirementForm>) => void;
  readonly onRemove: () => void;
}

/** One place where requirements stand. */
function Place({ number, place, onChange, onRemove }: PlaceProps) {
  return (
    <fieldset className="flex flex-col gap-2 border-l-[3px] border-rule-strong pl-2.5">
      <legend className="flex w-full items-baseline justify-between font-serif text-sm text-ink-2 italic">
        Place {number}
      </legend>
      <Query
        label="Where"
        value={place.at}
        onChange={(at) => onChange({ at: at ?? '' })}
        hint="A table, or [*] for the items of a list."
      />
      <div className="grid grid-cols-2 gap-2">
        <Field
          label="Name within"
          className="font-mono"
          value={place.package.join(' ')}
          onChange={({ target }) =>
            onChange({ package: target.value.split(' ').filter((one, i) => one !== '' || i > 0) })
          }
          hint="Empty: keys are names."
        />
        <Query
          label="Range within"
          value={place.range}
          onChange={(range) => onChange({ range })}
          hint="Empty: the value."
        />
      </div>
      <div className="grid grid-cols-2 gap-2">
        <SelectField
          label="Kind"
          value={place.kind}
          options={KINDS}
          onChange={(kind) => onChange({ kind: kind as RequirementForm['kind'] })}
        />
        {place.package.length > 1 ? (
          <Field
            label="Joined with"
            className="font-mono"
            value={place.join}
            onChange={({ target }) => onChange({ join: target.value })}
          />
        ) : (
          <Query
            label="Only for targets"
            value={place.when}
            onChange={(when) => onChange({ when })}
          />
        )}
      </div>
      <div>
        <Button look="text" onClick={onRemove}>
          take this place out
        </Button>
      </div>
    </fieldset>
  );
}

interface QueryProps {
  readonly label: string;
  /** Null: it is not said. */
  readonly value: string | null;
  readonly onChange: (value: string | null) => void;
  readonly hint?: string;
}

/** A text that is left out where it is empty. */
function Query({ label, value, onChange, hint }: QueryProps) {
  return (
    <Field
      label={label}
      className="font-mono"
      value={value ?? ''}
      onChange={({ target }) => onChange(target.value === '' ? null : target.value)}
      {...(hint === undefined ? {} : { hint })}
    />
  );
}
