import { useCallback, useEffect } from 'react';
import { useDesk } from '../desk-store.ts';

/** Fewest frames the strip shows. */
const FEWEST = 8;

interface Options {
  readonly box: React.RefObject<HTMLDivElement | null>;
  readonly first: number;
  readonly last: number;
  readonly from: number;
  readonly to: number;
  readonly x: { invert(px: number): number };
}

/** A window on the axis that keeps to the shot; null where it is all of it. */
export function windowWithin(from: number, to: number, first: number, last: number): readonly [number, number] | null {
  const length = Math.max(Math.min(FEWEST, last - first), to - from);
  if (length >= last - first) return null;
  const start = Math.min(last - length, Math.max(first, from));
  return [start, start + length];
}

/** The wheel brings frames nearer about the pointer; sideways, or with shift, it moves along. */
export function useZoom({ box, first, last, from, to, x }: Options) {
  const show = useCallback(
    (start: number, end: number) => useDesk.getState().set({ window: windowWithin(start, end, first, last) }),
    [first, last],
  );
  useEffect(() => {
    const own = box.current;
    if (!own) return;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const along = Math.abs(event.deltaX) > Math.abs(event.deltaY) ? event.deltaX : event.shiftKey ? event.deltaY : 0;
      if (along !== 0) {
        const by = (along / own.clientWidth) * (to - from);
        show(from + by, to + by);
        return;
      }
      const about = x.invert(event.clientX - own.getBoundingClientRect().left);
      const factor = Math.exp(event.deltaY * 0.0025);
      show(about - (about - from) * factor, about + (to - about) * factor);
    };
    // React's own wheel listener can't keep the page from scrolling.
    own.addEventListener('wheel', onWheel, { passive: false });
    return () => own.removeEventListener('wheel', onWheel);
  }, [box, from, to, x, show]);
  return { show };
}

/** By keys: nearer about the shown frame, farther, or all of it. */
export function zoomAbout(frame: number, factor: number, first: number, last: number): void {
  const [from, to] = useDesk.getState().window ?? [first, last];
  useDesk
    .getState()
    .set({ window: windowWithin(frame - (frame - from) * factor, frame + (to - frame) * factor, first, last) });
}
