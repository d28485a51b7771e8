import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { axisName, figureAxes } from '../src/motion/axes.ts';
import { ADULT_LEG_METRES, figureScale } from '../src/motion/figure-scale.ts';
import { nameParts } from '../src/motion/joint-names.ts';
import type { Joint } from '../src/motion/motion.ts';
import { prepareShot } from '../src/motion/prepare-shot.ts';
import { guessRoles } from '../src/motion/roles.ts';
import { exemplarJoints } from '../src/exemplar/exemplar-figure.ts';
import { walkExemplar } from '../src/exemplar/walk.ts';
import { bytes, recording, smallBvh } from './fixtures.ts';

const rename = (spell: (name: string) => string): Joint[] =>
  exemplarJoints().map((joint) => ({ ...joint, name: spell(joint.name) }));
const sideWord = (name: string): [word: string, side: string | undefined] => {
  const [word, side] = name.split('.') as [string, string | undefined];
  return [word, side];
};
const capital = (word: string): string => word[0]!.toUpperCase() + word.slice(1);

// Spellings: common practice of the trade.
const SPELLINGS: readonly (readonly [string, (name: string) => string])[] = [
  ['the exemplar’s own', (name) => name],
  ['L_Thigh', (name) => (([w, s]) => (s ? `${s}_${capital(w)}` : capital(w)))(sideWord(name))],
  ['thigh_l', (name) => (([w, s]) => (s ? `${w}_${s.toLowerCase()}` : w))(sideWord(name))],
  [
    'LeftThigh',
    (name) => (([w, s]) => (s ? `${s === 'L' ? 'Left' : 'Right'}${capital(w)}` : capital(w)))(sideWord(name)),
  ],
  ['lThigh', (name) => (([w, s]) => (s ? `${s.toLowerCase()}${capital(w)}` : w))(sideWord(name))],
  ['a namespace and a decoration', (name) => (([w, s]) => `courier:${s ? `${w}_${s}` : w}_jnt`)(sideWord(name))],
  [
    'a shared prefix, all in capitals',
    (name) => (([w, s]) => `QUAY_${s ? `${s}_${w}` : w}`.toUpperCase())(sideWord(name)),
  ],
  [
    'glued and in one case',
    (name) => (([w, s]) => (s ? `${s === 'L' ? 'left' : 'right'}${w}` : w).toLowerCase())(sideWord(name)),
  ],
  [
    'thigh, calf, ankle, ball; upper arm, elbow, wrist; pelvis',
    (name) =>
      name
        .replace('shin', 'calf')
        .replace('foot', 'ankle')
        .replace('toe', 'ball')
        .replace('foreArm', 'elbow')
        .replace('hand', 'wrist')
        .replace('hips', 'pelvis')
        .replace('clavicle', 'collar'),
  ],
  [
    'hip, knee, ankle; shoulder for the upper arm',
    (name) =>
      (([w, s]) => {
        const word: Record<string, string> = {
          thigh: 'Hip',
          shin: 'Knee',
          foot: 'Ankle',
          toe: 'Toe',
          clavicle: 'Collar',
          upperArm: 'Shoulder',
          foreArm: 'Elbow',
          hand: 'Wrist',
        };
        return s ? `${s === 'L' ? 'Left' : 'Right'}${word[w]}` : capital(w);
      })(sideWord(name)),
  ],
];

const BODY = [
  'hips',
  'spine',
  'chest',
  'neck',
  'head',
  ...['clavicle', 'upperArm', 'foreArm', 'hand', 'thigh', 'shin', 'foot', 'toe'].flatMap((r) => [`${r}.L`, `${r}.R`]),
];

