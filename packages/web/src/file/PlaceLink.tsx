import { useParams } from 'react-router';
import { TextLink } from '../parts/TextLink';

interface Props {
  readonly place: { readonly file: string; readonly line: number; readonly column?: number };
  /** A commit or a branch; without it the head of the branch. */
  readonly at?: string | undefined;
  readonly title?: string;
}

/** A place in a file, to be opened as it stands at a commit. */
export function PlaceLink({ place: { file, line, column }, at, title }: Props) {
  const { slug = '' } = useParams();
  const params = new URLSearchParams({ path: file, line: String(line) });
  if (at !== undefined) params.set('at', at);
  return (
    <TextLink to={`/w/${slug}/file?${params.toString()}`} title={title}>
      <code className="font-mono text-xs">
        {file}:{line}
        {column !== undefined && `:${column}`}
      </code>
    </TextLink>
  );
}
