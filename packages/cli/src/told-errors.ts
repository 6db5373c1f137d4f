/*
 * Errors that are told in their own sentence. They are known by name, so that telling loads nothing that the command did
 * not need.
 */
const TOLD = new Set(['RegistryError', 'UnreadableFile', 'GitError', 'InstallTrouble']);

/** What an error of a registry, a file, git or the file system is told as; null: it is none of these. */
export function toldWords(error: unknown): string | null {
  if (!(error instanceof Error)) return null;
  if ('syscall' in error) return fileSystemWords(error as NodeJS.ErrnoException);
  return TOLD.has(error.name) ? error.message : null;
}

/** Turns an error of the file system into a sentence. */
function fileSystemWords({ code, path, message }: NodeJS.ErrnoException): string {
  const what = path ?? 'A file';
  switch (code) {
    case 'ENOENT':
      return `${what} is not there.`;
    case 'EISDIR':
      return `${what} is a folder; a file is expected.`;
    case 'ENOTDIR':
      return `${what} is a file; a folder is expected.`;
    case 'EACCES':
    case 'EPERM':
      return `${what} may not be read or written by this user.`;
    case 'ENOSPC':
      return `There is no space left where ${what} belongs.`;
    default:
      return message;
  }
}
