import { inkOf } from './copy-inks';
import type { PlacedLink } from './trace-layout';

export function TraceLinkLine({
  link,
  ends,
}: {
  readonly link: PlacedLink;
  readonly ends: number;
}) {
  return (
    <path
      d={link.path}
      fill="none"
      stroke={inkOf(link.leadsTo, ends)}
      strokeWidth={link.thickness}
      strokeOpacity={link.isThrough ? 0.38 : 0.07}
    />
  );
}
