import { useRef, useState } from 'react';
import { Button } from '../parts/Button';
import { Field } from '../parts/Field';

export interface NamedRegistry {
  readonly name: string;
  readonly address: string;
  readonly token: string;
}

/** Where each registry of a workspace is, by the names that its ledger.toml gives them. */
export function SeveralRegistries({
  registries,
  onChange,
}: {
  readonly registries: readonly NamedRegistry[];
  readonly onChange: (registries: readonly NamedRegistry[]) => void;
}) {
  const [added, setAdded] = useState<number | null>(null);
  const adding = useRef<HTMLButtonElement>(null);
  const set = (at: number, change: Partial<NamedRegistry>): void =>
    onChange(registries.map((one, i) => (i === at ? { ...one, ...change } : one)));
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="pb-1 font-semibold">Registries, as its ledger.toml names them</legend>
      {registries.map(({ name, address, token }, i) => (
        <div
          key={i}
          className="grid grid-cols-[1fr_2fr_1fr_auto] max-fold:grid-cols-1 items-end gap-3"
        >
          <Field
            label="Name"
            required
            autoFocus={i === added}
            value={name}
            onChange={(event) => set(i, { name: event.target.value })}
            className="font-mono"
          />
          <Field
            label="Address"
            required
            type="url"
            value={address}
            onChange={(event) => set(i, { address: event.target.value })}
            className="font-mono"
          />
          <Field
            label="Token"
            type="password"
            autoComplete="off"
            value={token}
            onChange={(event) => set(i, { token: event.target.value })}
            className="font-mono"
          />
          <Button
            look="quiet"
            onClick={() => {
              adding.current?.focus();
              onChange(registries.filter((_, other) => other !== i));
            }}
          >
            Remove<span className="sr-only"> the registry {name}</span>
          </Button>
        </div>
      ))}
      <div>
        <Button
          look="text"
          ref={adding}
          onClick={() => {
            setAdded(registries.length);
            onChange([...registries, { name: '', address: '', token: '' }]);
          }}
        >
          Another registry
        </Button>
      </div>
    </fieldset>
  );
}
