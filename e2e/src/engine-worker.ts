import { Engine, printLock, readPackageRecord, readWorkspace } from '@deep-ledger/core';

/** What the worker is sent. */
export interface WorkerQuestion {
  readonly files: readonly (readonly [path: string, text: string])[];
  readonly documents: readonly unknown[];
  readonly asOf: string;
}

addEventListener('message', ({ data }: MessageEvent<WorkerQuestion>) => {
  const records = new Map(
    data.documents.map((document) => {
      const reading = readPackageRecord(document);
      if (!reading.ok) throw new Error(reading.problem.message);
      return [reading.record.name, reading.record];
    }),
  );
  const { workspace } = readWorkspace(new Map(data.files));
  const question = { workspace: workspace!, asOf: data.asOf, before: null };
  const progress: number[] = [];
  const outcome = new Engine(records).resolve(question, (left) => progress.push(left));
  const lock = outcome.kind === 'answered' ? printLock(outcome.resolution) : outcome.kind;
  postMessage({ lock, progress });
});
