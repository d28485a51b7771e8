import { useContext, useEffect, useRef, useState } from 'react';
import { useDesk } from '../desk-store.ts';
import { useClock } from '../frames/frame-clock.ts';
import { PaperContext } from '../paper/paper.tsx';
import { figureBox, fitUnder, movingOn } from './fit-under.ts';
import type { PlacedClip } from './use-clip.ts';

/** The clip of a motion beneath its figure, moved and enlarged as the view is. */
export function ClipUnder({ clip }: { clip: PlacedClip }) {
  const { scene, source, drawn } = useContext(PaperContext)!;
  const canvas = useRef<HTMLCanvasElement>(null);
  const clock = useClock();
  const strength = useDesk((state) => state.clipStrength);
  const { under, onFitted } = clip;
  const { pictures } = clip.source;
  const [ready, setReady] = useState(false);

  useEffect(() => {
    // The figure's middle is known once it has been drawn.
    const once = drawn.subscribe(() => setReady(true));
    return () => once();
  }, [drawn]);
  useEffect(() => {
    if (under || !pictures || !ready || !scene.current) return;
    let current = true;
    const { width, height } = pictures.facts;
    void movingOn(pictures)
      .catch(() => undefined)
      .then((moving) => {
        if (current && scene.current) onFitted(fitUnder(moving, width / height, figureBox(source, scene.current)));
      });
    return () => void (current = false);
  }, [under, pictures, ready, scene, source, onFitted]);

  useEffect(() => {
    if (!under || !pictures) return;
    const draw = (): void => {
      const own = scene.current;
      const context = canvas.current?.getContext('2d');
      const middle = own?.middle?.();
      if (!own || !context || !middle) return;
      const ratio = Math.min(2, devicePixelRatio);
      const { width, height } = own.size;
      Object.assign(context.canvas, { width: Math.round(width * ratio), height: Math.round(height * ratio) });
      const sample = clip.source.sampleAt(clip.labelMap(clock.get().frame));
      const bitmap = pictures.at(sample);
      Object.assign(context.canvas.dataset, { frame: String(sample), sharp: String(pictures.isSharp(sample)) });
      if (!bitmap) return;
      const leg = 1 / own.unitsPerPixel;
      const high = under.height * leg;
      const wide = (high * pictures.facts.width) / pictures.facts.height;
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      context.imageSmoothingQuality = 'high';
      context.drawImage(bitmap, middle.x + under.x * leg - wide / 2, middle.y - under.y * leg - high / 2, wide, high);
    };
    draw();
    const stops = [drawn.subscribe(draw), pictures.subscribe(draw)];
    return () => stops.forEach((stop) => stop());
  }, [under, pictures, clip, scene, drawn, clock]);

  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="The clip beneath the figure"
      className="absolute inset-0 h-full w-full"
      style={{ opacity: strength }}
    />
  );
}
