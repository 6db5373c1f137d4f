import type { MutedLine } from '../manifest/index.js';
import type { Workspace } from '../workspace/index.js';

/** The line that mutes each finding today, by the finding's name. A line that has lapsed mutes nothing. */
export function mutesOf(
  workspace: Workspace | null,
  today: string,
): ReadonlyMap<string, MutedLine> {
  const lines = workspace?.shared.muted ?? [];
  return new Map(lines.filter(({ until }) => today <= until).map((line) => [line.finding, line]));
}
