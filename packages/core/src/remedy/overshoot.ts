import { whatMoves } from './anticipate.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { addOfMove, movesOf, OF_A_MOVE } from './move-of.ts';
import { spanOf } from './proposals.ts';
import { type Asked, type Proposal, type Remedy, SOUGHT } from './remedy.ts';

const past = ({ finding: { reading } }: Asked): Proposal[] => {
  const span = spanOf(reading);
  const own = whatMoves(reading.part);
  const chained = reading.part !== undefined && !reading.part.startsWith('chain:') ? [{ chain: reading.part }] : [];
  return [own, ...chained].flatMap((what) =>
    [{ ...what, ...span }, what].map((parameters) => ({
      steps: [{ remedy: 'overshoot', parameters: { ...parameters, depth: SOUGHT } }],
      seek: { from: 0, to: 60 },
    })),
  );
};

/**
 * Past its end and back: after a move it swings about where it comes to rest, each swing smaller than the one before.
 *
 * @example overshoot:chain=chain:strap,depth=10,damping=0.4 // the strap swings a tenth of its move past its end
 */
export const OVERSHOOT: Remedy = {
  id: 'overshoot',
  name: 'Overshoot',
  does: 'after a move it goes past its end and comes back',
  needs: 'a move with a rest behind it',
  works: 'poses',
  parameters: {
    ...OF_A_MOVE,
    depth: { is: 'number', unit: '% of the move', range: [0, 100], default: 10, say: 'how far it goes past its end' },
    frames: { is: 'number', unit: 'frames', range: [1, 100], default: 4, say: 'frames of a swing to one side' },
    swings: { is: 'number', unit: 'swings', range: [1, 12], default: 2, say: 'swings until it rests' },
    damping: {
      is: 'number',
      unit: '–',
      range: [0.02, 0.98],
      default: 0.4,
      say: 'how fast they die down: each swing is exp(−πζ/√(1−ζ²)) of the one before',
    },
  },
  marks: ['overshoot'],
  mends: { 'overshoot.depth': past, 'overshoot.frames': past, 'settle.frames': past, 'settle.swings': past },
  strength: () => ({ parameter: 'depth', none: 0 }),
  make(subject, given) {
    const depth = given.number('depth')! / 100;
    const frames = given.number('frames')! / subject.shot.exposures.stride;
    const swings = Math.round(given.number('swings')!);
    const zeta = given.number('damping')!;
    // Logarithmic decrement of a half swing of a damped oscillation (any textbook of mechanics; from memory).
    const decay = (Math.PI * zeta) / Math.sqrt(1 - zeta * zeta);
    const moves = movesOf(subject, given, 'overshoot');
    const editor = new MotionEditor(subject.motion);
    if (depth === 0) return { motion: editor.motion };
    for (const move of moves) {
      const rise = Math.min(frames, move.to - move.from);
      addOfMove(editor, move, subject.samples, (f) => {
        // It is farthest past its end half a swing behind it, and rises to that within the move.
        const t = (f - move.to) / frames - 0.5;
        if (t < 0) {
          const u = (f - move.to + rise) / (rise + frames / 2);
          return u <= 0 ? 0 : depth * Math.sin((Math.PI / 2) * u) ** 2;
        }
        if (t >= swings) return 0;
        // The last swing ends at rest.
        const end = t > swings - 1 ? Math.cos((Math.PI / 2) * (t - swings + 1)) ** 2 : 1;
        return depth * Math.exp(-decay * t) * Math.cos(Math.PI * t) * end;
      });
    }
    return {
      motion: editor.motion,
      notes: moves.some(({ joint }) => joint === subject.shot.roles.hips) ? keepFeet(subject, editor) : [],
    };
  },
};
