import type { ReactNode } from 'react';

interface Props {
  readonly kind: 'trouble' | 'caution' | 'word';
  readonly title: string;
  readonly children?: ReactNode;
}

const EDGE = { trouble: 'border-off', caution: 'border-caution', word: 'border-agreed' } as const;
const INK = { trouble: 'text-off', caution: 'text-caution', word: 'text-agreed' } as const;

/** What is wrong, or what happened, above the thing it is about. */
export function Notice({ kind, title, children }: Props) {
  return (
    <div
      role={kind === 'word' ? 'status' : 'alert'}
      className={`border-l-[3px] bg-leaf py-2 pr-3 pl-3 ${EDGE[kind]}`}
    >
      <p className={`font-semibold ${INK[kind]}`}>{title}</p>
      {children !== undefined && (
        <div className="text-sm text-ink-2 [overflow-wrap:anywhere]">{children}</div>
      )}
    </div>
  );
}
