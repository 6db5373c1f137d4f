/** How long until a job is looked at for the first time; the wait doubles up to the longest. */
const FIRST_MS = 200;
const LONGEST_MS = 1_600;

/**
 * Asks the server. A question that it answers with 202, because it waits for a job, is asked again when the job is over,
 * so that no connection is held for long. Where the request is given up, so is the waiting.
 */
export async function patientFetch(request: Request): Promise<Response> {
  request.headers.set('prefer', 'respond-async');
  for (;;) {
    const response = await fetch(request.clone());
    const job = response.headers.get('location');
    if (response.status !== 202 || job === null) return response;
    await readToEnd(response);
    await isOver(job, request.signal);
  }
}

async function isOver(job: string, signal: AbortSignal): Promise<void> {
  for (let ms = FIRST_MS; ; ms = Math.min(2 * ms, LONGEST_MS)) {
    await waited(ms, signal);
    const response = await fetch(job, { signal });
    // A job that is gone has nothing to wait for; asked again, the server says what there is.
    if (!response.ok) return readToEnd(response);
    const { state } = (await response.json()) as { readonly state: string };
    if (state !== 'waiting' && state !== 'running') return;
  }
}

/** What nobody reads is on its way for the browser until it clears up, and may hold a connection. */
async function readToEnd(response: Response): Promise<void> {
  await response.arrayBuffer();
}

function waited(ms: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const giveUp = (): void => {
      clearTimeout(timer);
      reject(signal.reason as Error);
    };
    const timer = setTimeout(() => {
      signal.removeEventListener('abort', giveUp);
      resolve();
    }, ms);
    if (signal.aborted) giveUp();
    else signal.addEventListener('abort', giveUp, { once: true });
  });
}
