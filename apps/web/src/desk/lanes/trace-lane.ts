import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { EASE_IN, EASE_OUT, measureMoveEnds, OVERSHOOT } from '@ypsigraph/core/measure/moves/move-ends';
import { asPlayed, withoutRestInFront } from '@ypsigraph/core/motion/prepared-shot';
import { figures } from '@ypsigraph/core/say/words';
import { choice } from '../choice.ts';
import { type FrameSource, isSignal, pointIndex, type Signal } from '../frames/frame-source.ts';
import { IDENTITY, type OnAxis } from '../frames/label-map.ts';
import { type Lane, LANE_NUMBERS, LANE_WORDS } from './lane.ts';
import { quantityId, quantityName, quantityOfId } from '@ypsigraph/core/quantity/drawn-quantity';
import { TRACED } from '../traced-signal.ts';
import { wantedOnTrace, type WantedLine } from './wanted-on-trace.ts';

interface Trace {
  readonly name: string;
  readonly first: number;
  readonly own: Signal;
  readonly beside: { readonly signal: Signal; readonly first: number } | undefined;
  /** The same signal in the world, where the trace is of a turn. */
  readonly world: Signal | undefined;
  readonly domain: readonly [number, number];
  /** Samples at which it turns round. */
  readonly extremes: readonly number[];
  readonly ends: readonly End[];
  /** What marks on this point want of it. */
  readonly wanted: readonly WantedLine[];
}

/** The end of a move as it is drawn in: where it should rest, how far it may stray there, and how far it goes past. */
interface End {
  readonly from: number;
  readonly to: number;
  readonly level: number;
  readonly band: number;
  readonly text: string;
}

const HEIGHT = 62;

const THE_HIPS = '';
const TO = choice<string>({
  id: 'trace to',
  label: 'Point the distance is told to',
  first: THE_HIPS,
  options: ({ pointNames }) => [
    { value: THE_HIPS, text: 'to the hips' },
    ...pointNames.map((value) => ({ value, text: `to ${value}` })),
  ],
  offered: (_, desk) => TRACED.of(desk) === 'distance',
});

function extremesOf(values: Float64Array): number[] {
  const least = 0.02 * ((extent(values)[1] ?? 0) - (extent(values)[0] ?? 0));
  const turns: number[] = [];
  let direction = 0;
  let last = values[0] ?? 0;
  let at = 0;
  values.forEach((value, k) => {
    if (Math.abs(value - last) <= least) return;
    const now = Math.sign(value - last);
    if (direction !== 0 && now !== direction) turns.push(at);
    direction = now;
    last = value;
    at = k;
  });
  return turns;
}

/** Where each move of the signal ends, as the readings of its ends have it. */
function endsOf(source: FrameSource, { values }: Signal): End[] {
  const { measured } = source.figure!;
  if (measured.exposures.blocking || values.length < 6 || values.length > 1200) return [];
  const { readings } = measureMoveEnds(withoutRestInFront(asPlayed(measured)), values, 'trace');
  return OVERSHOOT.among(readings).map(({ value, detail: { from, to } }) => {
    const a = Math.round(from) - source.first;
    const b = Math.min(values.length - 1, Math.round(to) - source.first);
    const travel = values[b]! - values[a]!;
    const ease = (kind: Pick<typeof EASE_IN, 'among'>): string => {
      const found = kind.among(readings).find(({ detail }) => detail.from === from);
      return found ? figures(found.value, 2) : '';
    };
    const past = value >= 0.5 ? `${figures(value, 2)} % past` : 'no overshoot';
    return {
      from: Math.round(from),
      to: Math.round(to),
      level: values[b]!,
      band: Math.abs(0.05 * travel),
      text: `${past}; eases out ${ease(EASE_OUT)}, in ${ease(EASE_IN)}`,
    };
  });
}

