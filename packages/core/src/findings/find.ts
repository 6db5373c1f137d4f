import { behind } from './behind.js';
import { confusable } from './confusable.js';
import { cycle } from './cycle.js';
import { deprecated } from './deprecated.js';
import { findingOf, FINDING_KINDS, SEVERITIES, type Finding, type FindingRule } from './finding.js';
import { Grounds, type Stand } from './grounds.js';
import { idleShared } from './idle-shared.js';
import { lapsedException } from './lapsed-exception.js';
import { licence } from './licence.js';
import { lockstepBroken } from './lockstep-broken.js';
import { loose } from './loose.js';
import { orphaned } from './orphaned.js';
import { otherRegistry } from './other-registry.js';
import { outOfLine } from './out-of-line.js';
import { platform } from './platform.js';
import { redundant } from './redundant.js';
import { scattered } from './scattered.js';
import { severalCopies } from './several-copies.js';
import { terms } from './terms.js';
import { tampered } from './tampered.js';
import { tooNew } from './too-new.js';
import { undeclared } from './undeclared.js';
import { unlocked } from './unlocked.js';
import { unmetPeer } from './unmet-peer.js';
import { unreadable } from './unreadable.js';
import { unused } from './unused.js';
import { withdrawn } from './withdrawn.js';

const RULES: readonly FindingRule[] = [
  tampered,
  otherRegistry,
  withdrawn,
  unlocked,
  orphaned,
  platform,
  unmetPeer,
  licence,
  terms,
  outOfLine,
  scattered,
  lockstepBroken,
  lapsedException,
  severalCopies,
  cycle,
  confusable,
  undeclared,
  unused,
  redundant,
  deprecated,
  tooNew,
  loose,
  idleShared,
  behind,
];

/**
 * All findings of a workspace, muted ones included: by severity, kind and name, none twice.
 * Cost: O(requirements + copies), for redundant requirements what their projects bring.
 */
export function findAll(stand: Stand): readonly Finding[] {
  const { workspace } = stand;
  const found = new Map(unreadable(stand).map((finding) => [finding.id, finding]));
  if (workspace !== null) {
    const grounds = new Grounds(stand, workspace);
    for (const rule of RULES) {
      for (const draft of rule.raise(grounds)) {
        const finding = findingOf(rule, draft);
        if (!found.has(finding.id)) found.set(finding.id, finding);
      }
    }
  }
  return [...found.values()].sort(
    (a, b) =>
      SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity) ||
      FINDING_KINDS.indexOf(a.kind) - FINDING_KINDS.indexOf(b.kind) ||
      (a.id < b.id ? -1 : a.id > b.id ? 1 : 0),
  );
}
