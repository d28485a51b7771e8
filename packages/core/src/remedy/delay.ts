import { CHAIN_LAG } from '../measure/overlap/lag.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { partsOf, wayTo } from './proposals.ts';
import { type Asked, type Proposal, type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { Sampler } from './resample.ts';
import { SOFTLY } from './subject.ts';

/** Each link of a chain behind the one before, by as much as the trade gives it. */
const drag = (asked: Asked): Proposal[] => {
  const links = CHAIN_LAG.among([asked.finding.reading])[0];
  const to = links && links.value > 4 ? -12 : 6;
  return [
    {
      steps: partsOf(asked).map((chain) => ({ remedy: 'delay', parameters: { chain, frames: SOUGHT } })),
      // What drags by less than a frame nobody sees: the trade gives each link one or two.
      seek: { from: links ? 0 : 1, to },
    },
  ];
};

/** Both arms later or earlier. */
const arms = (asked: Asked): Proposal[] => {
  const way = wayTo(asked);
  return [
    {
      steps: [{ remedy: 'delay', parameters: { parts: 'arm.L+arm.R', frames: SOUGHT } }],
      seek: { from: 0, to: 2 * way + Math.sign(way) },
    },
  ];
};

/**
 * Parts, or the links of a chain one behind the other, later or earlier than they are.
 *
 * @example delay:chain=arm.L,frames=1 // forearm one frame behind the upper arm, hand two, fingers three
 * @example delay:parts=arm.L+arm.R,frames=2 // both arms two frames later as a whole
 */
export const DELAY: Remedy = {
  id: 'delay',
  name: 'Delay',
  does: 'parts, or the links of a chain one behind the other, come later or earlier',
  needs: 'joints that move',
  works: 'poses',
  parameters: {
    chain: { is: 'chain', say: 'each link behind the one before: a chain, or joints with + between them' },
    parts: { is: 'parts', say: 'moved as a whole: parts or joints with + between them' },
    frames: { is: 'number', unit: 'frames', range: [-240, 240], default: 0, say: 'frames later; under 0 earlier' },
    from: { is: 'frame', say: 'first frame' },
    to: { is: 'frame', say: 'last frame' },
    falloff: SOFTLY,
  },
  marks: ['delay'],
  mends: {
    'lag.frames': drag,
    'lag.together': drag,
    'arm.late': arms,
    'nod.late': (asked) => {
      const part = asked.finding.reading.part ?? 'spine';
      const way = wayTo(asked);
      // What hangs from the trunk stays with it.
      return [
        {
          steps: [{ remedy: 'delay', parameters: { parts: part, frames: SOUGHT } }],
          seek: { from: 0, to: 2 * way + Math.sign(way) },
        },
      ];
    },
    'starts.together': () =>
      [2, 3].flatMap((frames) => [
        { steps: [{ remedy: 'delay', parameters: { parts: 'arm.L+arm.R', frames } }] },
        {
          steps: [
            { remedy: 'delay', parameters: { parts: 'arm.L', frames } },
            { remedy: 'delay', parameters: { parts: 'arm.R', frames: 2 * frames } },
          ],
        },
        {
          steps: [
            { remedy: 'delay', parameters: { parts: 'arm.L+arm.R', frames } },
            { remedy: 'delay', parameters: { parts: 'head', frames: -frames } },
          ],
        },
      ]),
    'twin.arms': ({ shot }) =>
      shot.loop === 'none'
        ? [2, 3, 4].map((frames) => ({ steps: [{ remedy: 'delay', parameters: { parts: 'arm.R', frames } }] }))
        : [],
  },
  strength: () => ({ parameter: 'frames', none: 0 }),
  make(subject, given) {
    const [chain, parts] = [given.text('chain'), given.text('parts')];
    if ((chain === undefined) === (parts === undefined)) throw new RemedyError('delay needs a chain, or parts');
    const frames = given.number('frames')!;
    const editor = new MotionEditor(subject.motion);
    const late: (readonly [joint: number, links: number])[] =
      chain !== undefined
        ? subject.chain(chain).map((joint, link) => [joint, link])
        : subject.joints(parts!).map((joint) => [joint, 1]);
    if (frames === 0) return { motion: editor.motion };
    const perSample = 1 / subject.shot.exposures.stride;
    const weights = subject.weights(subject.range(given), given.number('falloff')!);
    const sampler = new Sampler(subject);
    for (const [joint, links] of late) {
      const slot = subject.motion.moving.indexOf(joint);
      if (links === 0) continue;
      for (let f = 0; f < subject.samples; f++) {
        if (weights[f] === 0) continue;
        const moment = f - links * frames * perSample * weights[f]!;
        editor.setLocal(f, joint, sampler.rotation(joint, moment));
        if (slot >= 0) editor.setOwnPlace(f, joint, sampler.translation(slot, moment));
      }
    }
    const moves = late.some(([joint]) => joint === subject.shot.roles.hips);
    return { motion: editor.motion, notes: moves ? keepFeet(subject, editor) : [] };
  },
};
