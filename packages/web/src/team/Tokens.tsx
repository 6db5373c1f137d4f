import { useState, type FormEvent } from 'react';
import type { AccessToken } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { DateField } from '../parts/DateField';
import { Field } from '../parts/Field';
import { SelectField } from '../parts/SelectField';
import { ago, day } from '../parts/words';
import { useNow } from '../frame/useNow';
import { ToldOnce } from './ToldOnce';
import { useMakeToken, useRevokeToken, useTokens } from './useTeam';

const SCOPE_WORDS: Readonly<Record<AccessToken['scopes'][number], string>> = {
  report: 'report machines and build runs',
  fetch: 'fetch archives',
  read: 'read',
  draft: 'read and prepare drafts',
};
const SCOPES = ['report', 'fetch', 'read', 'draft'] as const;
const DAYS = 90;

/** Access tokens of machines. */
export function Tokens({ slug }: { readonly slug: string }) {
  const tokens = useTokens(slug, true);
  const revoke = useRevokeToken(slug);
  const now = useNow();
  const [isMaking, setMaking] = useState(false);
  const rows = tokens.data ?? [];
  return (
    <div className="flex flex-col gap-3">
      {tokens.isError && <ErrorNotice error={tokens.error} onRetry={() => void tokens.refetch()} />}
      {revoke.isError && <ErrorNotice error={revoke.error} />}
      <div className="overflow-x-auto">
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
              <th className="px-2 py-1.5 font-medium">Machine</th>
              <th className="px-2 py-1.5 font-medium">May</th>
              <th className="px-2 py-1.5 font-medium">Last day</th>
              <th className="px-2 py-1.5 font-medium">Used</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {rows.map(({ id, name, scopes, lastDay, isOver, usedAt, madeBy }) => (
              <tr key={id} className="h-[33px] border-b border-rule even:bg-bar">
                <td className="px-2" title={`made by ${madeBy}`}>
                  {name}
                </td>
                <td className="px-2 text-sm">{scopes.map((one) => SCOPE_WORDS[one]).join(', ')}</td>
                <td className={`px-2 text-sm whitespace-nowrap ${isOver ? 'text-off' : ''}`}>
                  {day(lastDay)}
                  {isOver && ', over'}
                </td>
                <td className="px-2 text-sm whitespace-nowrap text-ink-2">
                  {usedAt === null ? 'never' : ago(usedAt, now)}
                </td>
                <td className="px-2 text-right text-sm">
                  <Button look="text" onClick={() => revoke.mutate(id)}>
                    revoke
                  </Button>
                </td>
              </tr>
            ))}
            {tokens.isSuccess && rows.length === 0 && (
              <tr>
                <td colSpan={5} className="px-2 py-3 text-ink-2">
                  No machine has a token. One to report is what build runs and people’s machines use
                  for reports.
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
      {isMaking ? (
        <MakeToken slug={slug} onDone={() => setMaking(false)} />
      ) : (
        <div className="px-2 pb-3">
          <Button look="quiet" onClick={() => setMaking(true)}>
            Make a token…
          </Button>
        </div>
      )}
    </div>
  );
}

function MakeToken({ slug, onDone }: { readonly slug: string; readonly onDone: () => void }) {
  const make = useMakeToken(slug);
  const [name, setName] = useState('');
  const [scope, setScope] = useState<(typeof SCOPES)[number]>('report');
  const [lastDay, setLastDay] = useState(() =>
    new Date(Date.now() + DAYS * 86_400_000).toISOString().slice(0, 10),
  );
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    make.mutate({ name, scopes: [scope], lastDay });
  };
  if (make.data !== undefined)
    return (
      <ToldOnce
        title={`The token of ${make.data.token.name}`}
        secret={make.data.secret}
        onDone={onDone}
      />
    );
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3 bg-leaf p-3">
      <Field
        label="Machine"
        required
        autoFocus
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <SelectField
        label="May"
        value={scope}
        onChange={(value) => setScope(value as (typeof SCOPES)[number])}
        options={SCOPES.map((value) => ({ value, text: SCOPE_WORDS[value] }))}
      />
      <DateField label="Last day" value={lastDay} onChange={setLastDay} />
      <Button type="submit" disabled={make.isPending}>
        Make it
      </Button>
      <Button look="quiet" onClick={onDone}>
        Not now
      </Button>
      {make.isError && (
        <div className="basis-full">
          <ErrorNotice error={make.error} />
        </div>
      )}
    </form>
  );
}
