import { useState, type FormEvent } from 'react';
import type { Account } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { SelectField } from '../parts/SelectField';
import { day } from '../parts/words';
import { useAccount, useIs } from '../session/useSession';
import { ToldOnce } from './ToldOnce';
import { useAccounts, useChangeAccount, useInvite, useLink } from './useTeam';

export const ROLE_WORDS: Readonly<Record<Account['role'], string>> = {
  reader: 'reader: looks',
  editor: 'editor: prepares drafts',
  keeper: 'keeper: posts, and keeps the team',
};
const ROLES = ['reader', 'editor', 'keeper'] as const;

function linkOf(secret: string): string {
  return `${window.location.origin}/link#${secret}`;
}

/** The people, and what each may do. */
export function People() {
  const accounts = useAccounts();
  const me = useAccount();
  const isKeeper = useIs('keeper');
  const change = useChangeAccount();
  const link = useLink();
  const [isInviting, setInviting] = useState(false);
  return (
    <div className="flex flex-col gap-3">
      {accounts.isError && (
        <ErrorNotice error={accounts.error} onRetry={() => void accounts.refetch()} />
      )}
      {change.isError && <ErrorNotice error={change.error} />}
      {link.isError && <ErrorNotice error={link.error} />}
      {link.data !== undefined && (
        <ToldOnce
          title={`A link by which ${link.data.account.shownName} chooses a password, good for seven days`}
          secret={linkOf(link.data.secret)}
          onDone={link.reset}
        />
      )}
      <div className="overflow-x-auto">
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
              <th className="px-2 py-1.5 font-medium">Name</th>
              <th className="px-2 py-1.5 font-medium max-fold:hidden">Signs in as</th>
              <th className="px-2 py-1.5 font-medium">May</th>
              <th className="px-2 py-1.5 font-medium max-fold:hidden">Since</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {(accounts.data ?? []).map((one) => (
              <tr key={one.id} className="h-[33px] border-b border-rule even:bg-bar">
                <td className="px-2">
                  <span className={one.isActive ? '' : 'text-ink-3 line-through'}>
                    {one.shownName}
                  </span>
                  {one.id === me?.id && <span className="text-sm text-ink-2"> (you)</span>}
                  {one.isInvited && (
                    <span className="text-sm text-caution"> has no password yet</span>
                  )}
                  {!one.isActive && <span className="text-sm text-off"> disabled</span>}
                </td>
                <td className="px-2 font-mono text-sm text-ink-2 max-fold:hidden">{one.name}</td>
                <td className="px-2 text-sm">
                  {isKeeper ? (
                    <select
                      aria-label={`Role of ${one.shownName}`}
                      value={one.role}
                      onChange={(event) =>
                        change.mutate({ id: one.id, role: event.target.value as Account['role'] })
                      }
                      className="h-[26px] rounded-sm border border-rule-strong bg-leaf px-1 max-fold:w-[130px]"
                    >
                      {ROLES.map((role) => (
                        <option key={role} value={role}>
                          {ROLE_WORDS[role]}
                        </option>
                      ))}
                    </select>
                  ) : (
                    ROLE_WORDS[one.role]
                  )}
                </td>
                <td className="px-2 text-sm whitespace-nowrap text-ink-2 max-fold:hidden">
                  {day(one.createdAt)}
                </td>
                <td className="px-2 text-right text-sm whitespace-nowrap">
                  {isKeeper && (
                    <span className="flex justify-end gap-x-3 max-fold:flex-col max-fold:items-end">
                      <Button look="text" onClick={() => link.mutate(one.id)}>
                        password link
                      </Button>
                      <Button
                        look="text"
                        onClick={() => change.mutate({ id: one.id, isActive: !one.isActive })}
                      >
                        {one.isActive ? 'disable' : 'enable'}
                      </Button>
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {isKeeper &&
        (isInviting ? (
          <InviteForm onDone={() => setInviting(false)} />
        ) : (
          <div className="px-2 pb-3">
            <Button look="quiet" onClick={() => setInviting(true)}>
              Add somebody…
            </Button>
          </div>
        ))}
    </div>
  );
}

function InviteForm({ onDone }: { readonly onDone: () => void }) {
  const invite = useInvite();
  const [name, setName] = useState('');
  const [shownName, setShownName] = useState('');
  const [email, setEmail] = useState('');
  const [role, setRole] = useState<Account['role']>('editor');
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    invite.mutate({ name, shownName, email, role });
  };
  if (invite.data !== undefined)
    return (
      <ToldOnce
        title={`${invite.data.account.shownName} is added, and chooses a password by this link, good for seven days`}
        secret={linkOf(invite.data.secret)}
        onDone={onDone}
      />
    );
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3 bg-leaf p-3">
      <Field
        label="Name to sign in with"
        required
        autoFocus
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Field
        label="Name to show"
        required
        value={shownName}
        onChange={(event) => setShownName(event.target.value)}
      />
      <Field
        label="E-mail"
        required
        type="email"
        value={email}
        onChange={(event) => setEmail(event.target.value)}
      />
      <SelectField
        label="May"
        value={role}
        onChange={(value) => setRole(value as Account['role'])}
        options={ROLES.map((value) => ({ value, text: ROLE_WORDS[value] }))}
      />
      <Button type="submit" disabled={invite.isPending}>
        Add
      </Button>
      <Button look="quiet" onClick={onDone}>
        Not now
      </Button>
      {invite.isError && (
        <div className="basis-full">
          <ErrorNotice error={invite.error} />
        </div>
      )}
    </form>
  );
}
