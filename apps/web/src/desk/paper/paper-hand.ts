import { useRef } from 'react';
import { useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { PaperScene } from './paper-scene.ts';
import type { ViewRig } from './view-rig.ts';

/** A press that moves less than this many pixels is a click. */
const CLICK_SLOP = 4;
/** Points of a pencil line nearer than this, pixels, are one. */
const PENCIL_STEP = 3;

interface Options {
  readonly rig: ViewRig;
  readonly scene: React.RefObject<PaperScene | undefined>;
  readonly source: FrameSource;
  readonly onPencil: ((points: number[]) => void) | undefined;
}

/** Turning, moving and zooming the view, choosing a point by a click, and drawing with the pencil where that is asked for. */
export function usePaperHand({ rig, scene, source, onPencil }: Options) {
  const press = useRef<{ x: number; y: number; moved: boolean; line: number[]; depth: number }>(undefined);
  const placed = (event: React.PointerEvent<HTMLCanvasElement>): { x: number; y: number } => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  /** As deep as the chosen point, or the figure’s middle: a line sticks to the plane it was drawn in. */
  const depthNow = (): number => {
    const { point } = useDesk.getState();
    const joint = Math.max(0, point === null ? source.leading : source.pointNames.indexOf(point));
    return scene.current!.project(scene.current!.shown, joint, { x: 0, y: 0, depth: 0 }).depth;
  };
  return {
    onPointerDown: (event: React.PointerEvent<HTMLCanvasElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      const { x, y } = placed(event);
      const depth = onPencil ? depthNow() : 0;
      press.current = {
        x: event.clientX,
        y: event.clientY,
        moved: false,
        line: onPencil ? scene.current!.drawnUnder(x, y, depth) : [],
        depth,
      };
    },
    onPointerMove: (event: React.PointerEvent<HTMLCanvasElement>) => {
      const at = press.current;
      if (!at) return;
      const dx = event.clientX - at.x;
      const dy = event.clientY - at.y;
      if (onPencil) {
        if (Math.hypot(dx, dy) < PENCIL_STEP) return;
        const { x, y } = placed(event);
        at.line.push(...scene.current!.drawnUnder(x, y, at.depth));
        Object.assign(at, { x: event.clientX, y: event.clientY, moved: true });
        return;
      }
      if (!at.moved && Math.hypot(dx, dy) < CLICK_SLOP) return;
      Object.assign(at, { x: event.clientX, y: event.clientY, moved: true });
      if (event.shiftKey || event.buttons === 4 || !scene.current!.turns) {
        const unit = scene.current!.unitsPerPixel;
        rig.pan(dx * unit, -dy * unit);
      } else {
        rig.orbit(dx * -0.4, dy * 0.4);
        useDesk.getState().set({ view: 'free' });
      }
    },
    onPointerUp: (event: React.PointerEvent<HTMLCanvasElement>) => {
      const at = press.current;
      press.current = undefined;
      if (!at) return;
      if (onPencil && at.moved) return onPencil(at.line);
      if (at.moved) return;
      const { x, y } = placed(event);
      const found = scene.current?.pointAt(x, y);
      if (found === undefined) return;
      const { lenses, set } = useDesk.getState();
      set({ point: source.pointNames[found]!, lenses: new Set([...lenses, 'path']) });
    },
    onWheel: (event: React.WheelEvent) => rig.zoomBy(Math.exp(-event.deltaY * 0.0012)),
  };
}
