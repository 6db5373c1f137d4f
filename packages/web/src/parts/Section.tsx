import { useId, type ReactNode } from 'react';

interface Props {
  readonly title: string;
  readonly step?: ReactNode;
  /** Said in place of what would stand there; null: there is something. */
  readonly empty: string | null;
  readonly children: ReactNode;
}

/** A part of a page with its heading, and what can be begun there. */
export function Section({ title, step, empty, children }: Props) {
  const id = useId();
  return (
    <section aria-labelledby={id}>
      <div className="flex flex-wrap items-end justify-between gap-2 pb-1">
        <h2 id={id} className="font-serif text-base text-ink-2 italic">
          {title}
        </h2>
        {step !== undefined && <div className="flex items-center gap-3 text-sm">{step}</div>}
      </div>
      <div className="rule-double-top bg-leaf">
        {empty === null ? children : <p className="px-2 py-4 text-ink-2">{empty}</p>}
      </div>
    </section>
  );
}
