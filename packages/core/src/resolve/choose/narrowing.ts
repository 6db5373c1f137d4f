import type { Demand } from '../model/demand.js';
import type { Settlement } from './settlement.js';
import type { Pool } from '../model/usable-releases.js';

/** Which demand is meant, whatever was settled so far. */
export type DemandName =
  | { readonly kind: 'requirement'; readonly project: number; readonly index: number }
  /** @param need numbered as in the catalog */
  | { readonly kind: 'need'; readonly need: number }
  | {
      readonly kind: 'supply';
      readonly project: number;
      readonly name: string;
      readonly texts: readonly string[];
    };

/** Leaves of what demands admit only what a policy allows. */
export interface Narrowing {
  narrow(name: DemandName, pool: Pool): Pool;
}

export const AS_IT_IS: Narrowing = { narrow: (_, pool) => pool };

export function demandKey(name: DemandName): string {
  switch (name.kind) {
    case 'requirement':
      return `requirement ${name.project} ${name.index}`;
    case 'need':
      return `need ${name.need}`;
    case 'supply':
      return `supply ${name.project} ${name.name} ${name.texts.join(' & ')}`;
  }
}

/** The name of a demand of a settlement. */
export function nameOfDemand(settlement: Settlement, demand: Demand): DemandName {
  const { owner } = demand;
  if (owner >= 0) {
    const need = settlement.needDemands(owner).indexOf(demand);
    return { kind: 'need', need: settlement.catalog.firstNeed[owner]! + need };
  }
  const project = ~owner;
  const index = settlement.projectDemands(project).indexOf(demand);
  if (index >= 0) return { kind: 'requirement', project, index };
  const { name, texts } = settlement.suppliesOf(project).find((one) => one.demand === demand)!;
  return { kind: 'supply', project, name, texts };
}
