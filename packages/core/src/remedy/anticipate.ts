import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { addOfMove, movesOf, OF_A_MOVE } from './move-of.ts';
import { spanOf } from './proposals.ts';
import { type Asked, type Proposal, type Remedy, RemedyError, SOUGHT } from './remedy.ts';

/** Of a chain its parts, of the trunk its joints. */
export const whatMoves = (part: string | undefined): Record<string, string> =>
  part === undefined ? { parts: 'all' } : part.startsWith('chain:') ? { chain: part } : { parts: part };

const dips = ({ finding: { reading } }: Asked): Proposal[] => {
  const span = spanOf(reading);
  return [6, 4].map((frames) => ({
    steps: [{ remedy: 'anticipate', parameters: { ...whatMoves(reading.part), ...span, frames, depth: SOUGHT } }],
    seek: { from: 0, to: 60 },
  }));
};

/**
 * A move the other way before a move: it gathers, turns round at the move's start and runs into it.
 *
 * @example anticipate:joint=head,from=9,to=24,depth=10,frames=4 // from frame 5 the head goes back by a tenth of its move
 */
export const ANTICIPATE: Remedy = {
  id: 'anticipate',
  name: 'Anticipate',
  does: 'before a move it goes the other way',
  needs: 'a move with a rest before it',
  works: 'poses',
  parameters: {
    ...OF_A_MOVE,
    depth: { is: 'number', unit: '% of the move', range: [0, 100], default: 10, say: 'how far it goes the other way' },
    frames: {
      is: 'number',
      unit: 'frames',
      range: [1, 100],
      default: 4,
      say: 'frames before the move in which it goes there',
    },
  },
  marks: ['overshoot'],
  mends: { 'anticipation.depth': dips, 'anticipation.frames': dips },
  strength: () => ({ parameter: 'depth', none: 0 }),
  make(subject, given) {
    const depth = given.number('depth')! / 100;
    const frames = given.number('frames')! / subject.shot.exposures.stride;
    const moves = movesOf(subject, given, 'anticipate');
    const editor = new MotionEditor(subject.motion);
    if (depth === 0) return { motion: editor.motion };
    for (const move of moves) {
      const room = Math.min(frames, move.from);
      if (room < 1) throw new RemedyError('anticipate: the shot begins with the move, so nothing can come before it');
      const half = Math.max(room, Math.min(frames, (move.to - move.from) / 3));
      addOfMove(editor, move, subject.samples, (f) => {
        const u = f <= move.from ? (f - move.from + room) / room : 1 - (f - move.from) / half;
        return u <= 0 ? 0 : -depth * Math.sin((Math.PI / 2) * u) ** 2;
      });
    }
    return {
      motion: editor.motion,
      notes: moves.some(({ joint }) => joint === subject.shot.roles.hips) ? keepFeet(subject, editor) : [],
    };
  },
};
