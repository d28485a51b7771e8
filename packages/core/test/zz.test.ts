import { keeperWalk } from './other-figure.ts';
import { walkExemplar, runExemplar } from '../src/exemplar/walk.ts';
import { Faulty } from './gross-faults.ts';
import { measureShot } from '../src/measure/registry.ts';
import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import type { Kind } from '../src/motion/kinds.ts';
import type { Role } from '../src/motion/role.ts';
const sides = ['L', 'R'] as const;
const both = (f: Faulty, g: (f: Faulty, s: 'L' | 'R') => Faulty) => sides.reduce((o, s) => g(o, s), f);
const SP: Role[] = ['spine', 'chest'];
const F: Record<string, (f: Faulty) => Faulty> = {
  clean: (f) => f,
  lean35: (f) => f.turned(SP, 'left', () => 35),
  lean20back: (f) => f.turned(SP, 'left', () => -22),
  side12: (f) => f.turned(SP, 'forward', () => 12),
  headDown40: (f) => f.turned('head', 'left', () => 40),
  headBack30: (f) => f.turned('head', 'left', () => -30),
  headAside35: (f) => f.turned('head', 'up', () => 35),
  arms22: (f) => both(f, (o, s) => o.scaled(`upperArm.${s}`, 2.2)),
  arms02: (f) => both(f, (o, s) => o.scaled(`upperArm.${s}`, 0.2)),
  armFrozen: (f) => (['clavicle', 'upperArm', 'foreArm', 'hand'] as const).reduce((o, r) => o.scaled(`${r}.L`, 0), f),
  armsFrozen: (f) =>
    both(f, (o, s) =>
      (['clavicle', 'upperArm', 'foreArm', 'hand'] as const).reduce((p, r) => p.scaled(`${r}.${s}`, 0), o),
    ),
  headNod10: (f) => f.turned('head', 'left', f.wave(5, f.period / 2)),
  trunkNod12: (f) => f.turned(SP, 'left', f.wave(6, f.period / 2)),
  headShake06: (f) => f.turned('head', 'up', (i) => 0.6 * (i % 2 ? 1 : -1)),
  headShake1: (f) => f.turned('head', 'left', (i) => 1 * (i % 2 ? 1 : -1)),
  headShake2p4: (f) => f.turned('head', 'left', f.wave(2, 4)),
  headShake2p3: (f) => f.turned('head', 'forward', f.wave(2, 3)),
  pelvisShake15: (f) => f.turned('hips', 'up', (i) => 1.5 * (i % 2 ? 1 : -1)),
  pelvisTurn4: (f) => f.turned('hips', 'up', f.wave(-20)),
  chestTurn: (f) => f.turned('chest', 'up', f.wave(22)),
  pelvisTilt: (f) => f.turned('hips', 'forward', f.wave(12, f.period, f.period / 5)),
  shift: (f) => f.moved((i) => [0, f.wave(0.07, f.period, f.period * 0.28)(i), 0]),
  flat: (f) => f.flatFooted(),
  toesIn: (f) => both(f, (o, s) => o.turned(`foot.${s}`, 'up', () => (s === 'L' ? -30 : 30))),
  duck: (f) => both(f, (o, s) => o.turned(`foot.${s}`, 'up', () => (s === 'L' ? 45 : -45))),
  wrists: (f) => both(f, (o, s) => o.turned(`hand.${s}`, 'left', () => 60)),
  elbowBack: (f) => both(f, (o, s) => o.turned(`foreArm.${s}`, 'left', () => 45)),
  elbow100: (f) => both(f, (o, s) => o.turned(`foreArm.${s}`, 'left', () => -95)),
  spread: (f) => both(f, (o, s) => o.turned(`upperArm.${s}`, 'forward', () => (s === 'L' ? 50 : -50))),
  armsLate3: (f) =>
    f.late(
      sides.flatMap((s) => [`clavicle.${s}`, `upperArm.${s}`, `foreArm.${s}`, `hand.${s}`] as Role[]),
      3,
    ),
  stutter: (f) => f.retimed((i) => i + (i % 2 ? 0.18 : -0.18)),
  halting: (f) =>
    f.retimed(
      (i) => {
        const T = f.period / 2;
        const u = i / T;
        return i + (T * 0.98 * Math.sin(2 * Math.PI * u)) / (-2 * Math.PI);
      },
      [
        'spine',
        'chest',
        'neck',
        'head',
        ...sides.flatMap((s) => [`clavicle.${s}`, `upperArm.${s}`, `foreArm.${s}`, `hand.${s}`] as Role[]),
      ],
    ),
  fast25: (f) => f.moved((i) => [(0.25 * 1.4 * i) / f.period, 0, 0]),
  floatUp: (f) => f.moved(() => [0, 0, 0.06]),
  sink: (f) => f.moved(() => [0, 0, -0.05]),
  bigBob: (f) => f.moved((i) => [0, 0, f.wave(-0.06, f.period / 2, 3)(i)]),
  behind: (f) => f.moved(() => [-0.15, 0, 0]),
};

