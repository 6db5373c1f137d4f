import { NAME } from '../manifest/index.js';

/**
 * The package that a specifier of an import names; null where it names a file, an address, a name that the
 * project maps itself, or nothing that could be a package here.
 */
export function packageOfSpecifier(specifier: string): string | null {
  // What stands before the last exclamation mark names how to load, not what.
  const plain = specifier.slice(specifier.lastIndexOf('!') + 1);
  const [first] = plain.split(/[/?]/, 1);
  return first !== undefined && NAME.test(first) ? first : null;
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
