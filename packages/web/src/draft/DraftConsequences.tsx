import type { ReactNode } from 'react';
import type { Draft, LockChange } from '../api/client';
import { Notice } from '../parts/Notice';
import { ProblemList } from '../parts/ProblemList';
import { sumDigits } from '../parts/words';

/** What comes of the draft, as a short sum. */
export function DraftConsequences({ draft: { evaluation, edits } }: { readonly draft: Draft }) {
  const { consequences, explanations, problems } = evaluation;
  if (evaluation.kind === 'inapplicable') {
    return (
      <Notice kind="trouble" title="Some edits no longer apply">
        Take out those marked above; the others stay.
      </Notice>
    );
  }
  if (evaluation.kind === 'unreadable') {
    return (
      <Notice kind="trouble" title="The files cannot be read">
        <ProblemList problems={problems} />
      </Notice>
    );
  }
  if (evaluation.kind === 'unanswered') {
    return (
      <Notice kind="trouble" title="No answer">
        <p>The draft stays, but it cannot be posted.</p>
        {explanations.map((sentences, i) => (
          <ul key={i} className="mt-1.5">
            {sentences.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        ))}
      </Notice>
    );
  }
  if (consequences === null || edits.length === 0) return null;
  const {
    outOfLineBefore,
    outOfLineAfter,
    copiesBefore,
    copiesAfter,
    manifests,
    change,
    sum,
    lockBefore,
  } = consequences;
  return (
    <section aria-label="Consequences" className="flex flex-col gap-2">
      <dl className="rule-double-top grid grid-cols-[1fr_auto] gap-y-1 pt-2.5">
        <Figure name="Out of line">
          {outOfLineBefore} → {outOfLineAfter}
        </Figure>
        <Figure name="Copies in the lockfile">
          {copiesBefore ?? '?'} → {copiesAfter}
        </Figure>
        <Figure name="Manifests touched">{manifests}</Figure>
        <Figure name="Lockfile sum">{sumDigits(sum)}</Figure>
      </dl>
      <Change change={change} />
      {lockBefore !== 'true' && (
        <p className="text-sm text-caution">
          The lockfile is {lockBefore} now, so this holds more than the edits above led to.
        </p>
      )}
    </section>
  );
}

function Figure({ name, children }: { readonly name: string; readonly children: ReactNode }) {
  return (
    <>
      <dt className="text-ink-2">{name}</dt>
      <dd className="text-right font-mono text-[13px]">{children}</dd>
    </>
  );
}

function Change({ change: { entered, left, moved } }: { readonly change: LockChange }) {
  const lists = [
    { title: 'leave the lockfile', items: left.map(({ name, version }) => `${name} ${version}`) },
    { title: 'enter it', items: entered.map(({ name, version }) => `${name} ${version}`) },
    { title: 'move', items: moved.map(({ name, from, to }) => `${name} ${from} → ${to}`) },
  ].filter(({ items }) => items.length > 0);
  if (lists.length === 0)
    return <p className="text-sm text-ink-2">The lockfile keeps all its copies.</p>;
  return (
    <div className="text-sm text-ink-2">
      {lists.map(({ title, items }) => (
        <div key={title} className="pb-1.5">
          <p>
            {items.length} {title}
          </p>
          <ul className="font-mono text-xs text-ink">
            {items.map((item) => (
              <li key={item}>{item}</li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  );
}
