import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Navigate, useSearchParams } from 'react-router';
import { answer, api } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { Notice } from '../parts/Notice';
import { usePageTitle } from '../parts/usePageTitle';
import { FRESH } from './fresh-sign-in';
import { useSession, useTakeSession } from './useSession';

export function SignInPage() {
  const session = useSession();
  const take = useTakeSession();
  usePageTitle('Sign in');
  const [params] = useSearchParams();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const signIn = useMutation({
    mutationFn: () => answer(api.POST('/api/session', { body: { name, password } })),
    onSuccess: take,
  });
  if (session.data != null && session.data.account !== null)
    return <Navigate to={placeInside(params.get('then'))} replace state={FRESH} />;
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    signIn.mutate();
  };
  return (
    <main className="mx-auto max-w-[400px] px-5 pt-[16vh] pb-16">
      <h1 className="font-serif text-title font-bold tracking-[-0.015em]">Deep Ledger</h1>
      <p className="mb-5 text-ink-2">Sign in to see the workspaces.</p>
      {session.data?.isEmpty === true && (
        <div className="mb-4">
          <Notice kind="caution" title="Nobody can sign in yet">
            Open the first keeper’s link, which the server has written into its data folder.
          </Notice>
        </div>
      )}
      <form onSubmit={submit} className="rule-double-top flex flex-col gap-3 bg-leaf p-5">
        <Field
          label="Name"
          required
          autoFocus
          autoComplete="username"
          autoCapitalize="none"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Field
          label="Password"
          required
          type="password"
          autoComplete="current-password"
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {signIn.isError && <ErrorNotice error={signIn.error} />}
        {session.isError && <ErrorNotice error={session.error} />}
        <div>
          <Button type="submit" disabled={signIn.isPending}>
            {signIn.isPending ? 'Signing in' : 'Sign in'}
          </Button>
        </div>
      </form>
      <p className="mt-3 text-sm text-ink-2">
        Forgotten the password? A keeper makes a link by which you choose another.
      </p>
    </main>
  );
}

/** A place in this application: never another site. */
function placeInside(wanted: string | null): string {
  return wanted !== null && /^\/(?![/\\])/.test(wanted) ? wanted : '/';
}
