/** What git and the hooks that it runs may know of the server's surroundings: the way to programs, keys and proxies. */
const KEPT = new Set([
  'PATH',
  'HOME',
  'USER',
  'LOGNAME',
  'SHELL',
  'TMPDIR',
  'SSH_AUTH_SOCK',
  'XDG_CONFIG_HOME',
  'HTTP_PROXY',
  'HTTPS_PROXY',
  'ALL_PROXY',
  'NO_PROXY',
  'SSL_CERT_FILE',
  'SSL_CERT_DIR',
  'GIT_SSL_CAINFO',
  'GIT_CONFIG_GLOBAL',
]);

/** No prompts, no other transports than those people use, and the same language on every machine. */
const OWN = {
  GIT_TERMINAL_PROMPT: '0',
  GIT_ALLOW_PROTOCOL: 'file:git:http:https:ssh',
  GIT_SSH_COMMAND: 'ssh -o BatchMode=yes -o ConnectTimeout=10',
  LC_ALL: 'C',
};

/** The environment of every git: what it needs and nothing of the server's own, such as the database's password. */
export function gitSurroundings(
  env: Readonly<Record<string, string | undefined>>,
): Record<string, string> {
  const kept = Object.entries(env).filter(
    (entry): entry is [string, string] =>
      entry[1] !== undefined && KEPT.has(entry[0].toUpperCase()),
  );
  return { ...Object.fromEntries(kept), ...OWN };
}
