import type { Batch, Offer } from '@deep-ledger/core';
import { shown } from './output.js';

/**
 * Lets a person choose on the terminal: arrows move, space takes or leaves, enter is the end. At first it has chosen
 * all offers that can be taken together; the others stand there with their reasons.
 * @returns null: the person went away
 */
export async function pickOffers(batch: Batch): Promise<readonly Offer[] | null> {
  const { default: checkbox } = await import('@inquirer/checkbox');
  const against = new Map(batch.left.map(({ offer, against }) => [offer.name, against[0] ?? '']));
  const taken = new Set(batch.offers.map(({ name }) => name));
  const offers = [
    ...batch.offers,
    ...batch.left.flatMap(({ offer }) => (taken.has(offer.name) ? [] : [offer])),
  ].sort((a, b) => (a.name < b.name ? -1 : 1));
  const width = Math.max(...offers.map(({ name }) => name.length));
  try {
    return await checkbox<Offer>({
      message: 'Which upgrades to take',
      loop: false,
      pageSize: 15,
      choices: offers.map((offer) => {
        const { name, kind, to, moves } = offer;
        const reason = taken.has(name) ? '' : `, left out: ${against.get(name)}`;
        return {
          value: offer,
          name: shown(`${name.padEnd(width)}  ${moves[0]!.from} → ${to}  ${kind}${reason}`),
          short: shown(`${name} ${to}`),
          checked: taken.has(name),
        };
      }),
    });
  } catch (error) {
    // Ctrl+C, or the terminal was closed.
    if (error instanceof Error && error.name === 'ExitPromptError') return null;
    throw error;
  }
}
