import { expect, test } from 'vitest';
import { traceAddress, traceView, type TraceView } from './trace-address';

const VIEWS: readonly TraceView[] = [
  {},
  { package: 'json' },
  { package: 'json', version: '1.0.0', direction: 'down', kinds: ['runtime', 'dev'], steps: 3 },
  { project: 'apps/web', target: 'linux-x64', open: [0, 2], through: 'json 1.0.0' },
  { package: 'json', tried: [{ kind: 're-pick', package: 'json', from: '1.0.0', to: '1.1.0' }] },
  { package: 'json', struck: [{ from: 'log 1.0.0', to: 'json 1.0.0' }] },
];

test.each(VIEWS)('an address leads back to its view: %o', (view) => {
  const query = traceAddress('here', view).split('?')[1]!;
  expect(traceView(new URLSearchParams(query))).toEqual({ tried: [], struck: [], ...view });
});

test('what makes no sense in an address is left out', () => {
  const params = new URLSearchParams(
    'kinds=sideways,dev&open=x&steps=-1&if=%5B&strike=[7]&direction=left',
  );
  expect(traceView(params)).toEqual({ kinds: ['dev'], tried: [], struck: [] });
});
