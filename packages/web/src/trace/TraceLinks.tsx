import { memo } from 'react';
import { inkOf } from './copy-inks';
import type { PlacedLink } from './trace-layout';

interface Props {
  readonly links: readonly PlacedLink[];
  /** How many copies are in question. */
  readonly ends: number;
}

/** The lines of a trace. There can be thousands, so they are drawn again only where they change, not while one pans. */
export const TraceLinks = memo(function TraceLinks({ links, ends }: Props) {
  return links.map((link, i) => (
    <path
      key={`${link.from} ${link.to}`}
      data-link={i}
      d={link.path}
      fill="none"
      stroke={inkOf(link.leadsTo, ends)}
      strokeWidth={link.thickness}
      strokeOpacity={link.isThrough ? 0.38 : 0.07}
    />
  ));
});
