import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker as Thread } from 'node:worker_threads';
import { isOwnFile } from '@deep-ledger/core';
import { build } from 'vite';
import type { WorkerQuestion } from './engine-worker.js';
import { DEMO, expect, test } from './workspace-fixture.js';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const ORIGIN = 'http://worker.test';

interface WorkerAnswer {
  readonly lock: string;
  readonly progress: readonly number[];
}

let question: WorkerQuestion;
let code: string;

test.beforeAll(async () => {
  const git = (...args: readonly string[]): string =>
    execFileSync('git', ['-C', DEMO, ...args], { encoding: 'utf8' });
  const documents = join(DEMO, '../registry');
  question = {
    files: git('ls-tree', '-r', '--name-only', 'main')
      .split('\n')
      .filter(isOwnFile)
      .map((path) => [path, git('show', `main:${path}`)]),
    documents: readdirSync(documents).map(
      (file) => JSON.parse(readFileSync(join(documents, file), 'utf8')) as unknown,
    ),
    asOf: '2026-11-16',
  };
  const built = await build({
    configFile: false,
    logLevel: 'silent',
    build: {
      write: false,
      lib: { entry: join(ROOT, 'e2e/src/engine-worker.ts'), formats: ['es'] },
    },
  });
  const [bundle] = Array.isArray(built) ? built : [built];
  if (bundle === undefined || !('output' in bundle)) throw new Error('nothing was built');
  code = bundle.output[0].code;
});

/** The same bundle in a worker thread; it speaks to a browser's `self`, so it is given one. */
function inThread(): Promise<WorkerAnswer> {
  const bridge = `
    import { parentPort } from 'node:worker_threads';
    globalThis.postMessage = (message) => parentPort.postMessage(message);
    globalThis.addEventListener = (_, listen) => parentPort.on('message', (data) => listen({ data }));
  `;
  const script = `data:text/javascript,${encodeURIComponent(`${bridge}\n${code}`)}`;
  return new Promise((resolve, reject) => {
    const worker = new Thread(new URL(script));
    worker.once('error', reject);
    worker.once('message', (answer: WorkerAnswer) => {
      resolve(answer);
      void worker.terminate();
    });
    worker.postMessage(question);
  });
}

test('the engine gives the same bytes in a worker thread and in the web worker of a browser', async ({
  page,
}) => {
  await page.route(`${ORIGIN}/**`, (route) =>
    route.fulfill(
      route.request().url().endsWith('.js')
        ? { contentType: 'text/javascript', body: code }
        : { contentType: 'text/html', body: '<!doctype html><title>worker</title>' },
    ),
  );
  await page.goto(`${ORIGIN}/`);
  const answer = await page.evaluate(
    (sent) =>
      new Promise<WorkerAnswer>((resolve, reject) => {
        const worker = new Worker('/worker.js', { type: 'module' });
        worker.onerror = (event) => reject(new Error(event.message));
        worker.onmessage = ({ data }: MessageEvent<WorkerAnswer>) => resolve(data);
        worker.postMessage(sent);
      }),
    question,
  );
  expect(answer.lock).toContain('deep-ledger lockfile\nformat 2\n\nproject apps/');
  expect(answer.progress.length).toBeGreaterThan(0);
  expect(await inThread()).toEqual(answer);
});
