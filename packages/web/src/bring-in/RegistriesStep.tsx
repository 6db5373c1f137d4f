import type { RegistryForm } from '@deep-ledger/core';
import { useRef, useState } from 'react';
import type { TriedDocument, WorkspaceState } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { Notice } from '../parts/Notice';
import { SelectField } from '../parts/SelectField';
import { count } from '../parts/words';
import { newRegistry, SCHEMES, type BringInForm, type RegistryEntry } from './bring-in-form';
import { useTryDocument } from './useBringIn';

interface Props {
  readonly slug: string;
  readonly state: WorkspaceState | undefined;
  readonly form: BringInForm;
  readonly onChange: (form: BringInForm) => void;
  readonly onNext: () => void;
}

/** Which registries there are, which names belong to each, and how each speaks. */
export function RegistriesStep({ slug, state, form, onChange, onNext }: Props) {
  const { registries } = form;
  const [added, setAdded] = useState<number | null>(null);
  /** The one taken out last, and how many stood below it: others are added above. */
  const [taken, setTaken] = useState<{ entry: RegistryEntry; below: number } | null>(null);
  const adding = useRef<HTMLButtonElement>(null);
  const set = (entry: RegistryEntry): void =>
    onChange({
      ...form,
      registries: registries.map((one) => (one.key === entry.key ? entry : one)),
    });
  /** Puts one in at a place, where whoever did it goes on. */
  const put = (entry: Omit<RegistryEntry, 'key'>, at: number): void => {
    const key = Math.max(...registries.map((one) => one.key)) + 1;
    setAdded(key);
    onChange({ ...form, registries: registries.toSpliced(at, 0, { ...entry, key }) });
  };
  const remove = (entry: RegistryEntry): void => {
    adding.current?.focus();
    setTaken({ entry, below: registries.length - 1 - registries.indexOf(entry) });
    onChange({ ...form, registries: registries.filter((one) => one.key !== entry.key) });
  };
  const known = new Map(state?.registries.map(({ name, url }) => [name, url]));
  return (
    <div className="flex flex-col gap-4">
      <div className="max-w-[420px]">
        <Field
          label="Name of the workspace"
          className="font-mono"
          value={form.name}
          onChange={({ target }) => onChange({ ...form, name: target.value })}
        />
      </div>
      {registries.map((entry) => (
        <RegistryFields
          key={entry.key}
          slug={slug}
          form={form}
          entry={entry}
          knownUrl={known.get(entry.name) ?? known.get('') ?? null}
          isAdded={entry.key === added}
          onChange={set}
          onRemove={registries.length === 1 ? null : () => remove(entry)}
        />
      ))}
      <p className="text-sm text-ink-2">
        The first registry with a pattern that matches a name is the only one that is asked for it.
        Addresses and tokens stay with this server; they are never written into the repository.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <Button
          disabled={registries.some(({ name, patterns }) => !name.trim() || !patterns.trim())}
          onClick={onNext}
        >
          Proof and draft
        </Button>
        {/* The one that takes all names stays the last. */}
        <Button look="quiet" ref={adding} onClick={() => put(newRegistry('', ''), 0)}>
          Another registry
        </Button>
        {taken !== null && (
          <span className="text-sm text-ink-2">
            {taken.entry.name.trim() || 'One without a name'} is taken out.{' '}
            <Button
              look="text"
              onClick={() => {
                setTaken(null);
                put(taken.entry, Math.max(0, registries.length - taken.below));
              }}
            >
              Put it back
            </Button>
          </span>
        )}
      </div>
    </div>
  );
}

interface FieldsProps {
  readonly slug: string;
  readonly form: BringInForm;
  readonly entry: RegistryEntry;
  /** Where it is, as the server knows it; null: it does not. */
  readonly knownUrl: string | null;
  /** Whoever added it goes on here. */
  readonly isAdded: boolean;
  readonly onChange: (entry: RegistryEntry) => void;
  readonly onRemove: (() => void) | null;
}

