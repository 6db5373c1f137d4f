export { distancesFrom, FAR, linksOf, reverseLinks, type Links } from './links.js';
export { strongComponents, type Components } from './strong-components.js';
