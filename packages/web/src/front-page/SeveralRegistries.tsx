import { Button } from '../parts/Button';
import { Field } from '../parts/Field';

export interface NamedRegistry {
  readonly name: string;
  readonly address: string;
}

/** Where each registry of a workspace is, by the names that its ledger.toml gives them. */
export function SeveralRegistries({
  registries,
  onChange,
}: {
  readonly registries: readonly NamedRegistry[];
  readonly onChange: (registries: readonly NamedRegistry[]) => void;
}) {
  const set = (at: number, change: Partial<NamedRegistry>): void =>
    onChange(registries.map((one, i) => (i === at ? { ...one, ...change } : one)));
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="pb-1 font-semibold">Registries, as its ledger.toml names them</legend>
      {registries.map(({ name, address }, i) => (
        <div key={i} className="grid grid-cols-[1fr_2fr_auto] items-end gap-3">
          <Field
            label="Name"
            required
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
          <Button
            look="quiet"
            onClick={() => onChange(registries.filter((_, other) => other !== i))}
          >
            Remove<span className="sr-only"> the registry {name}</span>
          </Button>
        </div>
      ))}
      <div>
        <Button look="text" onClick={() => onChange([...registries, { name: '', address: '' }])}>
          Another registry
        </Button>
      </div>
    </fieldset>
  );
}
