import type { MessagePort } from 'node:worker_threads';
import { LRUCache } from 'lru-cache';
import {
  answerQuestion,
  type Answers,
  type AskedWorkspace,
  draftBase,
  type DraftBase,
  KeptTrials,
  lookForNeedless,
  readWorkspace,
  type SourceUse,
  type WorkspaceQuestion,
} from '@deep-ledger/core';

/** What a question is about, beside the registry's records. */
export interface About extends Pick<DraftBase, 'files' | 'unwritten' | 'today'> {
  readonly use: SourceUse | null;
}

/** A question for the thread. Its subject is sent along only where the thread does not have it yet. */
export interface BaseTask {
  readonly key: string;
  readonly about: About | null;
  readonly recordsKey: string;
  readonly records: DraftBase['records'] | null;
  readonly question: WorkspaceQuestion;
  /** Hears pairs of done and total. */
  readonly port: MessagePort;
}

export type BaseAnswer =
  | { readonly kind: 'answer'; readonly answer: Answers[WorkspaceQuestion['kind']] }
  /** Send this along. */
  | { readonly kind: 'lacks'; readonly what: 'about' | 'records' };

const MOST_KEPT = 2;
const TELL_MS = 200;

const kept = new LRUCache<string, AskedWorkspace>({ max: MOST_KEPT });
/** The workspaces made last, by the key of their records; the next ones go on from them. */
const latest = new LRUCache<string, KeptTrials>({ max: MOST_KEPT });

/** Answers from workspaces that stay in the thread, so that one draft after another goes on from where its engine stands. */
export default function answer(task: BaseTask): BaseAnswer {
  const asked = kept.get(task.key) ?? readAnew(task);
  if ('kind' in asked) return asked;
  let toldAt = 0;
  const progress = (done: number, total: number): void => {
    const now = performance.now();
    if (now - toldAt < TELL_MS) return;
    toldAt = now;
    task.port.postMessage([done, total]);
  };
  return { kind: 'answer', answer: answerQuestion(asked, task.question, progress) };
}

function readAnew({ key, about, recordsKey, records }: BaseTask): AskedWorkspace | BaseAnswer {
  if (about === null) return { kind: 'lacks', what: 'about' };
  const trials = latest.get(recordsKey);
  const before = trials?.base;
  if (before === undefined && records === null) return { kind: 'lacks', what: 'records' };
  const { files, unwritten, today, use } = about;
  const reading = readWorkspace(files, before?.reading);
  const base =
    before === undefined
      ? draftBase(files, records!, today, reading, undefined, null, unwritten)
      : draftBase(files, before.records, today, reading, before.engine, null, unwritten);
  const known = { use, needless: lookForNeedless(base) };
  const asked = { base, known, trials: trials?.on(base) ?? new KeptTrials(base) };
  kept.set(key, asked);
  latest.set(recordsKey, asked.trials);
  return asked;
}
