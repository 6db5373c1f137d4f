/** A folder as a part of an address, its slashes kept. */
export function folderPath(folder: string): string {
  return folder.split('/').map(encodeURIComponent).join('/');
}