const hasQuantity = ({ quantities }: FrameSource, id: string): boolean =>
  quantities.some((own) => quantityId(own) === id);

const orNone = (index: number): number | undefined => (index < 0 ? undefined : index);

/** A row that stays, with its choices, where the chosen point has no such signal: the distance to itself. */
const untold = (name: string, first: number): Trace => ({
  name: `${name}: nothing to tell`,
  first,
  own: { values: new Float64Array(0), unit: '', steps: false },
  beside: undefined,
  world: undefined,
  domain: [0, 1],
  extremes: [],
  ends: [],
  wanted: [],
});

/** The same signal of another revision, as it lies on this one's axis. */
function signalBeside(
  { source, labelMap }: OnAxis,
  name: string,
  trace: string,
  traceTo: string | null,
  own: FrameSource,
): Trace['beside'] {
  const at = pointIndex(source, name);
  const signal = at < 0 ? undefined : source.signal(at, trace, orNone(pointIndex(source, traceTo)));
  if (!signal || labelMap === IDENTITY) return signal && { signal, first: source.first };
  const { values } = signal;
  const shown = Float64Array.from({ length: own.frames }, (_, k) => {
    const there = Math.min(values.length - 1, Math.max(0, labelMap(own.first + k) - source.first));
    const low = Math.floor(there);
    return values[low]! + (there - low) * (values[Math.min(values.length - 1, low + 1)]! - values[low]!);
  });
  return { signal: { ...signal, values: shown }, first: own.first };
}

/** What the trace shows, in words: of a point, or between several. */
const nameOf = (
  { ownSignals }: FrameSource,
  trace: string,
  point: string,
  to: string | undefined,
  unit: string,
): string => {
  const quantity = quantityOfId(trace);
  if (quantity) return `${quantityName(quantity)}, ${unit}`;
  return ownSignals.includes(trace)
    ? `${trace}, ${unit}`
    : `${trace === 'distance' ? `distance to ${to ?? 'the hips'}` : trace} of ${point}, ${unit}`;
};

