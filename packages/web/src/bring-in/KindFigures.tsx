import { Section } from '../parts/Section';
import { count } from '../parts/words';
import type { Kind, KindFigures as Figures } from './bring-in-form';

interface Props {
  readonly kind: Kind;
  /** Null: it is skipped, or cannot be used as it is described. */
  readonly figures: Figures | null;
}

/** What a kind reads over all its files, and where it reads nothing. */
export function KindFigures({ kind, figures }: Props) {
  if (kind.isSkipped) return <p className="text-sm text-ink-2">This kind is skipped.</p>;
  if (figures === null)
    return <p className="text-sm text-off">It cannot be read as it is described.</p>;
  const { files, named, places, foreign, empty, emptyCount } = figures;
  const { requirements, syntax, name, kind: lineKind } = kind.form;
  const of = (n: number): string => `${n} of ${files}`;
  return (
    <Section title={`Over all ${count(files, 'file')}`} empty={null}>
      <dl className="text-sm" aria-label="Figures over all files">
        <Row name={<>name {name !== null && <Query text={name} />}</>}>
          {name === null ? 'the folder’s' : of(named)}
        </Row>
        {places.map((place, i) => (
          <Row
            key={i}
            name={
              syntax === 'lines' ? (
                <>{lineKind}, one a line</>
              ) : (
                <>
                  {requirements[i]?.kind} at <Query text={requirements[i]?.at ?? ''} />
                </>
              )
            }
          >
            {of(place.files)} · {place.requirements}
          </Row>
        ))}
        {foreign > 0 && (
          <Row name={<span className="text-off">not a range</span>}>
            <span className="text-off">({foreign})</span>
          </Row>
        )}
        {emptyCount > 0 && (
          <Row name={<span className="text-off">nothing read</span>}>
            <span className="text-off">({emptyCount})</span>
          </Row>
        )}
      </dl>
      {emptyCount > 0 && (
        <p className="px-2 py-1.5 text-sm text-ink-2 [overflow-wrap:anywhere]">
          Nothing is read in {empty.slice(0, 5).join(', ')}
          {emptyCount > 5 && ` and ${emptyCount - 5} more`}.
        </p>
      )}
    </Section>
  );
}

function Query({ text }: { readonly text: string }) {
  return <code className="font-mono [overflow-wrap:anywhere]">{text}</code>;
}

interface RowProps {
  readonly name: React.ReactNode;
  readonly children: React.ReactNode;
}

function Row({ name, children }: RowProps) {
  return (
    <div className="flex min-h-[31px] items-center justify-between gap-2 border-b border-rule px-2">
      <dt className="min-w-0">{name}</dt>
      <dd className="font-mono font-semibold whitespace-nowrap">{children}</dd>
    </div>
  );
}
