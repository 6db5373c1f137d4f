import { describe, expect, test } from 'vitest';
import { movedAddress } from './moved-addresses.js';
import { TestServer } from './test/test-server.js';

describe('an address that had another name', () => {
  test.each([
    ['/w/inn/sheet', '/w/inn/alignment'],
    ['/w/inn/sheet?open=log&q=a%20b', '/w/inn/alignment?open=log&q=a%20b'],
    ['/w/inn/move-in', '/w/inn/centralise'],
    ['/w/inn/roll-call', '/w/inn/machines'],
    ['/w/inn/findings?kind=unused&weight=grave', '/w/inn/findings?kind=unused&severity=error'],
    ['/w/inn/findings?close=yes', '/w/inn/findings?clear=yes'],
    ['/api/workspaces/inn/sheet', '/api/workspaces/inn/alignment'],
    ['/api/workspaces/inn/lock/mend', '/api/workspaces/inn/lock/repair'],
    ['/api/workspaces/inn/drafts/1/ways-out', '/api/workspaces/inn/drafts/1/suggested-fixes'],
    ['/api/workspaces/inn/drafts/1/move-in', '/api/workspaces/inn/drafts/1/centralise'],
    [
      '/api/workspaces/inn/findings/closing?ticked=a',
      '/api/workspaces/inn/findings/clearing?ticked=a',
    ],
  ])('%s is %s now', (before, now) => {
    expect(movedAddress(before)).toBe(now);
    expect(movedAddress(now)).toBeNull();
  });

  test.each([
    '/',
    '/w/sheet',
    '/w/inn/projects/apps/sheet',
    '/api/workspaces/sheet',
    '/w/inn/file?path=sheet',
  ])('%s is none', (address) => expect(movedAddress(address)).toBeNull());
});

test('a request is led on with its method and its query', async () => {
  const server = await TestServer.start();
  const page = await server.http.get('/w/inn/sheet?open=log').expect(308);
  expect(page.headers['location']).toBe('/w/inn/alignment?open=log');
  const post = await server.http.post('/api/workspaces/inn/lock/mend').send({}).expect(308);
  expect(post.headers['location']).toBe('/api/workspaces/inn/lock/repair');
  await server.stop();
});
