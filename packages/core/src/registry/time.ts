const TIME = /^(\d{4})-(\d{2})-(\d{2})[Tt ](\d{2}):(\d{2}):(\d{2})(\.\d+)?([Zz]|[+-]\d{2}:\d{2})$/;

/** A time as RFC 3339 has it, in UTC with milliseconds; null for what is none, as a 30 February. */
export function parseTime(text: string): string | null {
  const parts = TIME.exec(text);
  if (parts === null) return null;
  const [year, month, day, hour, minute, second] = parts.slice(1, 7).map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const isDay = day >= 1 && (day <= 28 || day <= new Date(Date.UTC(year, month, 0)).getUTCDate());
  if (month < 1 || month > 12 || !isDay || hour > 23 || minute > 59 || second > 60) return null;
  // Most stand as they are wanted, but for the milliseconds.
  if (second < 60 && text.length === 20 && text[10] === 'T' && text[19] === 'Z')
    return `${text.slice(0, 19)}.000Z`;
  // A leap second is told as the last one of its minute.
  const plain = text.replace(' ', 'T').replace(/:60(?=[.Zz+-])/, ':59');
  const time = Date.parse(plain.toUpperCase());
  return Number.isNaN(time) ? null : new Date(time).toISOString();
}
