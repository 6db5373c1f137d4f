import { useEffect, useState } from 'react';
import type { BringIn } from '../api/client';
import { formOfProposal, type BringInForm } from './bring-in-form';

/** The form, which the browser keeps for its tab; tokens are not kept. */
export function useKeptForm(slug: string, proposal: BringIn | undefined) {
  const key = `deep-ledger bring-in ${slug}`;
  const [typed, setTyped] = useState<BringInForm | null>(() => readKept(key));
  const form = typed ?? (proposal === undefined ? null : formOfProposal(proposal));
  useEffect(() => {
    if (typed === null) return;
    const registries = typed.registries.map((one) => ({ ...one, token: '' }));
    sessionStorage.setItem(key, JSON.stringify({ ...typed, registries }));
  }, [key, typed]);
  const beginAgain = (): void => {
    sessionStorage.removeItem(key);
    setTyped(null);
  };
  return { form, isTyped: typed !== null, change: setTyped, beginAgain };
}

function readKept(key: string): BringInForm | null {
  try {
    const kept = JSON.parse(sessionStorage.getItem(key) ?? 'null') as BringInForm | null;
    if (!Array.isArray(kept?.kinds) || !Array.isArray(kept.registries)) return null;
    // What an earlier version of this page kept has no keys.
    return { ...kept, registries: kept.registries.map((one, key) => ({ ...one, key })) };
  } catch {
    return null;
  }
}
