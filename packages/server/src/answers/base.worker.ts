import type { MessagePort } from 'node:worker_threads';
import { LRUCache } from 'lru-cache';
import { draftBase, type DraftBase, type Known } from '@deep-ledger/core';
import { answerQuestion, type Asked } from './answer-question.js';
import type { Answers, Question } from './question.js';

/** A question for the thread. What it is about is sent along only where the thread does not have it yet. */
export interface BaseTask {
  readonly key: string;
  readonly about:
    (Pick<DraftBase, 'files' | 'records' | 'today'> & { readonly known: Known }) | null;
  readonly question: Question;
  /** Hears pairs of done and total. */
  readonly port: MessagePort;
}

/** Null: send along what it is about. */
export type BaseAnswer = { readonly answer: Answers[Question['kind']] } | null;

const MOST_KEPT = 2;
const TELL_MS = 200;

const kept = new LRUCache<string, Asked>({ max: MOST_KEPT });

/** Answers from workspaces that stay in the thread, so that one draft after another goes on from where its engine stands. */
export default function answer({ key, about, question, port }: BaseTask): BaseAnswer {
  const asked = kept.get(key) ?? readAnew(key, about);
  if (asked === null) return null;
  let toldAt = 0;
  const progress = (done: number, total: number): void => {
    const now = performance.now();
    if (now - toldAt < TELL_MS) return;
    toldAt = now;
    port.postMessage([done, total]);
  };
  return { answer: answerQuestion(asked, question, progress) };
}

function readAnew(key: string, about: BaseTask['about']): Asked | null {
  if (about === null) return null;
  const { files, records, today, known } = about;
  const asked = { base: draftBase(files, records, today), known };
  kept.set(key, asked);
  return asked;
}
