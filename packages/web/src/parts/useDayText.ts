import { useState, type ChangeEvent } from 'react';
import { day, dayOf } from './words';

/**
 * The text of a field for a day: written as on all pages, and as somebody types it until it is a day.
 * @param value YYYY-MM-DD; empty: none
 * @param onChange hears of days alone, and of an empty field
 */
export function useDayText(value: string, onChange: (value: string) => void) {
  const [typed, setTyped] = useState<string | null>(null);
  const isWrong = typed !== null && typed.trim() !== '' && dayOf(typed) === null;
  return {
    isWrong,
    input: {
      value: typed ?? (value === '' ? '' : day(value)),
      placeholder: '14 Sep 2026',
      onChange: ({ target }: ChangeEvent<HTMLInputElement>): void => {
        setTyped(target.value);
        const found = dayOf(target.value);
        if (found !== null || target.value.trim() === '') onChange(found ?? '');
      },
      onBlur: (): void => {
        if (!isWrong) setTyped(null);
      },
    },
  };
}
