import type { Workspace } from '../../workspace/index.js';
import { Settlement } from '../choose/settlement.js';
import { supplyPeers } from '../peers/supply-peers.js';
import { unmetPeers } from '../peers/unmet-peers.js';
import { clashPart, PolicyAnswer, type PolicyTerms } from '../policy/answer-under-policy.js';
import { BoundPackages } from '../policy/bound-packages.js';
import type { Clash } from '../policy/search-model.js';
import { Citing } from './cites.js';
import type { Unanswered } from './explain-unanswered.js';
import { LONGEST, Refutation } from './refutation.js';
import { byPlace, rootWords } from './requirement-words.js';
import { Telling } from './telling.js';

/**
 * Why requirements cannot be met together, in numbered sentences: what each requires, what follows, what
 * that rules out, and where nothing is left. A conflict that is too deep to be told so is stated as found by search,
 * with the settings that it takes.
 */
export function explainClash(roots: Clash, terms: PolicyTerms, workspace: Workspace): Unanswered {
  const { usable, bound } = terms;
  const groups = roots.map(({ requirements }) => [...requirements].sort(byPlace));
  const part = clashPart(workspace, roots);
  const citing = new Citing();
  const telling = new Telling(usable.catalog, bound, citing);
  const isTold = new Refutation(roots, part, usable, bound, telling).refute();
  const isShort = isTold && telling.lines.length <= LONGEST;
  const { sentences, cites } = isShort
    ? { sentences: telling.lines, cites: citing.cites() }
    : bySearch(roots, terms, part);
  return { requirements: groups.flat(), groups, isAlone: false, sentences, cites };
}

const MOST_SETTINGS = 40;

function bySearch(
  roots: Clash,
  terms: PolicyTerms,
  part: Workspace,
): Pick<Unanswered, 'sentences' | 'cites'> {
  const { usable } = terms;
  const isStrict = part.policy.peers === 'strict';
  const answerOf = (workspace: Workspace): PolicyAnswer => {
    const { policy } = workspace;
    const bound = new BoundPackages(usable.catalog, policy, policy.peers === 'strict');
    return new PolicyAnswer({ ...terms, bound }, workspace, true);
  };
  // Settings are taken away one by one while the clash stays; what is left is what it takes.
  const reported = { ...part, policy: { ...part.policy, peers: 'report' as const } };
  const withoutPeers = isStrict ? answerOf(reported).policiesOfClash(MOST_SETTINGS) : null;
  const isOfPeers = isStrict && withoutPeers === null;
  const needed = withoutPeers ?? answerOf(part).policiesOfClash(MOST_SETTINGS) ?? [];
  const copies = needed.map((one) => usable.catalog.names[one]!).sort();
  const rules = [
    ...copies.map((name) => `the policy on copies of ${name}`),
    ...(isOfPeers ? ['strict peers'] : []),
  ];
  const sentences = [
    ...roots.map((root) => `${rootWords(root)}.`),
    `Every choice of releases for these was tried under ${rules.join(' and ')}, and none holds; without any one of these requirements there is one.`,
    ...(isOfPeers ? nearest(terms, part) : []),
  ];
  const cites = { ...new Citing().cites(), copies, peers: isOfPeers };
  return { sentences, cites };
}

/** The peers that are not met when nothing else is given up. */
function nearest({ usable, held, watch }: PolicyTerms, part: Workspace): readonly string[] {
  const fresh = (): Settlement => new Settlement(usable, held);
  const { settlement, unmet } = supplyPeers(part.projects, fresh, watch);
  return unmetPeers(settlement, part, unmet).map(
    ({ copy, name, range, provider, version }) =>
      `With the newest of all, ${copy} asks for ${name} ${range} beside it, and ${provider} has ${version ?? 'none'}.`,
  );
}
