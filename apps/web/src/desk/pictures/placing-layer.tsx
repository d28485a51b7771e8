import { useEffect, useRef } from 'react';
import type { Listeners } from '../../kit/listeners.ts';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { haloText, WORDS } from '../lenses/stick.ts';
import { readInks } from '../paper/overlay.ts';
import type { ViewRig } from '../paper/view-rig.ts';
import { placeOf, placePoint } from './edit-points.ts';
import type { PictureScene } from './picture-scene.ts';
import type { PlacedSource } from '../frames/frame-source.ts';
import type { Points } from './use-points.ts';

/** Size of the loupe on the paper, and how much nearer it brings the picture. */
const LOUPE = 108;
const NEARER = 4;
/** A press so near a point takes hold of it, pixels. */
const REACH = 11;
const NUDGE = 1;

interface Props {
  readonly source: PlacedSource;
  readonly scene: React.RefObject<PictureScene | undefined>;
  readonly rig: ViewRig;
  readonly drawn: Listeners;
  readonly points: Points;
}

/**
 * Over the pictures while points are put on them: a click places the chosen point and brings the next frame, a drag moves one, the arrow keys with
 * alt nudge it; the loupe shows the pixels under the hand. Placed by hand a point is filled, followed it is a ring, between the two dotted.
 */
export function PlacingLayer({ source, scene, rig, drawn, points }: Props) {
  const clock = useClock();
  const canvas = useRef<HTMLCanvasElement>(null);
  const hand = useRef<{ x: number; y: number } | undefined>(undefined);
  const grip = useRef<{ name: string; moved: boolean } | undefined>(undefined);
  const groundFrom = useRef<[number, number] | undefined>(undefined);
  const placing = useDesk((state) => state.placing);
  const stepAfter = useDesk((state) => state.stepAfter);
  const drawsGround = useDesk((state) => state.drawsGround);
  const { tracks, edit } = points;

  const draw = (): void => {
    const own = canvas.current;
    const paper = scene.current;
    if (!own || !paper) return;
    const { width, height } = paper.size;
    const ratio = Math.min(2, devicePixelRatio);
    if (own.width !== Math.round(width * ratio)) own.width = Math.round(width * ratio);
    if (own.height !== Math.round(height * ratio)) own.height = Math.round(height * ratio);
    const context = own.getContext('2d')!;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, width, height);
    const inks = readInks(own);
    const { ground } = tracks;
    if (ground) {
      const [a, b] = [paper.paperAt(ground[0], ground[1]), paper.paperAt(ground[2], ground[3])];
      context.strokeStyle = inks.ink;
      context.lineWidth = 1.5;
      context.setLineDash([10, 4]);
      context.beginPath();
      context.moveTo(...a);
      context.lineTo(...b);
      context.stroke();
      context.setLineDash([]);
    }
    context.font = WORDS;
    context.textAlign = 'left';
    for (const point of tracks.points) {
      const at = placeOf(point, paper.shown);
      if (!at) continue;
      const [x, y] = paper.paperAt(at.x, at.y);
      const chosen = point.name === placing;
      context.beginPath();
      context.arc(x, y, chosen ? 6 : 4.5, 0, 2 * Math.PI);
      context.strokeStyle = inks.sheet;
      context.lineWidth = 4.5;
      context.stroke();
      context.strokeStyle = inks.ink;
      context.lineWidth = chosen ? 2.25 : 1.5;
      context.setLineDash(at.how === 'between' ? [2, 2.5] : []);
      context.stroke();
      context.setLineDash([]);
      if (at.how === 'placed') {
        context.beginPath();
        context.arc(x, y, 2.5, 0, 2 * Math.PI);
        context.fillStyle = inks.ink;
        context.fill();
      }
      haloText(context, point.name, x + 9, y - 6, chosen ? inks.ink : inks.graphite, inks.sheet);
    }
    const under = hand.current;
    if (under && (placing !== null || drawsGround)) loupe(context, paper, source, under, inks);
  };
  const current = useRef(draw);
  useEffect(() => {
    current.current = draw;
    draw();
  });
  useEffect(() => drawn.subscribe(() => current.current()), [drawn]);

  const spot = (event: React.PointerEvent): { x: number; y: number } => {
    const box = canvas.current!.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const nearest = (x: number, y: number): string | undefined => {
    const paper = scene.current!;
    let best: string | undefined;
    let least = REACH;
    for (const point of tracks.points) {
      const at = placeOf(point, paper.shown);
      if (!at) continue;
      const [px, py] = paper.paperAt(at.x, at.y);
      if (Math.hypot(px - x, py - y) < least) [least, best] = [Math.hypot(px - x, py - y), point.name];
    }
    return best;
  };
  const put = (name: string, x: number, y: number, goesOn = false): void => {
    const paper = scene.current!;
    const [px, py] = paper.pictureAt(x, y);
    edit((now) => placePoint(now, name, paper.shown, px, py), { goesOn });
  };

  return (
    <canvas
      ref={canvas}
      tabIndex={0}
      role="application"
      aria-label={placing === null ? 'Points on the picture' : `Place ${placing} on the picture`}
      data-testid="placing"
      className="absolute inset-0 h-full w-full cursor-crosshair touch-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        clock.pause();
        const { x, y } = spot(event);
        if (drawsGround) {
          groundFrom.current = scene.current!.pictureAt(x, y);
          return;
        }
        const held = nearest(x, y);
        if (held !== undefined && held !== placing) useDesk.getState().set({ placing: held, point: held });
        const name = held ?? placing;
        if (name !== null) grip.current = { name, moved: false };
      }}
      onPointerMove={(event) => {
        const { x, y } = spot(event);
        hand.current = { x, y };
        if (groundFrom.current && event.buttons > 0) {
          const [gx, gy] = scene.current!.pictureAt(x, y);
          const [fx, fy] = groundFrom.current;
          edit((now) => ({ ...now, ground: [fx, fy, gx, gy] }), { goesOn: true });
        } else if (grip.current && event.buttons > 0 && nearest(x, y) !== undefined) {
          put(grip.current.name, x, y, grip.current.moved);
          grip.current.moved = true;
        }
        draw();
      }}
      onPointerUp={(event) => {
        const { x, y } = spot(event);
        if (groundFrom.current) {
          const [gx, gy] = scene.current!.pictureAt(x, y);
          const [fx, fy] = groundFrom.current;
          groundFrom.current = undefined;
          // A click alone is a level line through it.
          const flat = Math.hypot(gx - fx, gy - fy) < 12;
          const across = source.pictures.facts.width;
          edit((now) => ({ ...now, ground: flat ? [0, fy, across, fy] : [fx, fy, gx, gy] }), { goesOn: true });
          useDesk.getState().set({ drawsGround: false });
          return;
        }
        const held = grip.current;
        grip.current = undefined;
        if (!held || held.moved) return;
        put(held.name, x, y);
        if (stepAfter > 0) clock.seek(clock.get().frame + stepAfter);
      }}
      onPointerLeave={() => {
        hand.current = undefined;
        draw();
      }}
      onKeyDown={(event) => {
        const direction = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
        const point = tracks.points.find(({ name }) => name === placing);
        const at = point && placeOf(point, scene.current!.shown);
        if (!event.altKey || !direction || !point || !at) return;
        event.preventDefault();
        const by = event.shiftKey ? 10 * NUDGE : NUDGE;
        edit((now) =>
          placePoint(now, point.name, scene.current!.shown, at.x + by * direction[0]!, at.y + by * direction[1]!),
        );
      }}
      onWheel={(event) => rig.zoomBy(Math.exp(-event.deltaY * 0.0012))}
    />
  );
}

