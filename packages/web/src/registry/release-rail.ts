import type { RegistryPackage } from '../api/client';

/** A release on a rail. */
export interface RailMark {
  readonly version: string;
  /** From 0, the day of the first release, to 1, that of the last. */
  readonly x: number;
  /** `used`: the lockfile has a copy of it; `shut`: it cannot be used, or is deprecated. */
  readonly look: 'used' | 'free' | 'shut';
}

/** Marks at their days, those that are in use last, so that they are drawn on top. */
export function railMarks(releases: RegistryPackage['releases']): readonly RailMark[] {
  const days = releases.map(({ published }) => Date.parse(published));
  const first = Math.min(...days);
  const span = Math.max(1, Math.max(...days) - first);
  return releases
    .map(({ version, isInUse, why, deprecated }, i): RailMark => {
      const look = isInUse ? 'used' : why !== null || deprecated !== null ? 'shut' : 'free';
      return { version, x: (days[i]! - first) / span, look };
    })
    .sort((a, b) => Number(a.look === 'used') - Number(b.look === 'used'));
}