describe('hips whose name nobody knows', () => {
  const called = (hips: string, above?: string): Joint[] => {
    const own = rename((name) => (name === 'hips' ? hips : name));
    return above === undefined
      ? own
      : [
          { name: above, parent: -1, offset: [0, 0, 0], ends: [] },
          ...own.map((joint) => ({ ...joint, parent: joint.parent + 1 })),
        ];
  };

  test.each(['Lantern', 'Plinth01', 'waist', 'lowerSpine', '腰'])('called %s are what the legs hang from', (name) => {
    const { roles, warnings } = guessRoles(called(name));
    expect([roles.hips, roles.spine]).toEqual([0, guessRoles(exemplarJoints()).roles.spine]);
    expect(warnings.join()).toContain('hips');
  });

  test('are warned of once, also where no name says anything', () => {
    const { warnings } = guessRoles(rename((name) => `bone${[...name].reduce((sum, c) => sum + c.charCodeAt(0), 0)}`));
    expect(warnings.filter((own) => own.includes('hips'))).toHaveLength(1);
  });

  test('are not the root above them, which is called as hips sometimes are', () => {
    const { roles } = guessRoles(called('Plinth', 'root'));
    expect([roles.hips, roles.master]).toEqual([1, 0]);
    expect(guessRoles(called('pelvis', 'body')).roles.hips).toBe(1);
  });

  test('that are named stay, whatever the legs hang from', () => {
    expect(guessRoles(called('hips', 'Mover')).roles.hips).toBe(1);
    expect(guessRoles(exemplarJoints(), { hips: 'spine' }).roles.hips).toBe(
      exemplarJoints().findIndex(({ name }) => name === 'spine'),
    );
  });
});

describe('roles', () => {
  test.each(SPELLINGS)('are found in the spelling %s', (_, spell) => {
    const joints = rename(spell);
    const { roles } = guessRoles(joints);
    for (const role of BODY) expect([role, joints[roles[role as 'hips']!]?.name]).toEqual([role, spell(role)]);
  });

  test('“leg” is not on the left', () => {
    expect(nameParts(['leg', 'legend'])).toEqual([{ word: 'leg' }, { word: 'legend' }]);
  });

  // Common practice: the joint from which arms and head go out is the chest, however few joints lead up to it.
  test('of a figure without words, the joint that the arms leave is the chest, with one joint between it and the hips or none', () => {
    const limb = (parent: number, x: number, y: number, z = 0): readonly [number, number, number, number][] => [
      [parent, x, y, 0],
      [-1, 0, Math.sign(y || -1) * 38, 0],
      [-1, 0, Math.sign(y || -1) * 36, z],
    ];
    for (const spine of [0, 1]) {
      const list: [parent: number, x: number, y: number, z: number][] = [[-1, 0, 90, 0]];
      const add = (parent: number, x: number, y: number, z: number): number => list.push([parent, x, y, z]) - 1;
      let chest = 0;
      for (let k = 0; k <= spine; k++) chest = add(chest, 0, 40 / (spine + 1), 0);
      add(add(chest, 0, 12, 0), 0, 12, 0);
      for (const side of [1, -1]) {
        for (const [at, segments] of [
          [chest, limb(chest, 16 * side, 0)],
          [0, limb(0, 10 * side, -4, 4)],
        ] as const) {
          let parent = at;
          for (const [, x, y, z] of segments) parent = add(parent, x, y, z);
          if (at === 0) add(parent, 0, -4, 14);
        }
      }
      const joints = list.map(([parent, x, y, z], k) => ({
        name: `node${k}`,
        parent,
        offset: [x, y, z] as const,
        ends: [],
      }));
      const { roles } = guessRoles(joints);
      expect([spine, roles.hips, roles.chest, roles.spine]).toEqual([spine, 0, chest, spine === 0 ? undefined : 1]);
    }
  });

  test('a strap and its bag are a chain', () => {
    const { roles } = guessRoles(exemplarJoints());
    expect(Object.keys(roles).filter((role) => role.startsWith('chain:'))).toEqual(['chain:strap']);
  });

  test('of two recordings are the joints a person would name', () => {
    for (const name of ['01_03.bvh', 'Boxing_Toes.bvh'] as const) {
      const { motion } = readBvh(recording(name));
      const { roles } = guessRoles(motion.joints);
      for (const role of ['hips', 'chest', 'head', 'thigh.L', 'shin.R', 'foot.L', 'upperArm.R', 'hand.L'] as const)
        expect([name, role, roles[role]]).not.toContain(undefined);
      expect(motion.joints[roles['thigh.L']!]!.parent).toBeGreaterThanOrEqual(0);
    }
  });

  test('a correction wins, and null takes a role away', () => {
    const { roles, warnings } = guessRoles(exemplarJoints(), { head: 'neck', 'toe.L': null, chest: 'nobody' });
    expect(exemplarJoints()[roles.head!]!.name).toBe('neck');
    expect(roles['toe.L']).toBeUndefined();
    expect(warnings.join()).toContain('no joint called “nobody”');
  });

  test('left and right the wrong way round are a warning', () => {
    const swapped = rename((name) => (name.endsWith('.L') ? name.replace('.L', '.R') : name.replace('.R', '.L')));
    // Toes tell forward, so that the sides can be checked against it.
    const shot = prepareShot({ ...walkExemplar(), joints: swapped });
    expect(shot.warnings.join()).toContain('lies on the right');
    expect(prepareShot(walkExemplar()).warnings).toEqual([]);
  });

  test('a figure without a body has no roles and does not fail', () => {
    const { motion } = readBvh(
      bytes(smallBvh(['0 0 0 0 0 0 0 0 0']).replace('hips', 'плечо').replace('spine', 'рука')),
    );
    const shot = prepareShot(motion);
    expect(shot.axes.forwardKnown).toBe(false);
    expect(shot.scale.fromLegs).toBe(false);
  });
});

