import { randomUUID } from 'node:crypto';
import { MessageChannel } from 'node:worker_threads';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import { builtWorker } from '../workers/built-worker.js';
import type { Asked, Progress } from './answer-question.js';
import type { BaseAnswer, BaseTask } from './base.worker.js';
import type { Answers, QuestionOf, Question } from './question.js';

const IDLE_MS = 5 * 60_000;

/** One thread that keeps workspaces and answers questions about them one after another. */
@Injectable()
export class BaseThread implements OnModuleDestroy {
  private pool: Piscina<BaseTask, BaseAnswer> | null = null;
  private readonly keys = new WeakMap<Asked['base'], WeakMap<Asked['known'], string>>();

  /** @throws what the signal was aborted with; the thread forgets what it kept then */
  async ask<K extends Question['kind']>(
    { base, known }: Asked,
    question: QuestionOf<K>,
    signal: AbortSignal,
    progress: Progress,
  ): Promise<Answers[K]> {
    const { files, records, today } = base;
    const key = this.keyOf({ base, known });
    const found =
      (await this.run({ key, about: null, question }, signal, progress)) ??
      (await this.run(
        { key, about: { files, records, today, known }, question },
        signal,
        progress,
      ));
    return found!.answer as Answers[K];
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool?.destroy();
  }

  private async run(
    task: Omit<BaseTask, 'port'>,
    signal: AbortSignal,
    progress: Progress,
  ): Promise<BaseAnswer> {
    this.pool ??= new Piscina<BaseTask, BaseAnswer>({
      filename: builtWorker(new URL('./base.worker.js', import.meta.url)),
      maxThreads: 1,
      idleTimeout: IDLE_MS,
      execArgv: [],
    });
    const { port1, port2 } = new MessageChannel();
    port1.on('message', ([done, total]: [number, number]) => progress(done, total));
    try {
      return await this.pool.run({ ...task, port: port2 }, { signal, transferList: [port2] });
    } catch (error) {
      signal.throwIfAborted();
      throw error;
    } finally {
      port1.close();
    }
  }

  private keyOf({ base, known }: Asked): string {
    const ofBase = this.keys.get(base) ?? new WeakMap<Asked['known'], string>();
    const key = ofBase.get(known) ?? randomUUID();
    ofBase.set(known, key);
    this.keys.set(base, ofBase);
    return key;
  }
}
