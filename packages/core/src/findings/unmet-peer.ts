import { projectName } from './evidence.js';
import { remedy, type FindingRule, type Remedy } from './finding.js';
import type { Grounds } from './grounds.js';
import type { UnmetPeer } from '../resolve/index.js';

/** What stands above a copy does not provide the peer that it asks for. */
export const unmetPeer: FindingRule = {
  kind: 'unmet-peer',
  severity: 'warning',
  raise: (grounds) =>
    grounds.stand.unmetPeers.map((peer) => {
      const [name, version] = peer.copy.split(' ') as [string, string];
      const provider = projectName(grounds, peer.provider);
      return {
        package: name,
        version,
        mark: [peer.name, peer.provider],
        project: grounds.project(peer.provider) === null ? null : peer.provider,
        says: `${peer.copy} asks for ${peer.name} ${peer.range} beside it; ${provider} ${
          peer.version === null ? 'provides none' : `provides ${peer.version}`
        }`,
        evidence: [
          { kind: 'chain', says: 'who provides it', chain: peer.chain },
          { kind: 'demands', says: `all that is asked of ${peer.name}`, package: peer.name },
        ],
        remedies: remediesOf(grounds, peer),
      };
    }),
};

function remediesOf(grounds: Grounds, { name, range, provider }: UnmetPeer): readonly Remedy[] {
  const project = grounds.project(provider);
  if (project === null) return [];
  const own = project.requirements.find((one) => one.name === name);
  const projects = [provider];
  if (own === undefined) {
    return [
      remedy(`require ${name} ${range} in ${project.name}`, {
        kind: 'add-requirement',
        package: name,
        range,
        as: 'runtime',
        projects,
      }),
    ];
  }
  if (own.isEverywhere) return [];
  return own.written === 'shared'
    ? [remedy(`agree on ${name} ${range}`, { kind: 'set-shared', package: name, range })]
    : [
        remedy(`ask for ${name} ${range} in ${project.name}`, {
          kind: 'set-range',
          package: name,
          range,
          projects,
        }),
      ];
}