describe('axes and scale', () => {
  const turned = (turn: (v: readonly [number, number, number]) => [number, number, number]): Joint[] =>
    exemplarJoints().map((joint) => ({ ...joint, offset: turn(joint.offset), ends: joint.ends.map(turn) }));

  test.each<[string, string, (v: readonly [number, number, number]) => [number, number, number]]>([
    ['+Y', '+Z', ([x, y, z]) => [x, y, z]],
    ['+Z', '-Y', ([x, y, z]) => [x, -z, y]],
    ['+Z', '+X', ([x, y, z]) => [z, x, y]],
    ['+Y', '-Z', ([x, y, z]) => [-x, y, -z]],
    ['-Y', '+Z', ([x, y, z]) => [-x, -y, z]],
  ])('up %s and forward %s are found from the rest pose', (up, forward, turn) => {
    const joints = turned(turn);
    const axes = figureAxes(joints, guessRoles(joints).roles);
    expect([axisName(axes.up), axisName(axes.forward)]).toEqual([up, forward]);
    // Left is where the left joints are.
    const left = joints.find((joint) => joint.name === 'thigh.L')!.offset;
    expect(left[0] * axes.left[0] + left[1] * axes.left[1] + left[2] * axes.left[2]).toBeGreaterThan(0);
  });

  test('forward is known from left and up where there are no toes', () => {
    const joints = exemplarJoints().filter((joint) => !joint.name.startsWith('toe'));
    const kept = joints.map((joint) => ({
      ...joint,
      parent: joint.parent < 0 ? -1 : joints.findIndex((j) => j.name === exemplarJoints()[joint.parent]!.name),
    }));
    const axes = figureAxes(kept, guessRoles(kept).roles);
    expect(axisName(axes.forward)).toBe('+Z');
    expect(axes.forwardKnown).toBe(true);
  });

  // Winter, Biomechanics and Motor Control of Human Movement: thigh 0.245 and shank 0.246 of height (from memory).
  test('an adult of 1.70 m has a leg of 0.835 m', () => {
    const joints = exemplarJoints();
    const { legLength, metresPerUnit } = figureScale(joints, guessRoles(joints).roles);
    expect(legLength).toBeCloseTo(0.491 * 170, 6);
    expect(legLength * metresPerUnit).toBeCloseTo(ADULT_LEG_METRES, 9);
    expect(ADULT_LEG_METRES).toBeCloseTo(0.491 * 1.7, 3);
  });

  test('without legs, half the largest extent of the rest pose', () => {
    const { motion } = readBvh(bytes(smallBvh(['0 0 0 0 0 0 0 0 0'])));
    expect(figureScale(motion.joints, {}).legLength).toBeCloseTo(7.5);
  });
});

test('of a thing without a body up is what somebody has said it is', () => {
  const sack = readBvh(
    bytes(smallBvh(['0 0 0 0 0 0 0 0 0']).replace(/hips|spine/g, (name) => `sack_${name.length}`)),
  ).motion;
  expect(axisName(prepareShot(sack).axes.up)).toBe('+Y');
  for (const up of ['+X', '-Z', '+Z'] as const) {
    const { axes } = prepareShot(sack, { up });
    expect(axisName(axes.up)).toBe(up);
    expect(axes.upKnown).toBe(true);
  }
  expect(axisName(prepareShot(walkExemplar(), { up: '+Z' }).axes.up)).toBe('+Z');
});
