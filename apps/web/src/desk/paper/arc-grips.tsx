import { useLayoutEffect, useRef } from 'react';
import type { Listeners } from '../../kit/listeners.ts';
import { wantedPoints } from '../marks/kinds/registry.tsx';
import { useWriting } from '../writing.ts';
import type { PaperScene } from './paper-scene.ts';

interface Props {
  readonly scene: React.RefObject<PaperScene | undefined>;
  /** Told whenever the paper was drawn: the grips stay where the arc is. */
  readonly drawn: Listeners;
}

/** Pixels an arrow key moves a point by, and with shift. */
const [STEP, FAR] = [2, 10];

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The points by which the wanted arc is pulled: dragged, or moved by the arrow keys, in the plane of the paper. */
export function ArcGrips({ scene, drawn }: Props) {
  const { draft, setDraft } = useWriting();
  const box = useRef<HTMLDivElement>(null);
  const grip = wantedPoints(draft?.payload);
  const points = grip?.now;

  useLayoutEffect(() => {
    const at = { x: 0, y: 0, depth: 0 };
    const place = (): void => {
      const paper = scene.current;
      if (!paper || !box.current || !points) return;
      [...box.current.children].forEach((grip, k) => {
        paper.projectWorld(paper.shown, points[3 * k]!, points[3 * k + 1]!, points[3 * k + 2]!, at);
        (grip as HTMLElement).style.transform = `translate(${at.x}px, ${at.y}px) translate(-50%, -50%)`;
      });
    };
    place();
    return drawn.subscribe(place);
  }, [points, scene, drawn]);

  if (!draft || !grip || !points) return null;
  /** Moves a point to where a place of the paper lies, as deep as it is. */
  const pull = (k: number, to: (at: { x: number; y: number }) => readonly [number, number]): void => {
    const paper = scene.current;
    if (!paper) return;
    const at = paper.projectWorld(paper.shown, points[3 * k]!, points[3 * k + 1]!, points[3 * k + 2]!, {
      x: 0,
      y: 0,
      depth: 0,
    });
    const place = paper.placeUnder(...to(at), at.depth);
    const next = points.map((v, i) => (Math.floor(i / 3) === k ? place[i % 3]! : v));
    setDraft({ ...draft, payload: grip.to(next) });
  };
  return (
    <div ref={box} className="pointer-events-none absolute inset-0 overflow-hidden">
      {Array.from({ length: points.length / 3 }, (_, k) => (
        <button
          key={k}
          type="button"
          aria-label={`Point ${k + 1} of the wanted arc: drag it, or use the arrow keys`}
          className="pointer-events-auto absolute top-0 left-0 grid size-6 cursor-move touch-none place-items-center rounded-full"
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={(event) => {
            if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
            const { left, top } = box.current!.getBoundingClientRect();
            pull(k, () => [event.clientX - left, event.clientY - top]);
          }}
          onKeyDown={(event) => {
            const by = ARROWS[event.key];
            if (!by) return;
            event.preventDefault();
            event.stopPropagation();
            const step = event.shiftKey ? FAR : STEP;
            pull(k, ({ x, y }) => [x + step * by[0], y + step * by[1]]);
          }}
        >
          <span className="size-3.5 rounded-full border-2 border-instructor-line bg-sheet" />
        </button>
      ))}
    </div>
  );
}
