import { render } from '@testing-library/react';
import { expect, test } from 'vitest';
import { usePageTitle } from './usePageTitle';

function Page({ what }: { readonly what: readonly (string | undefined)[] }) {
  usePageTitle(...what);
  return null;
}

test('a page is named first by itself, then by what it is part of; what is not known yet is left out', () => {
  const { rerender } = render(<Page what={['Drift', undefined]} />);
  expect(document.title).toBe('Drift · Deep Ledger');
  rerender(<Page what={['Drift', 'Brindlepeak']} />);
  expect(document.title).toBe('Drift · Brindlepeak · Deep Ledger');
  rerender(<Page what={[]} />);
  expect(document.title).toBe('Deep Ledger');
});
