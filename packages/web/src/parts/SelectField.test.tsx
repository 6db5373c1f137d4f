import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeAll, expect, test, vi } from 'vitest';
import { SelectField } from './SelectField';

beforeAll(() => {
  // jsdom has no layout.
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe = vi.fn();
      unobserve = vi.fn();
      disconnect = vi.fn();
    },
  );
  Element.prototype.scrollIntoView = vi.fn();
});

function show(many: number) {
  const onChange = vi.fn();
  const options = Array.from({ length: many }, (_, i) => ({ value: `v${i}`, text: `lodge-${i}` }));
  render(<SelectField label="Project" value="v1" options={options} onChange={onChange} />);
  return onChange;
}

test('up to thirty are a list', async () => {
  const onChange = show(30);
  await userEvent.selectOptions(screen.getByLabelText('Project'), 'lodge-7');
  expect(onChange).toHaveBeenCalledWith('v7');
});

test('of more one is chosen by typing, and by keys', async () => {
  const onChange = show(120);
  const field = screen.getByRole('button', { name: 'Project lodge-1' });
  field.focus();
  await userEvent.keyboard('{Enter}');
  expect(screen.getByText('50 of 120; type to see others')).toBeTruthy();
  await userEvent.keyboard('ge-11');
  expect(screen.getAllByRole('option').map(({ textContent }) => textContent)).toEqual([
    'lodge-11',
    ...Array.from({ length: 10 }, (_, i) => `lodge-11${i}`),
  ]);
  await userEvent.keyboard('{ArrowDown}{Enter}');
  expect(onChange).toHaveBeenCalledWith('v110');
  expect(screen.queryByRole('option')).toBeNull();
});

test('what nothing has in its name is said', async () => {
  show(31);
  await userEvent.click(screen.getByRole('button'));
  await userEvent.keyboard('kiosk');
  expect(screen.getByText('Nothing has “kiosk” in its name.')).toBeTruthy();
});
