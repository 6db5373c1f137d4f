import { isName } from '../text/index.js';

/** A specifier that begins like a package's name, and not like a path, an address or a name that a project maps itself. */
const LIKE_A_NAME = /^@?[\p{L}\p{Nd}][^:]*$/u;

/**
 * The package that a specifier of an import names, as far as the text alone tells: its first part. Null where it names a
 * file, an address, a name that the project maps itself, or nothing that could be a package here.
 */
export function packageOfSpecifier(specifier: string): string | null {
  const [first] = pathOfSpecifier(specifier).split('/', 1);
  return first !== undefined && LIKE_A_NAME.test(first) && isName(first) ? first : null;
}

/**
 * The known package that a specifier names: the longest of which the name is the specifier's beginning, up to a `/` or
 * its end. Null: none is known. O(parts).
 */
export function knownPackage(specifier: string, isKnown: (name: string) => boolean): string | null {
  const path = pathOfSpecifier(specifier);
  for (let end = path.length; end > 0; end = path.lastIndexOf('/', end - 1)) {
    const name = path.slice(0, end);
    if (isKnown(name)) return name;
  }
  return null;
}

/** Text before the last exclamation mark names how to load, and text after a question mark is no path. */
function pathOfSpecifier(specifier: string): string {
  return specifier.slice(specifier.lastIndexOf('!') + 1).split('?', 1)[0]!;
}

/** Modules that come with the runtime: a reference to one asks for no package. */
export function isRuntimeModule(name: string): boolean {
  return RUNTIME_MODULES.has(name);
}

const RUNTIME_MODULES: ReadonlySet<string> = new Set(
  `assert async_hooks buffer child_process cluster console constants crypto dgram diagnostics_channel dns domain
  events fs http http2 https inspector module net os path perf_hooks process punycode querystring readline repl
  sqlite stream string_decoder sys test timers tls trace_events tty url util v8 vm wasi worker_threads zlib`.split(
    /\s+/,
  ),
);
