import type { ReactNode } from 'react';

interface Props {
  /** Width, side, and where it is hidden. */
  readonly className?: string;
  readonly title?: string;
  readonly children?: ReactNode;
}

/** The head of a column; one over steps that name themselves has no words. */
export function HeadCell({ className = '', title, children }: Props) {
  if (children === undefined) return <td className={className} />;
  return (
    <th scope="col" title={title} className={`px-2 py-1.5 font-medium ${className}`}>
      {children}
    </th>
  );
}
