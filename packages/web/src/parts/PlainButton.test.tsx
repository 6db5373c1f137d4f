import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { PlainButton } from './PlainButton';

/** In a form, as its button: pressing it sends the form. */
function show() {
  const [onClick, onSubmit] = [vi.fn(), vi.fn((event: Event) => event.preventDefault())];
  const shown = (disabled: boolean) => (
    <form onSubmit={(event) => onSubmit(event.nativeEvent)}>
      <PlainButton type="submit" disabled={disabled} onClick={onClick}>
        Try
      </PlainButton>
      <a href="/">elsewhere</a>
    </form>
  );
  const { rerender } = render(shown(false));
  const button = screen.getByRole<HTMLButtonElement>('button');
  return { button, onClick, onSubmit, setDisabled: (to: boolean) => rerender(shown(to)) };
}

test('a button that has the focus keeps it while it cannot be pressed, and is pressed for nothing', async () => {
  const { button, onClick, onSubmit, setDisabled } = show();
  await userEvent.tab();
  await userEvent.keyboard('{Enter}');
  expect([onClick, onSubmit].map(({ mock }) => mock.calls.length)).toEqual([1, 1]);
  setDisabled(true);
  expect(button.disabled).toBe(false);
  expect(button.getAttribute('aria-disabled')).toBe('true');
  await userEvent.keyboard('{Enter}');
  expect([onClick, onSubmit].map(({ mock }) => mock.calls.length)).toEqual([1, 1]);
  setDisabled(false);
  expect(document.activeElement).toBe(button);
  expect(button.hasAttribute('aria-disabled')).toBe(false);
  await userEvent.keyboard('{Enter}');
  expect([onClick, onSubmit].map(({ mock }) => mock.calls.length)).toEqual([2, 2]);
});

test('one that has not is passed over by keys', async () => {
  const { button, onClick, setDisabled } = show();
  setDisabled(true);
  expect(button.disabled).toBe(true);
  await userEvent.tab();
  expect(document.activeElement?.textContent).toBe('elsewhere');
  fireEvent.click(button);
  expect(onClick).not.toHaveBeenCalled();
});

test('once the focus has gone on, it is passed over too', async () => {
  const { button, setDisabled } = show();
  await userEvent.tab();
  setDisabled(true);
  await userEvent.tab();
  expect(button.disabled).toBe(true);
});
