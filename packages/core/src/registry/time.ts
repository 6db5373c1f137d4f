const TIME = /^\d{4}-\d{2}-\d{2}[Tt ]\d{2}:\d{2}:\d{2}(?:\.\d+)?(?:[Zz]|[+-]\d{2}:\d{2})$/;

/** A time as RFC 3339 has it, in UTC with milliseconds; null for what is none, as a 30 February. */
export function parseTime(text: string): string | null {
  if (!TIME.test(text)) return null;
  const [month, day] = [twoDigits(text, 5), twoDigits(text, 8)];
  const [hour, minute, second] = [twoDigits(text, 11), twoDigits(text, 14), twoDigits(text, 17)];
  const isDay = day >= 1 && (day <= 28 || day <= daysOf(Number(text.slice(0, 4)), month));
  if (month < 1 || month > 12 || !isDay || hour > 23 || minute > 59 || second > 60) return null;
  // Most stand as they are wanted, with their milliseconds or without.
  if (second < 60 && text[10] === 'T' && text.endsWith('Z')) {
    if (text.length === 20) return `${text.slice(0, 19)}.000Z`;
    if (text.length === 24) return text;
  }
  // A leap second is told as the last one of its minute.
  const plain = text.replace(' ', 'T').replace(/:60(?=[.Zz+-])/, ':59');
  const time = Date.parse(plain.toUpperCase());
  return Number.isNaN(time) ? null : new Date(time).toISOString();
}

/** The number of two digits at an offset, without a text of its own for it: registries have times by the ten thousand. */
function twoDigits(text: string, at: number): number {
  return Number(text[at]) * 10 + Number(text[at + 1]);
}

function daysOf(year: number, month: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate();
}
