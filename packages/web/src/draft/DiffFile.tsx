import type { FileDiff } from '../api/client';

const LOOK = {
  same: 'text-ink-2',
  added: 'bg-agreed-wash text-agreed',
  removed: 'bg-off-wash text-off',
} as const;
const SIGN = { same: ' ', added: '+', removed: '-' } as const;

/** The exact diff of one file. */
export function DiffFile({
  file: { path, isNew, added, removed, hunks },
}: {
  readonly file: FileDiff;
}) {
  return (
    <details open className="rule-double-top bg-leaf">
      <summary className="flex items-baseline gap-3 border-b border-rule-strong px-2 py-1.5 font-mono text-sm">
        <span className="font-semibold [overflow-wrap:anywhere]">{path}</span>
        {isNew && <span className="text-ink-2">new</span>}
        <span className="ml-auto whitespace-nowrap text-ink-2">
          +{added} −{removed}
        </span>
      </summary>
      {hunks.map(({ lines }, n) => (
        <div
          key={n}
          className={`overflow-x-auto ${n > 0 ? 'border-t border-dotted border-rule-strong' : ''}`}
        >
          <table className="min-w-full border-collapse font-mono text-sm">
            <tbody>
              {lines.map(({ mark, text, before, after }, i) => (
                <tr key={i} className={LOOK[mark]}>
                  <td className="w-10 min-w-10 px-2 text-right text-xs text-ink-3 select-none">
                    {before ?? ''}
                  </td>
                  <td className="w-10 min-w-10 px-2 text-right text-xs text-ink-3 select-none">
                    {after ?? ''}
                  </td>
                  <td className="w-4 min-w-4 select-none">{SIGN[mark]}</td>
                  <td className="pr-3 whitespace-pre">{text === '' ? ' ' : text}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ))}
    </details>
  );
}
