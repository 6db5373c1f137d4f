import { bytes } from '@deep-ledger/core';

/** A number and what it counts. */
export function count(n: number, one: string, many = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`;
}

/** A commit or sum as people say it. */
export function short(hash: string, digits = 7): string {
  return hash.slice(0, digits);
}

/** A lockfile's sum in two groups of four digits. */
export function sumDigits(sum: string): string {
  return `${sum.slice(0, 4)} ${sum.slice(4, 8)}`;
}

/** How long ago, roughly. */
export function ago(then: string, now: number): string {
  const minutes = Math.max(0, Math.round((now - Date.parse(then)) / 60_000));
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  const hours = Math.round(minutes / 60);
  return hours < 48 ? `${count(hours, 'hour')} ago` : `${Math.round(hours / 24)} days ago`;
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });

/** Months have three letters, September too. */
export function day(date: string): string {
  return DAY.format(new Date(date)).replace('Sept', 'Sep');
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** A day as people write it, `14 Sep 2026` or `2026-09-14`, as YYYY-MM-DD; null: it is none. */
export function dayOf(text: string): string | null {
  const trimmed = text.trim();
  const written = /^(\d{1,2})\.?\s+([a-z]{3,})\.?\s+(\d{4})$/i.exec(trimmed);
  const month = written === null ? -1 : MONTHS.indexOf(written[2]!.slice(0, 3).toLowerCase());
  const iso =
    written === null
      ? trimmed
      : `${written[3]}-${String(month + 1).padStart(2, '0')}-${written[1]!.padStart(2, '0')}`;
  if (!/^\d{4}-\d{2}-\d{2}$/.test(iso)) return null;
  const date = new Date(`${iso}T00:00:00Z`);
  // 31 Feb is not moved to March.
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(iso) ? iso : null;
}

export function time(date: string): string {
  return TIME.format(new Date(date));
}

export { bytes };
