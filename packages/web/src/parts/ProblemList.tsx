import { PlaceLink } from '../file/PlaceLink';

interface Props {
  readonly problems: readonly {
    readonly message: string;
    readonly place: { readonly file: string; readonly line: number; readonly column: number };
  }[];
  /** The files stand so at the head of the branch, and can be opened there. */
  readonly isAtHead?: boolean;
}

/** Problems with their places in files. */
export function ProblemList({ problems, isAtHead = true }: Props) {
  return (
    <ul className="flex flex-col gap-2">
      {problems.map(({ message, place }, i) => (
        <li key={i}>
          {isAtHead ? (
            <PlaceLink place={place} />
          ) : (
            <code className="font-mono text-xs text-ink">
              {place.file}:{place.line}:{place.column}
            </code>
          )}
          <br />
          {message}
        </li>
      ))}
    </ul>
  );
}
