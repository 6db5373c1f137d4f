import type { Edit, NamedLink } from '../api/client';

/** What a trace is about, as its address has it. */
export interface TraceView {
  readonly package?: string;
  readonly version?: string;
  readonly project?: string;
  readonly direction?: 'up' | 'down';
  readonly kinds?: readonly LinkKind[];
  readonly target?: string;
  readonly from?: string;
  readonly through?: string;
  readonly steps?: number;
  readonly open?: readonly number[];
  /** What is tried out. */
  readonly tried?: readonly Edit[];
  /** Links that no edit can take away, struck out to see what would leave. */
  readonly struck?: readonly NamedLink[];
}

export const LINK_KINDS = ['runtime', 'dev', 'peer', 'optional', 'supplied'] as const;
export type LinkKind = (typeof LINK_KINDS)[number];

const TEXTS = ['package', 'version', 'project', 'target', 'from', 'through'] as const;

/** Reads an address; what makes no sense in it is left out. */
export function traceView(params: URLSearchParams): TraceView {
  const texts = Object.fromEntries(
    TEXTS.flatMap((key) => {
      const value = params.get(key);
      return value === null || value === '' ? [] : [[key, value]];
    }),
  ) as Pick<TraceView, (typeof TEXTS)[number]>;
  const direction = params.get('direction');
  const kinds = (params.get('kinds') ?? '')
    .split(',')
    .filter((one): one is LinkKind => LINK_KINDS.some((kind) => kind === one));
  const open = (params.get('open') ?? '').split(',').filter((one) => /^\d+$/.test(one));
  const steps = Number(params.get('steps'));
  return {
    ...texts,
    ...(direction === 'up' || direction === 'down' ? { direction } : {}),
    ...(kinds.length === 0 ? {} : { kinds }),
    ...(open.length === 0 ? {} : { open: open.map(Number) }),
    ...(Number.isInteger(steps) && steps > 0 ? { steps } : {}),
    tried: listOf(params.get('if')) as readonly Edit[],
    struck: listOf(params.get('strike')).filter(isLink),
  };
}

function listOf(text: string | null): readonly unknown[] {
  if (text === null) return [];
  try {
    const parsed: unknown = JSON.parse(text);
    return Array.isArray(parsed) ? parsed : [];
  } catch {
    return [];
  }
}

function isLink(one: unknown): one is NamedLink {
  const { from, to } = (one ?? {}) as Partial<NamedLink>;
  return typeof from === 'string' && typeof to === 'string';
}

/** Values for the address; null where nothing is to stand. */
export function traceParams(view: TraceView): Readonly<Record<string, string | null>> {
  return {
    ...Object.fromEntries(TEXTS.map((key) => [key, view[key] ?? null])),
    direction: view.direction ?? null,
    kinds: view.kinds?.join(',') ?? null,
    open: view.open?.join(',') ?? null,
    steps: view.steps === undefined ? null : String(view.steps),
    if: textOf(view.tried),
    strike: textOf(view.struck),
  };
}

function textOf(list: readonly unknown[] | undefined): string | null {
  return list === undefined || list.length === 0 ? null : JSON.stringify(list);
}

export function traceAddress(slug: string, view: TraceView): string {
  const params = new URLSearchParams();
  for (const [key, value] of Object.entries(traceParams(view)))
    if (value !== null && value !== '') params.set(key, value);
  return `/w/${slug}/trace?${params.toString()}`;
}
