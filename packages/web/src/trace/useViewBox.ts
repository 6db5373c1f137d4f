import { useCallback, useRef, useState, type PointerEvent } from 'react';

/** The part of a drawing that is seen: its upper left corner, and how many units a pixel shows. */
interface Window {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

const CLOSEST = 0.4;
const FURTHEST = 8;
/** Names can be read up to here; a larger drawing begins at its end and is moved. */
export const READABLE = 1.3;

/** A pointer that moves less, in pixels, means what it points at. */
const MOVES_FROM = 4;

interface Drag {
  readonly x: number;
  readonly y: number;
  readonly from: Window;
  isMoving: boolean;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

/** All of a drawing in a frame, no larger than it is. */
export function fittedWindow(content: Size, frame: Size): Window {
  const scale = Math.min(
    FURTHEST,
    Math.max(1, content.width / frame.width, content.height / frame.height),
  );
  return { x: (content.width - frame.width * scale) / 2, y: 0, scale };
}

/** What is seen of a drawing at first: all of it where that can be read, else the side that it is about. */
export function firstWindow(content: Size, frame: Size, side: 'left' | 'right'): Window {
  const fitted = fittedWindow(content, frame);
  if (fitted.scale <= READABLE) return fitted;
  const hidden = Math.max(0, content.width - frame.width * READABLE);
  return { x: side === 'left' ? 0 : hidden, y: 0, scale: READABLE };
}

/**
 * Panning and zooming of a drawing in a frame, by pointer, wheel and keys.
 * @param side where the drawing is about what was asked for
 */
export function useViewBox(content: Size, frame: Size, side: 'left' | 'right') {
  // Another drawing is seen from its beginning again.
  const key = `${content.width} ${content.height} ${side}`;
  const [moved, setMoved] = useState<{ key: string; window: Window } | null>(null);
  const window = moved?.key === key ? moved.window : firstWindow(content, frame, side);
  const set = useCallback((next: Window) => setMoved({ key, window: next }), [key]);
  const drag = useRef<Drag | null>(null);

  const zoom = (by: number, at = { x: frame.width / 2, y: frame.height / 2 }): void => {
    const scale = Math.min(FURTHEST, Math.max(CLOSEST, window.scale * by));
    const change = window.scale - scale;
    set({ x: window.x + at.x * change, y: window.y + at.y * change, scale });
  };
  const pan = (dx: number, dy: number): void =>
    set({ ...window, x: window.x + dx * window.scale, y: window.y + dy * window.scale });
  /** Moves what is seen as little as it takes to have a box in it. */
  const show = (box: { x: number; y: number; width: number; height: number }): void => {
    const within = (from: number, size: number, start: number, length: number): number =>
      Math.min(start, Math.max(from, start + length - size));
    const x = within(window.x, frame.width * window.scale, box.x, box.width);
    const y = within(window.y, frame.height * window.scale, box.y, box.height);
    if (x !== window.x || y !== window.y) set({ ...window, x, y });
  };
  return {
    show,
    viewBox: `${window.x} ${window.y} ${frame.width * window.scale} ${frame.height * window.scale}`,
    zoom,
    pan,
    fit: () => set(fittedWindow(content, frame)),
    handlers: {
      onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
        if ((event.target as Element).closest('[role="button"]') !== null) return;
        drag.current = { x: event.clientX, y: event.clientY, from: window, isMoving: false };
      },
      onPointerMove: (event: PointerEvent<SVGSVGElement>) => {
        const begun = drag.current;
        if (begun === null) return;
        if (event.buttons === 0) {
          drag.current = null;
          return;
        }
        if (!begun.isMoving) {
          if (Math.hypot(event.clientX - begun.x, event.clientY - begun.y) < MOVES_FROM) return;
          begun.isMoving = true;
          // From now on it is a drag, and no click on the box below.
          event.currentTarget.setPointerCapture(event.pointerId);
        }
        set({
          ...begun.from,
          x: begun.from.x - (event.clientX - begun.x) * begun.from.scale,
          y: begun.from.y - (event.clientY - begun.y) * begun.from.scale,
        });
      },
      onPointerUp: () => {
        drag.current = null;
      },
    },
  };
}
