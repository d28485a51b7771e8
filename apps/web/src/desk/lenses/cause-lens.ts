import { GitCommitVertical } from 'lucide-react';
import { CAUSES, type Causes, measureCause, type Share } from '@ypsigraph/core/measure/attention/cause';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { share as said } from '@ypsigraph/core/say/words';
import { choice } from '../choice.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens, LensFrame } from './lens.ts';
import { dot, NUMBERS, WORDS } from './stick.ts';

const OF = choice({
  id: 'cause of',
  label: 'What is shared out',
  first: 'rotation',
  options: { rotation: 'its turning', position: 'its way' },
});

/** Shares under this are left out of the list, and drawn as small as can be. */
const LEAST = 0.02;
const MOST = 7;
const [LEFT, ROW, NAME, BAR] = [14, 15, 92, 70];
const [SMALLEST, LARGEST] = [2.5, 15];

/** What was worked out of a shot so far: by point and range. */
class Known {
  private readonly found = new Map<string, Causes | string>();
  constructor(private readonly source: FrameSource) {}

  of(joint: number, from: number, to: number): Causes | string {
    const key = `${joint} ${from} ${to}`;
    const known = this.found.get(key) ?? this.workOut(joint, from, to);
    this.found.set(key, known);
    return known;
  }

  private workOut(joint: number, from: number, to: number): Causes | string {
    const { readings, unmade } = measureCause(this.source.figure!.shown, joint, from, to);
    return CAUSES[0].among(readings)[0]?.detail ?? unmade[0]!.why;
  }
}

/** The chosen point's movement over the frames that are played, shared out: how much of it each joint above makes. */
export const CAUSE: Lens<Known> = {
  id: 'cause',
  name: 'Cause: which joint makes the movement',
  key: "'",
  icon: GitCommitVertical,
  needs: 'figure',
  choices: [OF],
  prepare: (source) => (source.flat ? undefined : new Known(source)),
  draw(frame, known) {
    const { source, point, desk } = frame;
    const [first, last] = frame.range ?? [source.first, source.first + source.frames - 1];
    const causes = known.of(point, source.sampleAt(first), source.sampleAt(last));
    const name = nameOf(source, source.pointNames[point]!);
    const span = `${first} to ${last}`;
    if (typeof causes === 'string') return [{ text: `${name}, ${span}: ${causes}` }];
    const own = OF.of(desk) === 'rotation' ? causes.rotation : causes.position;
    const what = OF.of(desk) === 'rotation' ? 'turning' : 'way';
    if (own.length === 0) return [{ text: `${name}, ${span}: it has no ${what}` }];
    chain(frame, own);
    rows(frame, own, `${what} of ${name}, ${span}`);
    return [
      { text: `each joint’s share of the ${what} of ${name}, frames ${span}` },
      ...(frame.range ? [] : [{ text: 'play a range to ask of those frames alone' }]),
    ];
  },
  legend: () => [{ text: 'how much of its movement each joint above makes' }],
};

const nameOf = ({ figure, pointNames }: FrameSource, joint: string): string => {
  const role = Object.entries(figure!.shown.roles).find(
    ([, own]) => own !== undefined && pointNames[own] === joint,
  )?.[0];
  return role === undefined || role.startsWith('chain:') ? `“${joint}”` : partLabel(role);
};

/** The chain on the figure: from the point to the root, each joint as large as its share. */
function chain({ context, scene, source, sample, inks }: LensFrame, shares: readonly Share[]): void {
  const places = shares.map(({ joint }) =>
    scene.project(sample, source.pointNames.indexOf(joint), { x: 0, y: 0, depth: 0 }),
  );
  context.beginPath();
  places.forEach(({ x, y }, k) => (k === 0 ? context.moveTo(x, y) : context.lineTo(x, y)));
  context.lineWidth = 1.6;
  context.strokeStyle = inks.ink;
  context.stroke();
  places.forEach((place, k) => {
    const part = shares[k]!.share;
    const radius = Math.max(SMALLEST, LARGEST * Math.sqrt(Math.min(1, Math.abs(part))));
    // What works against the movement is empty.
    dot(context, place, radius, part < 0 ? inks.sheet : inks.graphite, inks.ink);
  });
}

/** The largest shares as bars, the largest first. */
function rows({ context, scene, source, inks }: LensFrame, shares: readonly Share[], title: string): void {
  const shown = [...shares]
    .filter(({ share }) => Math.abs(share) >= LEAST)
    .sort((a, b) => b.share - a.share)
    .slice(0, MOST);
  const height = (shown.length + 1) * ROW + 10;
  let y = Math.max(16, scene.size.height - height - 6);
  context.globalAlpha = 0.92;
  context.fillStyle = inks.sheet;
  context.fillRect(LEFT - 8, y - 12, NAME + BAR + 72, height);
  context.globalAlpha = 1;
  context.textAlign = 'left';
  context.textBaseline = 'middle';
  context.fillStyle = inks.graphite;
  context.font = WORDS;
  context.fillText(title, LEFT, y, NAME + BAR + 56);
  for (const { joint, share } of shown) {
    y += ROW;
    context.font = WORDS;
    context.fillStyle = inks.ink;
    context.fillText(nameOf(source, joint), LEFT, y, NAME - 6);
    const width = BAR * Math.min(1, Math.abs(share));
    context.fillStyle = inks.graphite;
    context.strokeStyle = inks.ink;
    context.lineWidth = 1;
    if (share > 0) context.fillRect(LEFT + NAME, y - 4, width, 8);
    else context.strokeRect(LEFT + NAME + 0.5, y - 3.5, width, 7);
    context.font = NUMBERS;
    context.fillStyle = inks.ink;
    context.fillText(said(share), LEFT + NAME + width + 5, y);
  }
  context.textBaseline = 'alphabetic';
}
