/**
 * The same text, held by itself. Engines keep a part of a text as a reference into the whole, so a part that is
 * remembered would keep a file of megabytes in memory. O(length).
 */
export function ownText(text: string): string {
  return `${text} `.slice(0, -1);
}