import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
const G: Record<string, (f: Faulty) => Faulty> = {
  clean: (f) => f,
  lookDown: (f) => f.turned('head', 'left', (i) => 40 * Math.max(0, Math.min(1, (i - 20) / 4, (38 - i) / 4))),
  sinkDrift: (f) => f.moved((i) => [(0.12 * i) / f.motion.frames, 0, (-0.1 * i) / f.motion.frames]),
  creepBody: (f) => f.moved((i) => [0, (0.12 * i) / f.motion.frames, 0]),
  lean35: (f) => f.turned(SP, 'left', () => 35),
  headDown40: (f) => f.turned('head', 'left', () => 40),
  headShake06: (f) => f.turned('head', 'up', (i) => 0.6 * (i % 2 ? 1 : -1)),
  headShake2: (f) => f.turned('head', 'left', f.wave(2, 4)),
  pelvisShake1: (f) => f.turned('hips', 'left', (i) => 1 * (i % 2 ? 1 : -1)),
  stutter: (f) => f.retimed((i) => i + (i % 2 ? 0.18 : -0.18)),
  elbowBack: (f) => both(f, (o, s) => o.turned(`foreArm.${s}`, 'left', () => 45)),
  wrists: (f) => both(f, (o, s) => o.turned(`hand.${s}`, 'left', () => 70)),
  breath9: (f) => f.turned('chest', 'left', f.wave(4.5, 48)),
  float: (f) => f.moved(() => [0, 0, 0.06]),
  sink: (f) => f.moved(() => [0, 0, -0.06]),
  headPop: (f) => f.turned('head', 'up', (i) => (i === 30 ? 14 : 0)),
};
const E = (name: string) =>
  new Faulty(EXEMPLARS[name]!.make({}, {}), {
    kind: EXEMPLARS[name]!.kind,
    loop: (EXEMPLARS[name]!.defaults.loop ?? 'none') as never,
  });
const H: [string, () => Faulty][] = ['turn', 'take', 'idle', 'jump', 'lean'].map((n) => [n, () => E(n)]);
const BODIES: [string, () => Faulty][] = [
  ['walk', () => new Faulty(walkExemplar(), { kind: 'walk', loop: 'repeat' })],
  ['keeper', () => new Faulty(keeperWalk(), { kind: 'walk' })],
  ['keeper travel', () => new Faulty(keeperWalk({ cycles: [24, 24], travel: 1 }), { kind: 'walk' })],
  ['run', () => new Faulty(runExemplar(), { kind: 'run', loop: 'repeat' })],
];
test('x', () => {
  const out: string[] = [];
  const only = process.env.ONLY?.split(',');
  for (const [b, make] of [...BODIES, ...H]) {
    if (process.env.BODY && !process.env.BODY.split(',').includes(b)) continue;
    for (const [name, fault] of Object.entries(H.some(([n]) => n === b) ? G : F)) {
      if (only && !only.includes(name)) continue;
      const f = fault(make());
      const kind = f.options.kind as Kind;
      const j = judgeShot(defaultGauges(kind, f.motion.fps), measureShot(f.shot), 'polish');
      out.push(`## ${b} ${name} jitter ${f.shot.jitter.toFixed(2)}`);
      for (const x of j.findings)
        out.push(
          `   ${x.judgement === 'near' ? '~' : '!'} ${x.reading.id} ${x.reading.part ?? ''} ${x.reading.value} | ${x.say} | ${x.also.join(',')}`,
        );
    }
  }
  require('fs').writeFileSync('/tmp/gross.txt', out.join('\n'));
});
