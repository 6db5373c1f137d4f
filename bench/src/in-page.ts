/** What is measured inside the browser's page; each of these is sent there as it stands. */

/** Milliseconds from the end of Alignment's answer to its first row, and the answer's size. */
export async function firstRows(): Promise<{ readonly ms: number; readonly bytes: number }> {
  const until = <T>(look: () => T | null | undefined): Promise<T> =>
    new Promise((resolve) => {
      const check = (): void => {
        const found = look();
        if (found === null || found === undefined) requestAnimationFrame(check);
        else resolve(found);
      };
      check();
    });
  await until(() => document.querySelector('tr[data-package]'));
  const seen = performance.now();
  const answer = await until(() =>
    (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).find((one) =>
      /\/alignment\?/.test(one.name),
    ),
  );
  return { ms: seen - answer.responseEnd, bytes: answer.decodedBodySize };
}

/** Milliseconds between frames while something scrolls, `distance` units a frame. */
export async function scrollFrames(options: {
  readonly selector: string | null;
  readonly distance: number;
  readonly frames: number;
  readonly isSideways: boolean;
}): Promise<readonly number[]> {
  const { selector, distance, frames, isSideways } = options;
  const target = selector === null ? document.scrollingElement! : document.querySelector(selector)!;
  const times: number[] = [];
  await new Promise<void>((resolve) => {
    let last = performance.now();
    let count = 0;
    const step = (): void => {
      const now = performance.now();
      times.push(now - last);
      last = now;
      if (isSideways) target.scrollLeft += distance;
      else target.scrollTop += distance;
      count += 1;
      if (count > frames) resolve();
      else requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  });
  return times.slice(1);
}

/** Milliseconds from moving the mark with the pointer to the answer for the version under it. */
export async function dragAnswers(most: number): Promise<readonly number[]> {
  const svg = document.querySelector<SVGSVGElement>('[role="slider"]')!.ownerSVGElement!;
  const times: number[] = [];
  const at = (): string => document.querySelector('[role="slider"]')!.ariaValueText!;
  const frame = (): Promise<void> =>
    new Promise((resolve) => requestAnimationFrame(() => resolve()));
  const seen = new Set<string>();
  const box = svg.getBoundingClientRect();
  const send = (type: string, x: number): void => {
    const point = { clientX: x, clientY: box.top + 20, pointerId: 1, button: 0, bubbles: true };
    svg.dispatchEvent(new PointerEvent(type, point));
  };
  svg.setPointerCapture = (): void => undefined;
  send('pointerdown', box.left + box.width * 0.9);
  for (let step = 0; step <= 200 && times.length < most; step++) {
    const start = performance.now();
    send('pointermove', box.left + box.width * (0.9 - (0.63 * step) / 200));
    await frame();
    await frame();
    const now = at();
    if (seen.has(now)) continue;
    seen.add(now);
    const isAnswered = (): boolean => {
      const text = document.querySelector('section[aria-live]')?.textContent ?? '';
      return text.startsWith(`Level at ${now}`) && !text.includes('Working it out');
    };
    while (!isAnswered()) await frame();
    times.push(performance.now() - start);
  }
  send('pointerup', box.left + box.width * 0.5);
  return times;
}

/** Milliseconds from the end of each trace's answer until it is drawn; one package after the other is chosen. */
export async function tracesDrawn(names: readonly string[]): Promise<readonly number[]> {
  const frame = (): Promise<void> =>
    new Promise((resolve) => requestAnimationFrame(() => resolve()));
  const input = document.querySelector<HTMLInputElement>('input[aria-label^="Trace a package"]')!;
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
  const times: number[] = [];
  for (const name of names) {
    set.call(document.querySelector('input[aria-label^="Trace a package"]') ?? input, name);
    (document.querySelector('input[aria-label^="Trace a package"]') ?? input).dispatchEvent(
      new Event('input', { bubbles: true }),
    );
    const isDrawn = (): boolean =>
      [...document.querySelectorAll('main svg text.italic')].some(
        ({ textContent }) => textContent === name,
      );
    while (!isDrawn()) await frame();
    await frame();
    const seen = performance.now();
    const answer = (
      performance.getEntriesByType('resource') as PerformanceResourceTiming[]
    ).findLast((one) => one.name.includes(`/trace?package=${name}`));
    times.push(seen - (answer?.responseEnd ?? 0));
  }
  return times;
}
