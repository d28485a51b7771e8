import { judgeShot } from '../src/gauge/findings.ts';
import { defaultGauges } from '../src/gauge/gauges.ts';
import { measureShot } from '../src/measure/registry.ts';
import { runExemplar, walkExemplar } from '../src/exemplar/walk.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { keeperWalk } from './other-figure.ts';
import { both, Faulty, TRUNK } from './gross-faults.ts';
let seed = 7; const rnd = () => ((seed = (seed * 16807) % 2147483647) / 2147483647) - 0.5;
test('x', () => {
  const out: string[] = [];
  const bodies: [string, () => Faulty, any][] = [
    ['walk', () => new Faulty(walkExemplar(), { kind: 'walk', loop: 'repeat' }), 'walk'],
    ['keeper', () => new Faulty(keeperWalk(), { kind: 'walk' }), 'walk'],
    ['run', () => new Faulty(runExemplar(), { kind: 'run', loop: 'repeat' }), 'run'],
    ...(['take', 'turn', 'idle', 'jump'] as const).map((n) => [n, () => new Faulty(EXEMPLARS[n]!.make({}, {}), { kind: EXEMPLARS[n]!.kind, loop: (EXEMPLARS[n]!.defaults.loop ?? 'none') as any }), EXEMPLARS[n]!.kind] as [string, () => Faulty, any]),
  ];
  const told = (s: Faulty, kind: any) => judgeShot(defaultGauges(kind), measureShot(s.shot), 'polish').findings.filter((f) => f.judgement === 'outside');
  for (const [body, make, kind] of bodies)
    for (const role of ['hand.L', 'head', 'foreArm.R', 'chest'] as const)
      for (const amp of [2, 4]) {
        const r: string[] = [];
        for (let k = 0; k < 6; k++) { const f = told(make().turned(role, 'left', () => amp * rnd()).turned(role, 'up', () => amp * rnd()), kind); r.push(f.some((x) => /shake|pop/.test(x.reading.id)) ? '+' : f.length ? 'o' : '-'); if (k === 0 && f.length) r.push(f[0]!.say.slice(0, 60)); }
        out.push(`${body} ${role} ±${amp / 2}: ${r.join(' ')}`);
      }
  // more faults in other kinds
  const F: Record<string, [string, (s: Faulty) => Faulty][]> = {
    jump: [['tilt', (s) => s.turned('head', 'forward', () => 25)], ['lean', (s) => s.turned(TRUNK, 'left', () => 40)], ['sink', (s) => s.moved(() => [0, 0, -0.06])], ['float', (s) => s.moved(() => [0, 0, 0.06])], ['half height', (s) => s], ['slow', (s) => s.retimed((f) => f * 0.5)], ['arms frozen', (s) => both(s, (o, side) => (['clavicle','upperArm','foreArm','hand'] as const).reduce((q, r) => q.scaled(`${r}.${side}`, 0), o))], ['one frame pop', (s) => s.turned('chest', 'left', (f) => (f === 12 ? 15 : 0))], ['slides', (s) => s.moved((f) => [0, 0.2 * f / s.motion.frames, 0])], ['knees stiff', (s) => both(s, (o, side) => o.scaled(`shin.${side}`, 0.2))], ['held 6', (s) => s.retimed((f) => (f > 14 && f <= 20 ? 14 : f > 20 ? f - 6 : f))]],
    take: [['head only', (s) => TRUNK.reduce((o, r) => o.scaled(r, 0), s)], ['tilt', (s) => s.turned('head', 'forward', () => 30)], ['arms frozen', (s) => both(s, (o, side) => (['clavicle','upperArm','foreArm','hand'] as const).reduce((q, r) => q.scaled(`${r}.${side}`, 0), o))], ['half', (s) => s.retimed((f) => f * 0.5)], ['double', (s) => s.retimed((f) => Math.min(s.motion.frames - 1, f * 2))], ['linear', (s) => s.retimed((f) => f)], ['arms lag 6', (s) => s.late(['upperArm.L', 'foreArm.L', 'hand.L', 'upperArm.R', 'foreArm.R', 'hand.R'], 6)], ['twin', (s) => s], ['skip', (s) => s.retimed((f) => (f < 14 ? f : Math.min(s.motion.frames - 1, f + 3)))]],
    turn: [['eyes down', (s) => s.turned('head', 'left', () => 40)], ['arms noise', (s) => s.turned('upperArm.L', 'left', (f) => (f % 2 ? 3 : -3))], ['linear head', (s) => s], ['chest first', (s) => s.late(['head', 'neck'], 5)], ['held', (s) => s.retimed((f) => (f > 10 && f <= 14 ? 10 : f > 14 ? f - 4 : f))], ['skip', (s) => s.retimed((f) => (f < 12 ? f : Math.min(s.motion.frames - 1, f + 3)))], ['sway', (s) => s.moved((f) => [0, 0.1 * Math.sin(f / 3), 0])], ['freeze all', (s) => s.retimed(() => 5)]],
    idle: [['freeze', (s) => s.retimed(() => 5)], ['double breath', (s) => TRUNK.reduce((o, r) => o.scaled(r, 3), s)], ['fast', (s) => s.retimed((f) => f * 3)], ['head tilt', (s) => s.turned('head', 'forward', () => 30)], ['lean', (s) => s.turned(TRUNK, 'left', () => 35)], ['pop', (s) => s.turned('head', 'up', (f) => (f === 30 ? 6 : 0))], ['arm raised', (s) => s.turned('upperArm.L', 'left', () => -90)], ['bounce', (s) => s.moved((f) => [0, 0, 0.06 * Math.sin(f / 4)])]],
  };
  for (const [body, make, kind] of bodies)
    for (const [name, put] of F[body] ?? []) { let f; try { f = told(put(make()), kind); } catch (e) { out.push(`${body} ${name}: ${e}`); continue; } out.push(`## ${body} ${name} (${f.length}): ${f.slice(0, 4).map((x) => x.say).join(' | ')}`); }
  require('fs').writeFileSync('/tmp/zz.txt', out.join('\n'));
});
