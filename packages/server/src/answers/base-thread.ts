import { randomUUID } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import type {
  Answers,
  Progress,
  QuestionOf,
  SourceUse,
  WorkspaceQuestion,
} from '@deep-ledger/core';
import type { Material } from '../workspaces/snapshot.js';
import type { About, BaseAnswer, BaseTask } from './base.worker.js';

const IDLE_MS = 5 * 60_000;

/** A workspace at a commit; the same objects are the same subject. */
export interface Subject {
  readonly material: Material;
  readonly use: SourceUse | null;
}

/** One thread that keeps workspaces and answers questions about them one after another. */
@Injectable()
export class BaseThread implements OnModuleDestroy {
  private pool: Piscina<BaseTask, BaseAnswer> | null = null;
  private readonly keys = new WeakMap<object, string>();

  /** @throws what the signal was aborted with; the thread forgets what it kept then */
  async ask<K extends WorkspaceQuestion['kind']>(
    { material, use }: Subject,
    question: QuestionOf<K>,
    signal: AbortSignal,
    progress: Progress,
  ): Promise<Answers[K]> {
    const { files, unwritten, records, today } = material;
    const common = {
      key: `${this.keyOf(material)} ${use === null ? '' : this.keyOf(use)}`,
      recordsKey: this.keyOf(records),
      question,
    };
    const sent: { about: About | null; records: BaseTask['records'] } = {
      about: null,
      records: null,
    };
    for (;;) {
      const found = await this.run({ ...common, ...sent }, signal, progress);
      if (found.kind === 'answer') return found.answer as Answers[K];
      if (found.what === 'about') sent.about = { files, unwritten, today, use };
      else sent.records = records;
    }
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
      filename: fileURLToPath(new URL('./base.worker.js', import.meta.url)),
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

  /** The same object has the same key. */
  private keyOf(object: object): string {
    const key = this.keys.get(object) ?? randomUUID();
    this.keys.set(object, key);
    return key;
  }
}