function loupe(
  context: CanvasRenderingContext2D,
  paper: PictureScene,
  source: PlacedSource,
  { x, y }: { x: number; y: number },
  inks: ReturnType<typeof readInks>,
): void {
  const bitmap = source.pictures.at(paper.shown);
  if (!bitmap) return;
  const { facts } = source.pictures;
  const [px, py] = paper.pictureAt(x, y);
  const scale = bitmap.width / facts.width;
  const side = (LOUPE / NEARER) * scale * (facts.width / Math.max(1, paper.size.width)) * 1.6;
  const { width } = paper.size;
  // Where the hand does not cover it.
  const left = x + 24 + LOUPE > width ? x - 24 - LOUPE : x + 24;
  const top = Math.max(4, y - LOUPE - 16);
  const [cx, cy] = [left + LOUPE / 2, top + LOUPE / 2];
  context.save();
  context.beginPath();
  context.arc(cx, cy, LOUPE / 2, 0, 2 * Math.PI);
  context.fillStyle = inks.sheet;
  context.fill();
  context.clip();
  context.imageSmoothingEnabled = false;
  context.drawImage(bitmap, px * scale - side / 2, py * scale - side / 2, side, side, left, top, LOUPE, LOUPE);
  context.restore();
  context.strokeStyle = inks.ink;
  context.lineWidth = 1.25;
  context.beginPath();
  context.arc(cx, cy, LOUPE / 2, 0, 2 * Math.PI);
  for (const [dx, dy] of [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ] as const) {
    context.moveTo(cx + 5 * dx, cy + 5 * dy);
    context.lineTo(cx + 16 * dx, cy + 16 * dy);
  }
  context.stroke();
}
