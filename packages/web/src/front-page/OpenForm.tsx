import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { useNavigate } from 'react-router';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { SeveralRegistries, type NamedRegistry } from './SeveralRegistries';

/** Opens a repository of one's own. */
export function OpenForm() {
  const [address, setAddress] = useState('');
  const [branch, setBranch] = useState('');
  const [registry, setRegistry] = useState('');
  /** Names and addresses, where the workspace has several registries; null: it has one. */
  const [several, setSeveral] = useState<readonly NamedRegistry[] | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const open = useMutation({
    mutationFn: () =>
      answer(
        api.POST('/api/workspaces', {
          body: {
            address: address.trim(),
            ...(several === null
              ? registry.trim() === ''
                ? {}
                : { registry: registry.trim() }
              : {
                  registries: several.map((one) => ({
                    name: one.name.trim(),
                    address: one.address.trim(),
                    ...(one.token === '' ? {} : { token: one.token }),
                  })),
                }),
            ...(branch.trim() === '' ? {} : { branch: branch.trim() }),
          },
        }),
      ),
    onSuccess: async ({ slug }) => {
      await queries.invalidateQueries({ queryKey: keys.workspaces() });
      await navigate(`/w/${slug}/overview`);
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    open.mutate();
  };
  return (
    <form
      onSubmit={submit}
      className="mt-8 flex max-w-[560px] flex-col gap-3"
      aria-labelledby="open-heading"
    >
      <h2 id="open-heading" className="font-serif text-lg font-semibold">
        Open a repository of your own
      </h2>
      <Field
        label="Repository"
        required
        value={address}
        onChange={(e) => setAddress(e.target.value)}
        className="font-mono"
        placeholder="/home/you/repository.git"
        hint="A path on this machine, or a git address. Without a ledger.toml at its root it is brought in."
      />
      <div className="grid grid-cols-2 gap-3 max-fold:grid-cols-1">
        <Field
          label="Branch"
          value={branch}
          onChange={(e) => setBranch(e.target.value)}
          className="font-mono"
          hint="Empty: its default branch."
        />
        {several === null && (
          <Field
            label="Registry"
            type="url"
            value={registry}
            onChange={(e) => setRegistry(e.target.value)}
            className="font-mono"
            placeholder="http://127.0.0.1:4601"
            hint="Where its packages come from. Empty where it is to be brought in."
          />
        )}
      </div>
      {several === null ? (
        <div>
          <Button
            look="text"
            onClick={() =>
              setSeveral([
                { name: '', address: registry, token: '' },
                { name: '', address: '', token: '' },
              ])
            }
          >
            It has several registries, or wants a token
          </Button>
        </div>
      ) : (
        <SeveralRegistries
          registries={several}
          onChange={(next) => setSeveral(next.length === 0 ? null : next)}
        />
      )}
      {open.isError && <ErrorNotice error={open.error} />}
      <div>
        <Button type="submit" disabled={open.isPending}>
          {open.isPending ? 'Reading the repository' : 'Open'}
        </Button>
      </div>
    </form>
  );
}
