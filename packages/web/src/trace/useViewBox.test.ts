import { expect, test } from 'vitest';
import { firstWindow, fittedWindow, READABLE } from './useViewBox';

const FRAME = { width: 760, height: 500 };

test('what fits is seen as it is, in the middle', () => {
  expect(firstWindow({ width: 700, height: 300 }, FRAME, 'right')).toEqual({
    x: -30,
    y: 0,
    scale: 1,
  });
});

test('a drawing that would be too small to read begins on the side that it is about', () => {
  const wide = { width: 3000, height: 500 };
  expect(firstWindow(wide, FRAME, 'left')).toEqual({ x: 0, y: 0, scale: READABLE });
  const { x, scale } = firstWindow(wide, FRAME, 'right');
  expect(x + FRAME.width * scale).toBeCloseTo(wide.width);
});

test('all of it can be seen on demand', () => {
  const wide = { width: 3000, height: 500 };
  const { x, scale } = fittedWindow(wide, FRAME);
  expect(x).toBeCloseTo(0);
  expect(FRAME.width * scale).toBeCloseTo(wide.width);
});
