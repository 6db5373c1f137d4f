import { useCallback, useMemo, useRef, useState, type PointerEvent } from 'react';

/** The part of a drawing that is seen: its upper left corner, and how many units a pixel shows. */
interface Window {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

const CLOSEST = 0.4;
const FURTHEST = 8;

/** Panning and zooming of a drawing in a frame, by pointer, wheel and keys. */
export function useViewBox(
  content: { readonly width: number; readonly height: number },
  frame: { readonly width: number; readonly height: number },
) {
  const fitted = useMemo((): Window => {
    const scale = Math.min(
      FURTHEST,
      Math.max(1, content.width / frame.width, content.height / frame.height),
    );
    return { x: (content.width - frame.width * scale) / 2, y: 0, scale };
  }, [content.width, content.height, frame.width, frame.height]);
  // Another drawing is seen whole again.
  const key = `${content.width} ${content.height}`;
  const [moved, setMoved] = useState<{ key: string; window: Window } | null>(null);
  const window = moved?.key === key ? moved.window : fitted;
  const set = useCallback((next: Window) => setMoved({ key, window: next }), [key]);
  const drag = useRef<{ x: number; y: number; from: Window } | null>(null);

  const zoom = (by: number, at = { x: frame.width / 2, y: frame.height / 2 }): void => {
    const scale = Math.min(FURTHEST, Math.max(CLOSEST, window.scale * by));
    const change = window.scale - scale;
    set({ x: window.x + at.x * change, y: window.y + at.y * change, scale });
  };
  const pan = (dx: number, dy: number): void =>
    set({ ...window, x: window.x + dx * window.scale, y: window.y + dy * window.scale });
  return {
    viewBox: `${window.x} ${window.y} ${frame.width * window.scale} ${frame.height * window.scale}`,
    zoom,
    pan,
    fit: () => setMoved(null),
    handlers: {
      onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
        if ((event.target as Element).closest('[role="button"]') !== null) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, y: event.clientY, from: window };
      },
      onPointerMove: (event: PointerEvent<SVGSVGElement>) => {
        const begun = drag.current;
        if (begun === null) return;
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