function RegistryFields({ slug, form, entry, knownUrl, isAdded, onChange, onRemove }: FieldsProps) {
  const trying = useTryDocument(slug, form);
  const asking = useRef<HTMLButtonElement>(null);
  /** What stands below goes with its answer, and whoever pressed it there goes on at the button that asks. */
  const tryAgain = (as: RegistryEntry): void => {
    asking.current?.focus();
    trying.mutate(as);
  };
  const set = (change: Partial<RegistryEntry>): void => onChange({ ...entry, ...change });
  const text = (key: 'name' | 'patterns' | 'address' | 'token' | 'test' | 'path') => ({
    value: entry[key],
    onChange: ({ target }: { target: HTMLInputElement }) => set({ [key]: target.value }),
    className: 'font-mono',
  });
  const canTry = entry.address.trim() !== '' && entry.test.trim() !== '' && entry.name !== '';
  return (
    <fieldset className="rule-double-top flex flex-col gap-3 bg-leaf p-3">
      <legend className="sr-only">Registry {entry.name}</legend>
      <div className="grid grid-cols-[140px_minmax(0,1fr)_minmax(0,1.4fr)_minmax(0,1fr)] gap-3 max-fold:grid-cols-1">
        <Field label="Registry" placeholder="main" autoFocus={isAdded} {...text('name')} />
        <Field
          label="Is asked for"
          placeholder="@house/* berth-*"
          hint="Patterns of names; * takes all."
          {...text('patterns')}
        />
        <Field
          label="Address"
          type="url"
          placeholder="http://127.0.0.1:4601"
          hint={knownUrl === null ? 'Where it is.' : `Empty: ${knownUrl}, as it is known.`}
          {...text('address')}
        />
        <Field
          label="Token"
          type="password"
          autoComplete="off"
          hint="Where it wants one."
          {...text('token')}
        />
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)_minmax(0,1fr)_auto] items-start gap-3 max-fold:grid-cols-1">
        <Field label="Try it with a package" hint="A name that it has." {...text('test')} />
        <SelectField
          label="It writes versions as"
          value={entry.versions}
          options={SCHEMES}
          onChange={(versions) => set({ versions: versions as RegistryEntry['versions'] })}
        />
        <Field
          label="Where its documents are"
          placeholder="/packages/{name}"
          hint="Only where it speaks otherwise than ours: a path with {name}, or {+name} which keeps slashes."
          {...text('path')}
        />
        <div className="flex gap-2 pt-[23px] max-fold:pt-0">
          <Button
            look="quiet"
            ref={asking}
            disabled={!canTry || trying.isPending}
            onClick={() => trying.mutate(entry)}
          >
            {trying.isPending ? 'Asking it' : 'Try'}
          </Button>
          {onRemove !== null && (
            <Button look="quiet" onClick={onRemove}>
              Take out
            </Button>
          )}
        </div>
      </div>
      {trying.isError && <ErrorNotice error={trying.error} />}
      {trying.isSuccess && (
        <Tried
          tried={trying.data}
          entry={entry}
          onTake={(shape) => {
            set({ shape });
            tryAgain({ ...entry, shape });
          }}
          onAgain={() => tryAgain(entry)}
        />
      )}
      {entry.shape !== null && (
        <ShapeFields shape={entry.shape} onChange={(shape) => set({ shape })} />
      )}
    </fieldset>
  );
}

interface TriedProps {
  readonly tried: TriedDocument;
  readonly entry: RegistryEntry;
  readonly onTake: (shape: RegistryForm) => void;
  readonly onAgain: () => void;
}

/** What a registry has for the package, and what is read of it. */
function Tried({ tried, entry, onTake, onAgain }: TriedProps) {
  const { address, document, isCut, releases, newest, needs, trouble, proposed } = tried;
  if (document === null)
    return <Notice kind="caution" title={`It answers, and has nothing at ${address}`} />;
  return (
    <div className="grid grid-cols-2 gap-3 max-fold:grid-cols-1">
      <div>
        {releases !== null ? (
          <Notice
            kind="word"
            title={`${entry.test}: ${count(releases, 'release')}, the newest ${newest ?? 'none'}, which requires ${count(needs, 'package')}`}
          />
        ) : entry.shape === null && proposed !== null ? (
          <Notice kind="caution" title="Its documents are in another layout than ours">
            <p>In this document releases seem to stand at {proposed.releases}.</p>
            <Button look="text" onClick={() => onTake(proposed)}>
              Read it so
            </Button>
          </Notice>
        ) : (
          <Notice kind="trouble" title="It cannot be read">
            <p>{trouble}</p>
            {entry.shape !== null && (
              <Button look="text" onClick={onAgain}>
                Try again with the fields below
              </Button>
            )}
          </Notice>
        )}
      </div>
      <figure className="min-w-0">
        <figcaption className="text-sm [overflow-wrap:anywhere] text-ink-2">{address}</figcaption>
        <pre
          tabIndex={0}
          aria-label="The document"
          className="max-h-[180px] overflow-auto bg-bar p-2 font-mono text-sm"
        >
          {document}
          {isCut && '\n…'}
        </pre>
      </figure>
    </div>
  );
}

const PLACES: readonly (readonly [key: keyof RegistryForm, label: string])[] = [
  ['document', 'Document'],
  ['releases', 'Releases'],
  ['version', 'Version'],
  ['published', 'Published'],
  ['needs', 'Needs'],
  ['optional', 'Optional needs'],
  ['licence', 'Licence'],
  ['deprecated', 'Deprecated'],
  ['url', 'Archive'],
  ['integrity', 'Integrity'],
];

interface ShapeProps {
  readonly shape: RegistryForm;
  readonly onChange: (shape: RegistryForm | null) => void;
}

/** Where things stand in the documents of a registry that speaks otherwise. */
function ShapeFields({ shape, onChange }: ShapeProps) {
  return (
    <div role="group" aria-label="How it speaks" className="flex flex-col gap-2">
      <div className="grid grid-cols-5 gap-2 max-fold:grid-cols-2">
        {PLACES.map(([key, label]) => (
          <Field
            key={key}
            label={label}
            className="font-mono text-sm"
            value={shape[key]}
            onChange={({ target }) => onChange({ ...shape, [key]: target.value })}
          />
        ))}
      </div>
      <div>
        <Button look="text" onClick={() => onChange(null)}>
          it speaks as our registries do
        </Button>
      </div>
    </div>
  );
}
