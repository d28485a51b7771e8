import { useContext, useLayoutEffect, useMemo, useRef } from 'react';
import { pulledRecipe } from '@ypsigraph/core/remedy/pulled-recipe';
import type { Recipe } from '@ypsigraph/core/remedy/remedy';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { useClock } from '../frames/frame-clock.ts';
import type { OnAxis } from '../frames/label-map.ts';
import { farthestMoved, type Moved } from '../paper/figure-behind.ts';
import { PaperContext } from '../paper/paper.tsx';
import { useReview } from '../review.ts';
import { useCures } from './cure-store.ts';

/** Nearer to the figure than this, pixels, the ghost gives the hand nothing to pull. */
const LEAST = 5;
/** An arrow key makes it more or less by this share; with shift by five times as much. */
const STEP = 0.05;
const MOST = 6;

const MORE: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 };

/** What is pulled: the recipe as it was when the hand took hold, and how far it had moved the joint. */
interface Held {
  readonly recipe: Recipe;
  readonly moved: Moved;
  readonly x: number;
  readonly y: number;
  goesOn: boolean;
}

/** The joint that the cure moves farthest at the frame that is shown, as a grip: pulled away from the figure the cure does more, back to it less. */
export function CureGrip({ cured }: { cured: OnAxis }) {
  const { scene, source, drawn } = useContext(PaperContext)!;
  const { canMark } = useReview();
  const clock = useClock();
  const recipe = useCures((state) => state.recipe);
  const button = useRef<HTMLButtonElement>(null);
  const moved = useRef<Moved>(undefined);
  const held = useRef<Held>(undefined);
  const shot = source.figure?.measured;
  // Whether it can be pulled is told by its steps, and not by their numbers, which change under the hand.
  const steps = recipe
    ?.map(({ remedy, parameters, off }) => [remedy, off, ...Object.keys(parameters)].join(' '))
    .join();
  const pulls = useMemo(
    () => canMark && shot !== undefined && recipe !== undefined && pulledRecipe(shot, recipe, 1) !== undefined,
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the steps stand for the recipe
    [canMark, shot, steps],
  );

  useLayoutEffect(() => {
    const place = (): void => {
      const own = scene.current;
      const [mine, theirs] = [source.figure?.shown, cured.source.figure?.shown];
      if (!own || !button.current || !mine || !theirs) return;
      const sample = cured.source.sampleAt(Math.round(cured.labelMap(clock.get().frame)));
      const found = farthestMoved(own, { shot: mine, sample: own.shown }, { shot: theirs, sample });
      const away = found ? Math.hypot(found.there.x - found.here.x, found.there.y - found.here.y) : 0;
      moved.current = found;
      const { style } = button.current;
      // Under the hand it stays, however little is left.
      style.visibility = found && (away >= LEAST || held.current) ? 'visible' : 'hidden';
      if (found) {
        style.transform = `translate(${found.there.x}px, ${found.there.y}px) translate(-50%, -50%)`;
        button.current.title = `Pull: more or less of it (${partLabel(mine.motion.joints[found.joint]!.name)})`;
      }
    };
    place();
    return drawn.subscribe(place);
  }, [cured, scene, source, drawn, clock, pulls]);

  if (!pulls || !shot || !recipe) return null;
  const make = (from: Recipe, factor: number, goesOn: boolean): void => {
    const pulled = pulledRecipe(shot, from, Math.min(MOST, Math.max(-MOST, factor)));
    if (pulled) useCures.getState().change(pulled, goesOn);
  };
  return (
    <button
      ref={button}
      type="button"
      aria-label="More or less of the cure"
      data-testid="cure-grip"
      className="absolute top-0 left-0 grid size-6 cursor-move touch-none place-items-center rounded-full"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        if (moved.current)
          held.current = { recipe, moved: moved.current, x: event.clientX, y: event.clientY, goesOn: false };
      }}
      onPointerMove={(event) => {
        const own = held.current;
        if (!own) return;
        const { here, there } = own.moved;
        const [dx, dy] = [there.x - here.x, there.y - here.y];
        const gone = ((event.clientX - own.x) * dx + (event.clientY - own.y) * dy) / (dx * dx + dy * dy);
        make(own.recipe, 1 + gone, own.goesOn);
        own.goesOn = true;
      }}
      onPointerUp={() => (held.current = undefined)}
      onPointerCancel={() => (held.current = undefined)}
      onKeyDown={(event) => {
        const sign = MORE[event.key];
        if (sign === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        make(recipe, 1 + sign * STEP * (event.shiftKey ? 5 : 1), false);
      }}
    >
      <span className="size-3.5 rounded-full border-2 border-dotted border-instructor-line bg-sheet" />
    </button>
  );
}
