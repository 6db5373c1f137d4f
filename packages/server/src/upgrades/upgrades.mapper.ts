import type { Batch, Offer, UpgradeRow } from '@deep-ledger/core';
import type { UpgradeBatchDto, UpgradeOfferDto, UpgradeRowDto } from './upgrades.dto.js';

export function toRow(row: UpgradeRow): UpgradeRowDto {
  return {
    ...row,
    packages: [...row.packages],
    projects: [...row.projects],
    owners: [...row.owners],
    kinds: [...row.kinds],
    others: [...row.others],
    newer: [...row.newer],
    offers: row.offers.map(toOffer),
  };
}

function toOffer(offer: Offer): UpgradeOfferDto {
  return { ...offer, moves: [...offer.moves] };
}

export function toBatch(commit: string, { offers, left, price }: Batch): UpgradeBatchDto {
  const names = new Set([...offers, ...left.map(({ offer }) => offer)].map(({ name }) => name));
  return {
    commit,
    of: names.size,
    offers: offers.map(toOffer),
    left: left.map(({ offer, against }) => ({ offer: toOffer(offer), against: [...against] })),
    price,
  };
}
