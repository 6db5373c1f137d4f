import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { usePageTitle } from '../parts/usePageTitle';
import { useTakeSession } from './useSession';

/** Where a one-time link leads: a password is chosen. The secret is behind the #, which no server sees. */
export function LinkPage() {
  usePageTitle('Choose a password');
  const secret = useLocation().hash.slice(1);
  const navigate = useNavigate();
  const take = useTakeSession();
  const [name, setName] = useState('');
  const [shownName, setShownName] = useState('');
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const link = useQuery({
    queryKey: keys.link(secret),
    queryFn: () => answer(api.POST('/api/one-time-link', { body: { secret } })),
    retry: false,
    staleTime: Infinity,
  });
  const choose = useMutation({
    mutationFn: () =>
      answer(
        api.POST('/api/one-time-link/password', {
          body: {
            secret,
            password,
            ...(link.data?.name === null ? { name, shownName, email } : {}),
          },
        }),
      ),
    onSuccess: (session) => {
      take(session);
      void navigate('/', { replace: true });
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    choose.mutate();
  };
  const isFirst = link.data?.name === null;
  return (
    <main className="mx-auto max-w-[400px] px-5 pt-[12vh] pb-16">
      <h1 className="font-serif text-title font-bold tracking-[-0.015em]">Deep Ledger</h1>
      {link.isError && <ErrorNotice error={link.error} />}
      {link.data !== undefined && (
        <>
          <p className="mb-5 text-ink-2">
            {isFirst
              ? 'You are the first keeper: who may do what is yours to decide.'
              : `Choose a password for ${link.data.name}. The link is good once.`}
          </p>
          <form onSubmit={submit} className="rule-double-top flex flex-col gap-3 bg-leaf p-5">
            {isFirst && (
              <>
                <Field
                  label="Name to sign in with"
                  required
                  autoComplete="username"
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
                <Field
                  label="Name to show"
                  required
                  autoComplete="name"
                  hint="It is written into commits."
                  value={shownName}
                  onChange={(event) => setShownName(event.target.value)}
                />
                <Field
                  label="E-mail"
                  required
                  type="email"
                  autoComplete="email"
                  value={email}
                  onChange={(event) => setEmail(event.target.value)}
                />
              </>
            )}
            <Field
              label="Password"
              required
              type="password"
              minLength={10}
              autoComplete="new-password"
              hint="At least ten characters."
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
            {choose.isError && <ErrorNotice error={choose.error} />}
            <div>
              <Button type="submit" disabled={choose.isPending}>
                Choose it and sign in
              </Button>
            </div>
          </form>
        </>
      )}
    </main>
  );
}
