import type { Requirement } from '../workspace/index.js';
import type { Evidence } from './finding.js';
import type { Grounds } from './grounds.js';

/** A requirement, where it is written. */
export function requirementEvidence(grounds: Grounds, requirement: Requirement): Evidence {
  const { file, span, name, written } = requirement;
  return { kind: 'place', says: `${name} "${written}"`, place: grounds.place(file, span) };
}

/** How a copy comes in, by one of the shortest ways; nothing where nothing brings it in. */
export function chainEvidence(
  grounds: Grounds,
  name: string,
  version: string,
): readonly Evidence[] {
  const chain = grounds.shortestChain(name, version);
  return chain === null ? [] : [{ kind: 'chain', says: 'comes in by', chain }];
}

export function demandsEvidence(name: string): Evidence {
  return { kind: 'demands', says: `all that is asked of ${name}`, package: name };
}

/** Folders as people call them. */
export function projectName(grounds: Grounds, folder: string): string {
  return grounds.project(folder)?.name ?? folder;
}
