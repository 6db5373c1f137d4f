import type { Candidate } from '../api/client';
import { Button } from '../parts/Button';
import { count } from '../parts/words';

interface Props {
  readonly name: string;
  readonly candidate: Candidate;
  readonly projects: number;
  /** The lockstep set that moves with it, or null. */
  readonly set: string | null;
  readonly isBusy: boolean;
  /** The draft in hand levels the package at this version already. */
  readonly isPencilled: boolean;
  readonly onPencil: () => void;
}

/** What levelling at one version would cost, in sentences, and the step itself. */
export function CandidateCost({
  name,
  candidate,
  projects,
  set,
  isBusy,
  isPencilled,
  onPencil,
}: Props) {
  const {
    version,
    range,
    allowedBy,
    manifests,
    isAnswered,
    sentences,
    change,
    copies,
    deprecated,
  } = candidate;
  return (
    <section aria-live="polite" className="text-sm text-ink-2">
      <h3 className="pb-0.5 text-base font-semibold text-ink">
        Level at {version}
        <code className="ml-1.5 font-mono text-sm font-normal text-ink-2">{range}</code>
      </h3>
      <p>
        {allowedBy} of {projects} already allow it.
      </p>
      {set !== null && <p>The whole set {set} moves with it.</p>}
      {isAnswered ? (
        <>
          <p>
            {manifests === 0
              ? 'No file changes.'
              : `${count(manifests, 'file')} ${manifests === 1 ? 'changes' : 'change'}.`}
          </p>
          <p>
            {name} then has {count(copies ?? 0, 'copy', 'copies')}.
          </p>
          {change !== null && <p>{changeWords(change)}</p>}
        </>
      ) : (
        <div className="py-1">
          <p className="font-semibold text-off">The workspace has no answer then.</p>
          <ul className="max-h-[150px] overflow-auto">
            {[...new Set(sentences)].map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </div>
      )}
      {deprecated !== null && <p className="text-caution">Deprecated: {deprecated}.</p>}
      {isPencilled ? (
        <p className="mt-2">
          <span className="pencilled">In pencil, in the draft in hand.</span>
        </p>
      ) : (
        <Button className="mt-2" disabled={!isAnswered || isBusy} onClick={onPencil}>
          {isBusy ? 'Pencilling' : 'Pencil it in'}
        </Button>
      )}
    </section>
  );
}

function changeWords({ entered, left, moved }: NonNullable<Candidate['change']>): string {
  const parts = [
    left.length > 0 ? `${count(left.length, 'copy leaves', 'copies leave')}` : '',
    entered.length > 0 ? `${count(entered.length, 'copy enters', 'copies enter')}` : '',
    moved.length > 0 ? `${count(moved.length, 'copy moves', 'copies move')}` : '',
  ].filter(Boolean);
  return parts.length === 0
    ? 'The lockfile keeps its copies.'
    : `In the lockfile ${parts.join(', ')}.`;
}
