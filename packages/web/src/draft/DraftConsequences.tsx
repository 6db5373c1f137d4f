import type { ReactNode } from 'react';
import type { Draft, ExplainedChange } from '../api/client';
import { Notice } from '../parts/Notice';
import { ProblemList } from '../parts/ProblemList';
import { count, sumDigits } from '../parts/words';

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
        <ProblemList problems={problems} isAtHead={false} />
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
    projects,
    levelled,
    unlevelled,
    peersMet,
    peersBroken,
    refusedLicences,
    refusedLicencesBefore,
    change,
    sum,
    lockBefore,
    findings,
    disputed,
    ownRanges,
    otherRegistries,
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
        <Figure name="Findings">
          {findings.left + findings.cleared.length - findings.raised.length} → {findings.left}
        </Figure>
        <Figure name="Manifests touched">{manifests}</Figure>
        <Figure name="Projects touched">{projects.length}</Figure>
        <Figure name="Lockfile sum">{sumDigits(sum)}</Figure>
      </dl>
      {disputed.length > 0 && (
        <Notice kind="trouble" title="Lockfile and registry disagree">
          {disputed.map(({ name, version, locked, offered }) => (
            <p key={`${name} ${version}`}>
              {name} {version} has the integrity <code className="break-all">{locked}</code>; the
              registry says <code className="break-all">{offered}</code>.
            </p>
          ))}
          <p className="mt-1.5">
            This draft cannot be posted while it touches{' '}
            {disputed.length === 1 ? 'that copy' : 'those copies'}. Find out which of the two is
            right; the finding offers to take the registry’s.
          </p>
        </Notice>
      )}
      {ownRanges.length > 0 && (
        <Notice
          kind={ownRanges.some(({ isAdded }) => isAdded) ? 'trouble' : 'caution'}
          title={
            ownRanges.some(({ isAdded }) => isAdded)
              ? 'Ranges of their own are refused'
              : `${count(ownRanges.length, 'range')} of their own will be refused`
          }
        >
          {ownRanges.map(({ project, name, range, agreed }) => (
            <p key={`${project} ${name}`}>
              {project} writes <code>{range}</code> for {name}; <code>{agreed}</code> is agreed.
            </p>
          ))}
          <p className="mt-1.5">
            {ownRanges.some(({ isAdded }) => isAdded)
              ? 'This draft cannot be posted like that. Let them take the shared version, or grant an exception.'
              : 'What is there stays; deep-ledger check fails until each takes the shared version or has an exception, and no post can add another.'}
          </p>
        </Notice>
      )}
      {otherRegistries.length > 0 && (
        <Notice kind="trouble" title="From another registry">
          {otherRegistries.map(({ name, from, to }) => (
            <p key={name}>
              {name} comes from {to}; the lockfile has it from {from}.
            </p>
          ))}
          <p className="mt-1.5">
            Be sure that {otherRegistries.length === 1 ? 'it is' : 'they are'} the same there:
            anybody can publish under a name that a registry does not have yet.
          </p>
        </Notice>
      )}
      <FindingList title="cleared" findings={findings.cleared} />
      <FindingList title="raised" findings={findings.raised} isBad />
      <Names title="Level again" names={levelled} />
      <Names title="Newly out of line" names={unlevelled} isBad />
      <Names title="Peers met" names={peersMet.map(peerWords)} />
      <Names title="Peers no longer met" names={peersBroken.map(peerWords)} isBad />
      {refusedLicences.length + refusedLicencesBefore > 0 && (
        <p className={`text-sm ${refusedLicences.length > 0 ? 'text-off' : 'text-ink-2'}`}>
          Copies under a licence that is not allowed: {refusedLicencesBefore} →{' '}
          {refusedLicences.length}
          {refusedLicences.length > 0 && ': '}
          {refusedLicences
            .slice(0, MOST_NAMED)
            .map(({ name, licence }) => `${name} (${licence ?? 'none named'})`)
            .join(', ')}
          {refusedLicences.length > MOST_NAMED &&
            ` and ${refusedLicences.length - MOST_NAMED} more`}
        </p>
      )}
      <Change change={change} />
      {lockBefore !== 'consistent' && (
        <p className="text-sm text-caution">
          The lockfile is {lockBefore} now, so this holds more than the edits above led to.
        </p>
      )}
    </section>
  );
}

const MOST_NAMED = 8;

type Peer = NonNullable<Draft['evaluation']['consequences']>['peersMet'][number];

function peerWords({ copy, name, range, version }: Peer): string {
  return `${copy} asks for ${name} ${range}, gets ${version ?? 'none'}`;
}

type Named = NonNullable<Draft['evaluation']['consequences']>['findings']['cleared'];

function FindingList({
  title,
  findings,
  isBad = false,
}: {
  readonly title: string;
  readonly findings: Named;
  readonly isBad?: boolean;
}) {
  if (findings.length === 0) return null;
  return (
    <details className={`text-sm ${isBad ? 'text-off' : 'text-ink-2'}`}>
      <summary>
        {count(findings.length, 'finding')} {title}
      </summary>
      <ul className="max-h-[220px] overflow-auto pl-3">
        {findings.map(({ id, says }) => (
          <li key={id}>{says}</li>
        ))}
      </ul>
    </details>
  );
}

function Names({
  title,
  names,
  isBad = false,
}: {
  readonly title: string;
  readonly names: readonly string[];
  readonly isBad?: boolean;
}) {
  if (names.length === 0) return null;
  return (
    <p className={`text-sm ${isBad ? 'text-off' : 'text-ink-2'}`}>
      {title}: {names.join(', ')}
    </p>
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

/** What leaves, enters and moves; each opens to say why. */
export function Change({
  change: { because, reanswered },
}: {
  readonly change: Pick<ExplainedChange, 'because' | 'reanswered'>;
}) {
  const lists = [
    {
      words: ['leaves the lockfile', 'leave the lockfile'],
      items: because.filter(({ to }) => to === null),
    },
    { words: ['enters it', 'enter it'], items: because.filter(({ from }) => from === null) },
    {
      words: ['moves', 'move'],
      items: because.filter(({ from, to }) => from !== null && to !== null),
    },
  ].filter(({ items }) => items.length > 0);
  if (lists.length === 0)
    return (
      <p className="text-sm text-ink-2">
        The lockfile keeps all its copies
        {reanswered > 0 && `; ${count(reanswered, 'requirement')} of them are answered otherwise`}.
      </p>
    );
  return (
    <div className="text-sm text-ink-2">
      {lists.map(({ words, items }) => (
        <div key={words[0]} className="pb-1.5">
          <p>
            {items.length} {words[items.length === 1 ? 0 : 1]}
          </p>
          <ul className="font-mono text-xs text-ink">
            {items.map(({ name, from, to, causes }) => (
              <li key={`${name} ${from} ${to}`}>
                <details>
                  <summary>
                    {name} {[from, to].filter((one) => one !== null).join(' → ')}
                  </summary>
                  <ul className="pl-3 font-sans text-ink-2">
                    {causes.map((cause) => (
                      <li key={cause}>{cause}</li>
                    ))}
                  </ul>
                </details>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  );
}
