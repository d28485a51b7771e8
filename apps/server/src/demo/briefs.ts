import type { CreationAttributes } from 'sequelize';
import type { BriefModel } from '../briefs/brief.model.ts';

/** The exercises of the course. They all belong to one small story: a harbour that gets its post by night. */
export const BRIEFS: readonly CreationAttributes<BriefModel>[] = [
  {
    title: 'Night round',
    kind: 'walk',
    loop: 'repeat',
    frames: 24,
    text: 'The letter carrier on the night round: a walk on the spot with a shoulder bag, two steps in 24 frames. Frame 25 repeats frame 1. Contact on 1, down on 4, passing on 7, up on 10, and the same mirrored from 13. No hurry, and no tiredness yet.',
    plan: [1, 13].flatMap((first) =>
      ['contact', 'down', 'passing', 'up'].map((name, k) => ({ name, frame: first + 3 * k, tolerance: 1 })),
    ),
  },
  {
    title: 'Last ferry',
    kind: 'run',
    loop: 'repeat',
    frames: 20,
    text: 'The carrier runs for the boat. A cycle of 20 frames on the spot, with a pose in the air in each half.',
  },
  {
    title: 'Quay to barge',
    kind: 'jump',
    loop: 'none',
    frames: 60,
    text: 'A hop down from the quay on to a moored barge: crouch, stretch, air, stretch, squash, settle. 60 frames.',
  },
  {
    title: 'Foghorn',
    kind: 'take',
    loop: 'none',
    frames: 72,
    text: 'The lighthouse keeper is startled by the horn: a double take. Each look must be held long enough to read. 72 frames.',
  },
  {
    title: 'Two voices',
    kind: 'turn',
    loop: 'none',
    frames: 64,
    text: 'A harbour pilot listens left, then right. Two turns with a moving hold between them. 64 frames.',
  },
  {
    title: 'Signal halyard',
    kind: 'overlap',
    loop: 'none',
    frames: 48,
    text: 'A mast swings and stops; the rope of pennants behind it drags and follows. The base is not animated. 48 frames.',
  },
  {
    title: 'Gangplank',
    kind: 'walk',
    loop: 'auto',
    frames: 48,
    text: 'Up a cleated plank with a parcel in both arms. Each planted foot stands higher than the one before. 48 frames.',
  },
  {
    title: 'Cold morning',
    kind: 'idle',
    loop: 'repeat',
    frames: 96,
    text: 'Breathing on the pier, waiting. A loop of 96 frames in which several parts are alive, none of them busy.',
  },
  {
    title: 'Mail sack',
    kind: 'any',
    loop: 'none',
    frames: 60,
    text: 'A full mail sack is thrown on to the quay and bounces along it. It squashes and stretches, and there is always as much mail in it. Drawn, 60 frames.',
  },
];
