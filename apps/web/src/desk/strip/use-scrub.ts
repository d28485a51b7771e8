import { useRef } from 'react';

/** Scrubbing with the pointer: the frame under it is shown while it is pressed; with shift a range is chosen instead. */
export function useScrub(
  toLabel: (x: number) => number,
  seek: (label: number) => void,
  setRange: (range: [number, number] | undefined) => void,
  onRange: (from: number, to: number) => void,
) {
  const pressed = useRef<{ from: number; range: boolean }>(undefined);
  const labelOf = (event: React.PointerEvent): number =>
    Math.round(toLabel(event.clientX - event.currentTarget.getBoundingClientRect().left));
  return {
    onPointerDown: (event: React.PointerEvent) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      const label = labelOf(event);
      pressed.current = { from: label, range: event.shiftKey };
      if (event.shiftKey) setRange([label, label]);
      else seek(label);
    },
    onPointerMove: (event: React.PointerEvent) => {
      if (!pressed.current) return;
      if (pressed.current.range) setRange([pressed.current.from, labelOf(event)]);
      else seek(labelOf(event));
    },
    onPointerUp: (event: React.PointerEvent) => {
      const at = pressed.current;
      pressed.current = undefined;
      if (!at?.range) return;
      const label = labelOf(event);
      setRange(undefined);
      onRange(Math.min(at.from, label), Math.max(at.from, label));
    },
  };
}
