/** A caller that waits this long without saying how long it wants to wait. */
const USUAL_MS = 1_000;

/**
 * How long a caller wants to wait before it is told where to ask again, in milliseconds; null: as long as it takes. From
 * the header `Prefer` with `respond-async` and perhaps `wait`, in seconds (RFC 7240, sections 4.1 and 4.3).
 */
export function patienceOf(prefer: string | undefined): number | null {
  const preferences = new Map(
    (prefer ?? '').split(/[,;]/).map((one) => {
      const [name = '', value = ''] = one.split('=').map((part) => part.trim());
      return [name.toLowerCase(), value.replace(/^"(.*)"$/, '$1')];
    }),
  );
  if (!preferences.has('respond-async')) return null;
  const wait = preferences.get('wait') ?? '';
  return /^\d{1,5}$/.test(wait) ? Number(wait) * 1000 : USUAL_MS;
}
