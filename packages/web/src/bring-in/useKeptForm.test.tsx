import { renderHook } from '@testing-library/react';
import { afterEach, expect, test } from 'vitest';
import { newRegistry } from './bring-in-form';
import { useKeptForm } from './useKeptForm';

afterEach(() => sessionStorage.clear());

test('registries of a kept form can be told apart, also where it was kept without keys', () => {
  const registries = ['house', 'main'].map((name) => ({
    ...newRegistry(name, '*'),
    key: undefined,
  }));
  const kept = { name: 'ferries', kinds: [], shared: null, adopt: null, registries };
  sessionStorage.setItem('deep-ledger bring-in small', JSON.stringify(kept));
  const { result } = renderHook(() => useKeptForm('small', undefined));
  expect(result.current.form?.registries.map(({ key, name }) => [key, name])).toEqual([
    [0, 'house'],
    [1, 'main'],
  ]);
});
