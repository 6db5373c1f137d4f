import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { answer, api, type Account } from '../api/client';
import { Button } from '../parts/Button';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { PlainButton } from '../parts/PlainButton';
import { useAccount, useSignOut } from './useSession';

const LINK = 'underline decoration-rule-strong underline-offset-3';

/** Who is signed in here, and the ways to change that. */
export function SignedIn() {
  const account = useAccount();
  const signOut = useSignOut();
  const [isOpen, setOpen] = useState(false);
  if (account === null) return null;
  return (
    <span>
      <button
        type="button"
        className={LINK}
        onClick={() => setOpen(true)}
        title={`Signed in as ${account.name}, ${account.role}; change the password`}
      >
        {account.shownName}
      </button>{' '}
      ·{' '}
      <PlainButton className={LINK} disabled={signOut.isPending} onClick={() => signOut.mutate()}>
        sign out
      </PlainButton>
      {isOpen && <AccountDialog account={account} onClose={() => setOpen(false)} />}
    </span>
  );
}

function AccountDialog({
  account,
  onClose,
}: {
  readonly account: Account;
  readonly onClose: () => void;
}) {
  const [now, setNow] = useState('');
  const [password, setPassword] = useState('');
  const change = useMutation({
    mutationFn: () => answer(api.PUT('/api/session/password', { body: { now, password } })),
    onSuccess: onClose,
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={account.shownName}
      about={`${account.role} · ${account.email}. A new password ends your other sessions.`}
    >
      <form onSubmit={submit} className="flex flex-col gap-3">
        <Field
          label="Present password"
          type="password"
          required
          autoComplete="current-password"
          value={now}
          onChange={(event) => setNow(event.target.value)}
        />
        <Field
          label="New password"
          type="password"
          required
          minLength={10}
          hint="At least ten characters."
          autoComplete="new-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {change.isError && <ErrorNotice error={change.error} />}
        <div className="flex gap-2">
          <Button type="submit" disabled={change.isPending}>
            Change the password
          </Button>
          <Button look="quiet" onClick={onClose}>
            Leave it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
