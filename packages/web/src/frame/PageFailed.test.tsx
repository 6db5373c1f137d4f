import { render, screen } from '@testing-library/react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { expect, test, vi } from 'vitest';
import { PageFailed } from './PageFailed';

test('a page that cannot be drawn says so, with ways to go on', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => undefined);
  const Broken = () => {
    throw new RangeError('Invalid time value');
  };
  const router = createMemoryRouter([
    { path: '/', element: <Broken />, errorElement: <PageFailed /> },
  ]);
  render(<RouterProvider router={router} />);
  expect(await screen.findByRole('heading')).toHaveProperty(
    'textContent',
    'This page could not be drawn',
  );
  expect(screen.getByText('Invalid time value')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Load it again' })).toBeTruthy();
});
