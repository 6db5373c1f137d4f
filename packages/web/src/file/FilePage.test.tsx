import { screen } from '@testing-library/react';
import { expect, test, vi } from 'vitest';
import { serverAnswers, showInFrame } from '../test/show-in-frame';
import { FilePage } from './FilePage';
import { PlaceLink } from './PlaceLink';

const READ = 'GET /api/workspaces/{slug}/file';
const PART = {
  commit: 'abcdef0123',
  subject: 'Agree on log',
  path: 'apps/web/ledger.project.toml',
  firstLine: 300,
  lines: ['[needs]', '', 'log = "shared"'],
  totalLines: 900,
};

test('the line that is asked for is marked, and what stands before and after can be reached', async () => {
  // As in browsers that say when they are there.
  Element.prototype.scrollIntoView = vi.fn(() => Promise.resolve());
  const asked = serverAnswers({ [READ]: PART });
  showInFrame(<FilePage />, '/w/small/file?path=apps/web/ledger.project.toml&at=abcdef0&line=302');
  const here = (await screen.findByText('log = "shared"')).closest('tr');
  expect(here?.getAttribute('aria-current')).toBe('location');
  expect(screen.getByText('[needs]').closest('tr')?.hasAttribute('aria-current')).toBe(false);
  expect(asked[0]?.init).toMatchObject({
    params: { query: { path: 'apps/web/ledger.project.toml', line: 302, at: 'abcdef0' } },
  });
  expect(screen.getByText('Lines before 300').getAttribute('href')).toMatch(/line=299/);
  expect(screen.getByText('Lines after 302').getAttribute('href')).toMatch(/line=303/);
  expect(screen.getByRole('heading').textContent).toBe('ledger.project.toml');
});

test('a file that is not there says so', async () => {
  const detail = 'There is no file nowhere at ccccccc.';
  serverAnswers({
    [READ]: {
      status: 404,
      problem: { code: 'FILE_UNKNOWN', title: 'No such file', detail, problems: [] },
    },
  });
  showInFrame(<FilePage />, '/w/small/file?path=nowhere');
  expect(await screen.findByText(detail)).toBeTruthy();
});

test('a place leads to its file, at the commit where that is named', () => {
  const place = { file: 'libs/a b/x.toml', line: 7, column: 3 };
  showInFrame(<PlaceLink place={place} at="abc" />);
  const link = screen.getByRole('link', { name: 'libs/a b/x.toml:7:3' });
  const address = new URL(link.getAttribute('href')!, 'http://here');
  expect(address.pathname).toBe('/w/small/file');
  expect(Object.fromEntries(address.searchParams)).toEqual({
    path: 'libs/a b/x.toml',
    line: '7',
    at: 'abc',
  });
});
