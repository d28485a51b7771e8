import { useRef } from 'react';

interface Props {
  readonly first: number;
  readonly last: number;
  readonly from: number;
  readonly to: number;
  readonly onWindow: (from: number, to: number) => void;
}

/** The whole shot above a strip that shows a part of it: the part can be dragged along, and a double click shows everything again. */
export function Overview({ first, last, from, to, onWindow }: Props) {
  const grip = useRef<{ x: number; from: number }>(undefined);
  const all = last - first + 1;
  return (
    <div
      className="absolute top-0 right-0 left-0 h-1.5 bg-wash"
      title="The whole shot. Drag to move what the strip shows; double-click to see all of it."
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        const box = event.currentTarget.getBoundingClientRect();
        const label = first + ((event.clientX - box.left) / box.width) * all;
        const start = label >= from && label <= to ? from : label - (to - from) / 2;
        grip.current = { x: event.clientX, from: start };
        onWindow(start, start + (to - from));
      }}
      onPointerMove={(event) => {
        if (!grip.current) return;
        const { width } = event.currentTarget.getBoundingClientRect();
        const start = grip.current.from + ((event.clientX - grip.current.x) / width) * all;
        onWindow(start, start + (to - from));
      }}
      onPointerUp={() => (grip.current = undefined)}
      onDoubleClick={() => onWindow(first, last)}
    >
      <span
        className="absolute top-0 h-1.5 min-w-1 rounded-sm bg-graphite"
        style={{ left: `${(100 * (from - first)) / all}%`, width: `${(100 * (to - from + 1)) / all}%` }}
      />
    </div>
  );
}
