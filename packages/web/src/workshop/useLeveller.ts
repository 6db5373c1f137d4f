import { wrap, type Remote } from 'comlink';
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import type { Candidate, Edit as WholeEdit, LevelPreview } from '@deep-ledger/core';
import type { Edit } from '../api/client';
import type { Workshop } from './workshop';

let workshop: Remote<Workshop> | null = null;

/** One worker for the page, started when it is first needed. */
function theWorkshop(): Remote<Workshop> {
  workshop ??= wrap<Workshop>(
    new Worker(new URL('./workshop.worker.ts', import.meta.url), { type: 'module' }),
  );
  return workshop;
}

/** The work for the package panel in the worker is one thing at a time, in the order in which it was asked for. */
let turn: Promise<unknown> = Promise.resolve();

export interface Levelling {
  /** What is being done, for people; null: it is done. */
  readonly doing: string | null;
  readonly error: Error | null;
  /** Ranked; grows while versions are tried. */
  readonly candidates: readonly Candidate[];
  /** The version under the mark, as soon as it was tried; an earlier one until then. */
  readonly preview: LevelPreview | null;
}

const NOTHING: Levelling = {
  doing: 'Reading the workspace',
  error: null,
  candidates: [],
  preview: null,
};

/**
 * Tries the versions of a package on top of a draft's edits, and the one under the mark before all others.
 * @param key changes when the model does
 * @param edits of the draft in hand, as the server has them: whole; null while they are not known
 */
export function useLeveller(
  address: string,
  key: string,
  name: string,
  edits: readonly Edit[] | null,
  mark: string | null,
): Levelling & { readonly try: (version: string) => void } {
  const [state, setState] = useState<Levelling>(NOTHING);
  const wanted = useRef<string | null>(mark);
  const wake = useRef<() => void>(() => undefined);
  const editsKey = JSON.stringify(edits);
  const run = useEffectEvent((isOver: () => boolean) =>
    work(
      theWorkshop(),
      { address, key, name, edits: (edits ?? []) as readonly WholeEdit[] },
      wanted,
      wake,
      isOver,
      (next) => setState((now) => ({ ...now, ...next })),
    ),
  );
  const rouse = useEffectEvent(() => wake.current());
  useEffect(() => {
    if (editsKey === 'null') return undefined;
    let over = false;
    turn = turn
      .then(() => (over ? undefined : run(() => over)))
      .catch((error: unknown) => {
        if (!over) setState((now) => ({ ...now, doing: null, error: error as Error }));
      });
    return () => {
      over = true;
      rouse();
    };
  }, [address, key, name, editsKey]);
  return {
    ...state,
    try: (version) => {
      wanted.current = version;
      wake.current();
    },
  };
}

interface Job {
  readonly address: string;
  readonly key: string;
  readonly name: string;
  readonly edits: readonly WholeEdit[];
}

/** Tries what is wanted first, then the candidates one by one, then waits for more to be wanted. */
async function work(
  shop: Remote<Workshop>,
  { address, key, name, edits }: Job,
  wanted: { current: string | null },
  wake: { current: () => void },
  isOver: () => boolean,
  tell: (next: Partial<Levelling>) => void,
): Promise<void> {
  tell({ doing: 'Reading the workspace', error: null });
  await shop.open(address, key);
  const versions = await shop.begin(name, edits);
  const known = new Map<string, LevelPreview>();
  const left = [...versions];
  let shown: string | null = null;
  while (!isOver()) {
    const asked: string | null = wanted.current;
    const isUrgent: boolean = asked !== null && asked !== shown;
    const version: string | null | undefined = isUrgent ? asked : left.shift();
    if (version === undefined || version === null) {
      tell({ doing: null });
      await new Promise<void>((resolve) => {
        wake.current = resolve;
      });
      continue;
    }
    const preview = known.get(version) ?? (await shop.preview(version));
    if (preview !== null) known.set(version, preview);
    if (isOver()) return;
    if (isUrgent) {
      shown = version;
      tell({ preview });
      continue;
    }
    const tried = versions.flatMap((one) => known.get(one) ?? []);
    tell({
      candidates: await shop.rank(tried),
      doing: `Trying the versions of ${name}: ${tried.length} of ${versions.length}`,
    });
  }
}