/** Any signal of the chosen point along the frames: its extremes, where each move should rest, and what goes past. */
export const TRACE_LANE: Lane<Trace> = {
  id: 'trace',
  name: 'trace',
  legend:
    'the chosen point: dots where it turns round; a pale band where a move should rest; dashes as a mark wants it',
  needs: 'paths',
  namedBy: [TRACED, TO],
  prepare({ source, beside, marks }, desk) {
    const { point } = desk;
    const [wanted, traceTo] = [TRACED.of(desk), TO.of(desk) || null];
    // What only another shot has is not shown here, but what every shot has.
    const trace =
      isSignal(wanted) || source.ownSignals.includes(wanted) || hasQuantity(source, wanted) ? wanted : 'speed';
    const chosen = pointIndex(source, point);
    const at = chosen >= 0 ? chosen : source.leading;
    const name = source.pointNames[at]!;
    const to = pointIndex(source, traceTo);
    const own = source.signal(at, trace, orNone(to));
    if (!own) return untold(`${trace} of ${name}`, source.first);
    const otherSignal = beside && signalBeside(beside, name, trace, traceTo, source);
    const world = trace === 'turn' ? source.signal(at, 'turn in the world') : undefined;
    const asked = isSignal(trace) ? wantedOnTrace(marks, name, { trace, values: own.values, first: source.first }) : [];
    const [low = 0, high = 1] = extent([
      ...asked.flatMap(({ points }) => points.map(([, value]) => value)),
      ...(extent(own.values) as number[]),
      ...(otherSignal ? (extent(otherSignal.signal.values) as number[]) : []),
      ...(world ? (extent(world.values) as number[]) : []),
    ]);
    return {
      name: nameOf(source, trace, name, source.pointNames[to], own.unit),
      first: source.first,
      own,
      beside: otherSignal,
      world,
      domain: own.steps ? [0, high || 1] : high > low ? [low, high] : [low - 1, high + 1],
      extremes: extremesOf(own.values),
      // What is told between points is no move that ends.
      wanted: asked,
      ends: own.steps || !source.figure || !isSignal(trace) ? [] : endsOf(source, own),
    };
  },
  height: () => HEIGHT,
  draw(
    { context, x, perFrame, from, to, width, inks },
    { own, first, beside, world, domain, extremes, ends, wanted, name },
  ) {
    const y = scaleLinear([...domain], [HEIGHT - 6, 18]);
    const shift = own.steps ? 0.5 : 0;
    const line = ({ values }: Signal, start: number, dash: number[], strong: boolean): void => {
      context.beginPath();
      const a = Math.max(0, Math.floor(from - start) - 1);
      const b = Math.min(values.length, Math.ceil(to - start) + 2);
      const every = Math.max(1, Math.floor((b - a) / (2 * width)));
      for (let k = a; k < b; k += every) {
        const px = x(start + k + shift);
        if (k === a) context.moveTo(px, y(values[k]!));
        else context.lineTo(px, y(values[k]!));
      }
      context.setLineDash(dash);
      context.strokeStyle = strong ? inks.ink : inks.graphite;
      context.lineWidth = strong ? 1.5 : 1;
      context.stroke();
      context.setLineDash([]);
    };
    for (const { from: a, to: b, level, band, text } of ends) {
      if (b < from || a > to) continue;
      const right = Math.min(width, x(b + 10));
      context.fillStyle = inks.wash;
      context.fillRect(x(b), y(level + band), right - x(b), Math.max(2, y(level - band) - y(level + band)));
      context.strokeStyle = inks.graphite;
      context.lineWidth = 1;
      context.setLineDash([2, 3]);
      context.beginPath();
      context.moveTo(x(a), y(level));
      context.lineTo(right, y(level));
      context.stroke();
      context.setLineDash([]);
      if (perFrame < 5) continue;
      context.font = LANE_WORDS;
      context.textAlign = 'left';
      context.textBaseline = 'alphabetic';
      context.fillStyle = inks.graphite;
      context.fillText(
        text,
        Math.max(2, Math.min(x(b) + 4, width - context.measureText(text).width - 4)),
        y(level) > HEIGHT / 2 ? y(level) - 5 : y(level) + 13,
      );
    }
    if (beside) line(beside.signal, beside.first, [4, 3], false);
    if (world) line(world, first, [1, 3], false);
    line(own, first, [], true);
    for (const { points } of wanted) {
      context.strokeStyle = inks.instructor;
      context.lineWidth = 1.5;
      context.setLineDash([5, 3]);
      context.beginPath();
      points.forEach(([label, value], k) => {
        const [px, py] = [x(label), y(value)];
        if (k === 0) context.moveTo(px, py);
        else context.lineTo(px, py);
      });
      context.stroke();
      context.setLineDash([]);
    }
    context.fillStyle = inks.ink;
    for (const k of extremes) {
      if (first + k < from || first + k > to || perFrame < 1.5) continue;
      context.beginPath();
      context.arc(x(first + k + shift), y(own.values[k]!), 2.5, 0, 2 * Math.PI);
      context.fill();
    }
    context.font = LANE_NUMBERS;
    context.textAlign = 'left';
    context.textBaseline = 'alphabetic';
    context.fillStyle = inks.graphite;
    // As many decimals as tell the ticks apart.
    const told = y.tickFormat(2);
    for (const value of y.ticks(2)) context.fillText(told(value), 3, y(value) - 2);
    context.font = LANE_WORDS;
    context.textAlign = 'right';
    context.fillText(name, width - 4, 11);
  },
  spot({ own, first, name }, label) {
    const value = own.values[Math.min(own.values.length - 1, Math.max(0, label - first))];
    return value === undefined ? undefined : { text: `${name}: ${figures(value)}`, from: label, to: label };
  },
};
