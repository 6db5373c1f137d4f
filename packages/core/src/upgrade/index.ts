export {
  unusableWords,
  UPGRADE_KINDS,
  upgradeRows,
  type NewerRelease,
  type Offer,
  type UpgradeKind,
  type UpgradeRow,
} from './offers.js';
export { offersUpTo, upgradeBatch, type Batch, type LeftOut } from './batch.js';
export { filteredRows, type UpgradeFilter } from './upgrade-filter.js';
export {
  registryNews,
  type LeftRelease,
  type NewRelease,
  type RegistryNews,
} from './registry-news.js';
export { largestPart, type PartTrial } from './largest-part.js';
export { KeptTrials } from './kept-trials.js';
export { UpgradeTrials, type UpgradePrice, type UpgradeTrial } from './upgrade-trials.js';
