import { Waves } from 'lucide-react';
import {
  CHAIN_LAG,
  LAG_DEFAULTS,
  type Link,
  measureChain,
  TOGETHER,
  usualChains,
} from '@ypsigraph/core/measure/overlap/lag';
import { partLabel, partName } from '@ypsigraph/core/say/part-names';
import { partFrames } from '@ypsigraph/core/say/words';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens } from './lens.ts';
import { WORDS } from './stick.ts';

/** A chain with how much later each joint moves than the first: frames, running on. */
interface Lean {
  readonly name: string;
  readonly links: readonly Link[];
  readonly together: boolean;
  /** Its joints turn against one another: what looks like a lag is none. */
  readonly against: boolean;
  /** Why it has no lags; undefined where it has. */
  readonly why?: string;
}

function leansOf(source: FrameSource): Lean[] | undefined {
  const { measured } = source.figure!;
  if (measured.exposures.blocking) return undefined;
  const leans = usualChains(measured).map(([part, chain]): Lean => {
    const { readings, unmade } = measureChain(measured, chain, part);
    const { links, against = false } = CHAIN_LAG.among(readings)[0]?.detail ?? {};
    const together = TOGETHER.among(readings)[0]?.value === true;
    const why = links ? undefined : (unmade[0]?.why ?? 'it moves as one piece');
    return { name: partName(part), links: links ?? [], together, against, ...(why !== undefined && { why }) };
  });
  return leans.length > 0 ? leans : undefined;
}

/** How much later each joint of a chain moves than the one before it, on average; a chain that begins at its tip goes the other way. */
const saysLag = (frames: number): string =>
  frames < 0 ? `${partFrames(-frames)} a joint earlier` : `${partFrames(frames)} a joint`;

/** What a joint is called beside its chain: the word of its role where it has one. */
function jointName({ figure, pointNames }: FrameSource, joint: string): string {
  const role = Object.entries(figure!.measured.roles).find(
    ([, own]) => own !== undefined && pointNames[own] === joint,
  )?.[0];
  return role === undefined || role.startsWith('chain:') ? joint : partLabel(role.replace(/\.[LR]$/, ''));
}

const WIDTH = 176;
/** Of more than this share of the paper's height the joints are left out. */
const LOW = 0.5;
const ROW = 13;
/** Pixels a frame of lag, at most, and for all of a chain. */
const FRAME = 14;
const ROOM = 82;

/** How much later each joint of a chain moves than the one before it: bars that lean are overlap, a straight edge is everything at once. */
export const LAG: Lens<readonly Lean[]> = {
  id: 'lag',
  name: 'Overlap: how each chain leans',
  key: 't',
  icon: Waves,
  needs: 'figure',
  prepare: leansOf,
  drawStill({ context, scene, inks, unseen, source }, leans) {
    const shown = leans.filter(({ name }) => !source.parts.some((part) => unseen.has(part) && partName(part) === name));
    // On a low paper a chain has one row, without its joints: the figure is not to be hidden.
    const all = shown.reduce((sum, { links }) => sum + Math.max(1, links.length + 1) + 1.6, 0);
    const short = all * ROW > LOW * scene.size.height;
    const rows = short ? 1.4 * shown.length : all;
    let y = Math.max(16, scene.size.height - rows * ROW - 12);
    const left = 14;
    context.globalAlpha = 0.92;
    context.fillStyle = inks.sheet;
    context.fillRect(left - 8, y - 14, WIDTH + 14, rows * ROW + 14);
    context.globalAlpha = 1;
    context.font = WORDS;
    context.textAlign = 'left';
    context.textBaseline = 'middle';
    for (const { name, links, together, against, why } of shown) {
      context.fillStyle = inks.ink;
      const told = links.filter(({ lag }) => lag !== null);
      const average = told.reduce((sum, { lag }) => sum + lag!, 0) / Math.max(1, told.length);
      const says = why ?? (against ? 'turns against itself' : together ? 'all at once' : saysLag(average));
      context.fillText(`${name}: ${says.length > 26 ? `${says.slice(0, 25)}…` : says}`, left, y);
      y += ROW;
      if (links.length > 0 && !short) {
        const joints = [links[0]!.parent, ...links.map(({ child }) => child)].map((joint) => jointName(source, joint));
        let late = 0;
        let before: number | undefined;
        const reached = links.reduce<number[]>((list, { lag }) => [...list, list.at(-1)! + (lag ?? 0)], [0]);
        const [least, most] = [Math.min(...reached), Math.max(...reached)];
        const frame = Math.min(FRAME, ROOM / Math.max(1e-9, most - least));
        joints.forEach((joint, k) => {
          const link = links[k - 1];
          if (link) late += link.lag ?? 0;
          const x = left + 80 + frame * (late - least);
          context.fillStyle = inks.graphite;
          context.globalAlpha = link && link.lag === null ? 0.35 : 1;
          context.fillText(joint.length > 12 ? `${joint.slice(0, 11)}…` : joint, left, y);
          context.fillStyle = inks.ink;
          context.fillRect(x, y - 4.5, 12, 9);
          if (before !== undefined) {
            context.beginPath();
            context.moveTo(before, y - ROW + 4.5);
            context.lineTo(x, y - 4.5);
            context.strokeStyle = inks.ink;
            context.lineWidth = Math.abs(link!.lag ?? 1) < LAG_DEFAULTS.together ? 2.5 : 1.25;
            context.stroke();
          }
          context.globalAlpha = 1;
          before = x;
          y += ROW;
        });
      }
      y += short ? 0.4 * ROW : 0.6 * ROW;
    }
    context.textBaseline = 'alphabetic';
  },
  draw: () => undefined,
  legend: () => [{ text: 'a leaning edge is overlap, a straight one is everything at once' }],
};
