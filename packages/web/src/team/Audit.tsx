import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { day, time } from '../parts/words';
import { auditWords } from './audit-words';
import { useAudit } from './useTeam';

/** Who did what, newest first. */
export function Audit({ slug }: { readonly slug: string }) {
  const audit = useAudit(slug, true);
  const entries = audit.data?.pages.flatMap((page) => page.entries) ?? [];
  return (
    <div className="flex flex-col gap-2">
      {audit.isError && <ErrorNotice error={audit.error} onRetry={() => void audit.refetch()} />}
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-sm">
          <tbody>
            {entries.map((one) => (
              <tr key={one.id} className="h-[28px] border-b border-rule even:bg-bar">
                <td className="w-[150px] px-2 whitespace-nowrap text-ink-2">
                  {day(one.at)} {time(one.at)}
                </td>
                <td className="px-2">
                  {one.actorKind === 'token' ? `token ${one.actor}` : one.actor} {auditWords(one)}
                </td>
                <td className="truncate px-2 text-right font-mono text-ink-3 max-fold:hidden">
                  {one.subject?.slice(0, 8)}
                </td>
              </tr>
            ))}
            {audit.isSuccess && entries.length === 0 && (
              <tr>
                <td className="px-2 py-3 text-ink-2">Nobody has done anything here yet.</td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
      {audit.hasNextPage && (
        <div>
          <Button look="text" onClick={() => void audit.fetchNextPage()}>
            earlier
          </Button>
        </div>
      )}
    </div>
  );
}
