import type { RegistryPackage } from '../api/client';
import { day } from '../parts/words';
import { railMarks } from './release-rail';

interface Props {
  readonly releases: RegistryPackage['releases'];
  readonly chosen: string;
  readonly onChoose: (version: string) => void;
}

const HEIGHT = 26;
const LEFT = 2;
const RIGHT = 98;
const across = (x: number): string => `${(LEFT + x * (RIGHT - LEFT)).toFixed(2)}%`;

/** The releases of a package on one rail, each at its day: filled where ours stand, a ring around the chosen one. */
export function ReleaseRail({ releases, chosen, onChoose }: Props) {
  const marks = railMarks(releases);
  const [newest] = releases;
  const oldest = releases.at(-1);
  if (newest === undefined || oldest === undefined) return null;
  const used = releases.filter(({ isInUse }) => isInUse).map(({ version }) => version);
  return (
    <figure>
      <svg
        className="block h-[26px] w-full overflow-visible"
        role="img"
        aria-label={`${releases.length} releases from ${day(oldest.published)} to ${day(newest.published)}; in use: ${used.join(', ') || 'none'}`}
      >
        <line
          x1={across(0)}
          y1={HEIGHT / 2}
          x2={across(1)}
          y2={HEIGHT / 2}
          className="stroke-rule-strong"
        />
        {marks.map(({ version, x, look }) => (
          <g key={version} className="cursor-pointer" onClick={() => onChoose(version)}>
            <title>{version}</title>
            <circle
              cx={across(x)}
              cy={HEIGHT / 2}
              r={look === 'used' ? 5 : 3.5}
              strokeDasharray={look === 'shut' ? '2 1.5' : undefined}
              className={
                look === 'used'
                  ? 'fill-ink'
                  : look === 'shut'
                    ? 'fill-leaf stroke-ink-3'
                    : 'fill-leaf stroke-agreed'
              }
            />
            {version === chosen && (
              <circle
                cx={across(x)}
                cy={HEIGHT / 2}
                r={8}
                className="fill-none stroke-agreed"
                strokeWidth={2}
              />
            )}
          </g>
        ))}
      </svg>
      <figcaption className="flex justify-between text-xs text-ink-2">
        <span>
          {oldest.version}, {day(oldest.published)}
        </span>
        <span>
          {newest.version}, {day(newest.published)}
        </span>
      </figcaption>
    </figure>
  );
}
