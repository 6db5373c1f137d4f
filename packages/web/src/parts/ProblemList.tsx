interface Props {
  readonly problems: readonly {
    readonly message: string;
    readonly place: { readonly file: string; readonly line: number; readonly column: number };
  }[];
}

/** Problems with their places in files. */
export function ProblemList({ problems }: Props) {
  return (
    <ul className="flex flex-col gap-2">
      {problems.map(({ message, place }, i) => (
        <li key={i}>
          <code className="font-mono text-sm text-ink">
            {place.file}:{place.line}:{place.column}
          </code>
          <br />
          {message}
        </li>
      ))}
    </ul>
  );
}
