// Motions of every kind made well, in many ways, on a figure built differently: nothing in them is outside.
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { measureShot } from '../src/measure/registry.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import type { ShotOptions } from '../src/motion/prepared-shot.ts';
import { builtDifferently, inOtherAxes, zUp } from './figures.ts';

type Settings = Readonly<Record<string, string | number>>;

const VARIED: Readonly<Record<string, readonly Settings[]>> = {
  walk: [
    { length: 20 },
    { length: 28 },
    { length: 32, stride: 60 },
    { stride: 62 },
    { arm: 34 },
    { lean: 9 },
    { bob: 2.5 },
    { cycles: 3, travel: 1 },
    { fps: 30, length: 30 },
    { loop: 'follow' },
    { steady: 0.5 },
  ],
  run: [{ length: 16 }, { length: 18, stride: 105 }, { length: 24 }, { arm: 45 }, { lean: 6 }, { fps: 48, length: 40 }],
  steps: [{ rise: 10 }, { rise: 16 }, { rise: 0 }, { rise: -8 }],
  jump: [
    { rise: 25 },
    { rise: 45 },
    { drop: 0 },
    { drop: 35 },
    { drop: 40 },
    { length: 72 },
    { fps: 30, length: 75 },
    { distance: 60 },
  ],
  take: [{ fps: 30, length: 90 }, { fps: 48, length: 144 }, { accentFrames: 14 }],
  turn: [
    { turn: 25, dip: 7 },
    { turn: 55 },
    { turnFrames: 7 },
    { turnFrames: 11 },
    { holdFrames: 12 },
    { holdFrames: 20, length: 72 },
    { dip: 7 },
    { drift: 5 },
  ],
  overlap: [{ swing: 25 }, { delay: 1.5 }, { length: 60 }, { fps: 30, length: 60 }],
  lean: [{ lean: 14 }, { lean: 26 }, { length: 72 }, { fps: 30, length: 70 }],
  idle: [{ breaths: 2 }, { sway: 3 }, { length: 120 }, { depth: 1.2 }, { fps: 30, length: 120 }],
};

test.each(Object.entries(VARIED).flatMap(([name, list]) => list.map((settings) => [name, settings] as const)))(
  '%s %j',
  (name, settings) => {
    const { kind, defaults, make } = EXEMPLARS[name]!;
    const motion = make(settings, {});
    const loop = (settings.loop ?? defaults.loop ?? 'none') as NonNullable<ShotOptions['loop']>;
    // The mast has no body that could be built differently.
    const built = name === 'overlap' ? inOtherAxes(motion, zUp, 0.4) : builtDifferently(motion);
    const shot = prepareShot(built, { kind, loop });
    const { findings, judged } = judgeShot(defaultGauges(kind, motion.fps), measureShot(shot), 'polish');
    expect(findings.filter(({ judgement }) => judgement === 'outside').map(({ say }) => say)).toEqual([]);
    expect(judged).toBeGreaterThan(3);
  },
);
