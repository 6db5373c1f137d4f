import type { Command } from 'commander';
import type { SHELLS } from './shells.js';

/** A script that completes commands and options in a shell; zsh runs that of bash through its own bridge. */
export function completionScript(program: Command, shell: (typeof SHELLS)[number]): string {
  const commands = program.commands.filter((one) => !one.name().startsWith('merge-'));
  const cases = commands.map(
    (one) =>
      `    ${one.name()}) words="${one.options.flatMap(({ long }) => long ?? []).join(' ')} --help" ;;`,
  );
  const script = [
    '_deep_ledger() {',
    '  local current="${COMP_WORDS[COMP_CWORD]}" words',
    '  if [ "$COMP_CWORD" -eq 1 ]; then',
    `    COMPREPLY=($(compgen -W "${commands.map((one) => one.name()).join(' ')} --help --version" -- "$current"))`,
    '    return',
    '  fi',
    '  case "${COMP_WORDS[1]}" in',
    ...cases,
    '    *) words="--help" ;;',
    '  esac',
    '  case "$current" in',
    '    -*) COMPREPLY=($(compgen -W "$words" -- "$current")) ;;',
    '    *) COMPREPLY=($(compgen -f -- "$current")) ;;',
    '  esac',
    '}',
    'complete -F _deep_ledger deep-ledger',
  ];
  return (
    shell === 'zsh' ? ['autoload -U +X bashcompinit && bashcompinit', ...script] : script
  ).join('\n');
}
