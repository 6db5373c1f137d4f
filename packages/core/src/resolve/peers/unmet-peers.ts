import { printVersion } from '../../version/index.js';
import type { Workspace } from '../../workspace/index.js';
import { PeerProviders } from './peer-providers.js';
import { SettledPeers } from './settled-peers.js';
import type { UnmetDemand } from './supply-peers.js';
import { copyKey } from '../model/resolution.js';
import type { Settlement } from '../choose/settlement.js';

/** A peer of a copy that what stands above it does not meet. */
export interface UnmetPeer {
  /** Name and version of the copy that asks. */
  readonly copy: string;
  readonly name: string;
  readonly range: string;
  /** What provides the package: a project's folder, or name and version of a copy. */
  readonly provider: string;
  /** The version that it provides; null: none. */
  readonly version: string | null;
  /** From the provider down to the copy: a project's folder or names and versions of copies. */
  readonly chain: readonly string[];
}

/** Peers that are not met in words, sorted by copy, name and provider. */
export function unmetPeers(
  settlement: Settlement,
  workspace: Workspace,
  unmet: readonly UnmetDemand[],
): readonly UnmetPeer[] {
  const { catalog } = settlement;
  const providers = new PeerProviders(new SettledPeers(settlement));
  const ownerName = (owner: number): string =>
    owner < 0
      ? workspace.projects[~owner]!.folder
      : copyKey({ name: catalog.nameOf(owner), version: catalog.releases[owner]!.text });
  return unmet
    .map(({ copy, peer, provider, chain }): UnmetPeer => {
      const version = providers.versionOf(provider);
      const names = [ownerName(copy), ...chain.map(({ owner }) => ownerName(owner))].reverse();
      return {
        copy: ownerName(copy),
        name: peer.name,
        range: peer.range,
        provider: names[0]!,
        version: version && printVersion(version),
        chain: names,
      };
    })
    .sort((a, b) => (keyOf(a) < keyOf(b) ? -1 : 1));
}

function keyOf({ copy, name, range, provider }: UnmetPeer): string {
  return `${copy}\n${name}\n${range}\n${provider}`;
}
