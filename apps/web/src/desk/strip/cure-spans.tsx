import { useRef } from 'react';
import type { Recipe, Step } from '@ypsigraph/core/remedy/remedy';
import { remedyOf } from '@ypsigraph/core/remedy/remedies';
import { useCures } from '../cures/cure-store.ts';
import { useReview } from '../review.ts';
import type { OnStrip } from './on-strip.ts';

const ROW = 15;

/** A step of the cure that lies on some frames: its place in the recipe, and its frames by the names of their parameters, in order. */
interface Span {
  readonly k: number;
  readonly name: string;
  readonly frames: readonly (readonly [parameter: string, label: number])[];
}

/** The steps of a recipe that lie on frames of their own. */
export function spansOf(recipe: Recipe): Span[] {
  return recipe.flatMap(({ remedy, parameters, off }, k): Span[] => {
    const own = remedyOf(remedy);
    if (!own || off === true) return [];
    const frames = Object.entries(parameters)
      .filter(([name]) => own.parameters[name]?.is === 'frame')
      .map(([name, value]) => [name, Number(value)] as const)
      .toSorted((a, b) => a[1] - b[1]);
    return frames.length > 0 ? [{ k, name: own.name, frames }] : [];
  });
}

/** A step with one of its frames elsewhere: within the shot, and still between those beside it. */
export function movedFrame(step: Step, span: Span, at: number, label: number, shot: readonly [number, number]): Step {
  const [before, after] = [span.frames[at - 1]?.[1], span.frames[at + 1]?.[1]];
  const low = before === undefined ? shot[0] : before + 1;
  const high = after === undefined ? shot[1] : after - 1;
  const own = Math.min(high, Math.max(low, Math.round(label)));
  return { ...step, parameters: { ...step.parameters, [span.frames[at]![0]]: own } };
}

/** The cure on the desk as far as it lies on frames; nothing where another revision is cured. */
export function useCureSpans(): readonly Span[] {
  const { revision } = useReview();
  const recipe = useCures((state) => (state.on?.revision === revision.id ? state.recipe : undefined));
  return recipe ? spansOf(recipe) : [];
}

/** Pixels that the steps of the cure take on the strip. */
export const cureHeight = (spans: readonly Span[]): number => (spans.length > 0 ? spans.length * ROW + 3 : 0);

interface Props extends OnStrip {
  readonly spans: readonly Span[];
  readonly first: number;
  readonly last: number;
}

/** Where on the frame axis each step of the cure is made: dotted, and dragged by its ends. */
export function CureSpans({ spans, x, perFrame, width, top, first, last }: Props) {
  const { canMark } = useReview();
  const recipe = useCures((state) => state.recipe);
  const goesOn = useRef(false);
  if (!recipe || spans.length === 0) return null;
  const move = (span: Span, at: number, label: number, again: boolean): void => {
    const step = movedFrame(recipe[span.k]!, span, at, label, [first, last]);
    if (step.parameters[span.frames[at]![0]] === span.frames[at]![1]) return;
    useCures.getState().change(recipe.with(span.k, step), again);
    goesOn.current = true;
  };
  return (
    <svg
      width={width}
      height={cureHeight(spans)}
      className="pointer-events-none absolute left-0"
      style={{ top }}
      data-testid="cure-spans"
    >
      {spans.map((span, row) => {
        const y = row * ROW + ROW - 5;
        const [from, to] = [span.frames[0]![1], span.frames.at(-1)![1]];
        const left = x(from) - perFrame / 2;
        return (
          <g key={span.k}>
            <title>{`The cure: ${span.name}, ${from === to ? `at ${from}` : `${from} to ${to}`}`}</title>
            <line
              x1={left}
              x2={Math.max(left + 4, x(to) + perFrame / 2)}
              y1={y}
              y2={y}
              stroke="var(--instructor-line)"
              strokeWidth={3}
              strokeDasharray="1 4"
              strokeLinecap="round"
            />
            <text x={Math.max(3, left + 9)} y={y - 4} fontSize={9} fill="var(--instructor)">
              {span.name}
            </text>
            {canMark &&
              span.frames.map(([parameter, label], at) => (
                <circle
                  key={parameter}
                  cx={x(label)}
                  cy={y}
                  r={4.5}
                  fill="var(--sheet)"
                  stroke="var(--instructor-line)"
                  strokeWidth={1.5}
                  className="pointer-events-auto cursor-ew-resize touch-none"
                  role="slider"
                  tabIndex={0}
                  aria-label={`${span.name}, ${parameter}`}
                  aria-valuemin={first}
                  aria-valuemax={last}
                  aria-valuenow={label}
                  onPointerDown={(event) => {
                    event.stopPropagation();
                    goesOn.current = false;
                    event.currentTarget.setPointerCapture(event.pointerId);
                  }}
                  onPointerMove={(event) => {
                    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
                    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
                    move(span, at, x.invert(event.clientX - box.left), goesOn.current);
                  }}
                  onKeyDown={(event) => {
                    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
                    if (by === 0) return;
                    event.preventDefault();
                    event.stopPropagation();
                    move(span, at, label + by, false);
                  }}
                />
              ))}
          </g>
        );
      })}
    </svg>
  );
}
