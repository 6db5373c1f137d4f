import { count } from '../parts/words';
import type { Severity } from './findings-sections';

/** How many there are of each severity that there is. */
export function severityWords(counts: Readonly<Record<Severity, number>>): string {
  return (['error', 'warning', 'note'] as const)
    .filter((one) => counts[one] > 0)
    .map((one) => count(counts[one], one))
    .join(', ');
}
