import { gunzipSync } from 'node:zlib';
import { expect, test } from 'vitest';
import { storedGzip } from './stored-gzip.js';

const DAY = new Date('2000-01-01T00:00:00Z');

test.each([0, 1, 65_534, 65_535, 65_536, 131_070, 200_001])(
  '%i bytes come back whole',
  (length) => {
    const bytes = Buffer.from(Array.from({ length }, (_, i) => (i * 31 + (i >> 8)) % 256));
    const file = storedGzip(bytes, DAY);
    expect(gunzipSync(file).equals(bytes)).toBe(true);
    expect(file.length - bytes.length).toBe(18 + 5 * Math.max(1, Math.ceil(length / 65_535)));
  },
);

test('a byte that is altered is found out', () => {
  const file = storedGzip(Buffer.from('the third lift stands still'), DAY);
  file[20]! ^= 1;
  expect(() => gunzipSync(file)).toThrow(/data check/);
});

test('its bytes are those that RFC 1951 and RFC 1952 say', () => {
  expect(storedGzip(Buffer.from('snow'), DAY).toString('hex')).toBe(
    ['1f8b0800', '80436d38', '0403', '01', '0400', 'fbff', '736e6f77', 'b3a58336', '04000000'].join(
      '',
    ),
  );
});
