import { useId, useState } from 'react';
import type { Finding } from '../api/client';
import { Button } from '../parts/Button';
import { count } from '../parts/words';
import { CauseSection } from './CauseSection';
import type { FindingsSection } from './findings-sections';
import { severityWords } from './severity-words';

interface Props {
  readonly section: FindingsSection;
  readonly isHistoryKnown: boolean;
  readonly openCause: string | null;
  readonly openFinding: string | null;
  /** @param cause the one that opens; null: the open one closes */
  readonly onToggle: (cause: string | null) => void;
  readonly onMute: (finding: Finding) => void;
}

/** The causes in each section until more are asked for; two more than that are not worth folding. */
const MOST_CAUSES = 8;
const SPARE = 2;

/** Causes that ask for the same sort of work, with their sums. */
export function SectionOfFindings({
  section: { title, causes, findings, bySeverity },
  isHistoryKnown,
  openCause,
  openFinding,
  onToggle,
  onMute,
}: Props) {
  const id = useId();
  const [most, setMost] = useState(MOST_CAUSES);
  const isFolded = causes.length > most + SPARE;
  const isOpen = (i: number): boolean => {
    const { key, findings: own } = causes[i]!;
    return key === openCause || own.some((one) => one.id === openFinding);
  };
  const shown = causes.map((_, i) => i).filter((i) => !isFolded || i < most || isOpen(i));
  return (
    <section aria-labelledby={id} className="pb-4">
      <div className="flex flex-wrap items-baseline justify-between gap-x-3 pb-1">
        <h2 id={id} className="font-serif text-lg font-semibold">
          {title}
        </h2>
        <p className="text-sm text-ink-2">
          <span className="font-mono font-semibold text-ink">{count(findings, 'finding')}</span>{' '}
          from {count(causes.length, 'cause')}: {severityWords(bySeverity)}
        </p>
      </div>
      <ol className="rule-double-top bg-leaf">
        {shown.map((i, at) => (
          <CauseSection
            key={causes[i]!.key}
            cause={causes[i]!}
            isHistoryKnown={isHistoryKnown}
            isBanded={Math.floor(at / 2) % 2 === 0}
            isOpen={isOpen(i)}
            onToggle={(opens) => onToggle(opens ? causes[i]!.key : null)}
            onMute={onMute}
          />
        ))}
      </ol>
      {causes.length > shown.length && (
        <Button look="text" className="pt-1 text-sm" onClick={() => setMost(causes.length)}>
          Show all {causes.length} causes
        </Button>
      )}
    </section>
  );
}
