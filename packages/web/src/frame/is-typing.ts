/** Does a key belong to the text that is being typed? */
export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest('input, textarea, select, [role="dialog"]') !== null
  );
}
