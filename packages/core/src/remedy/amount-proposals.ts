import { viewGait } from '../measure/gait/gait-view.ts';
import { measureReading } from '../measure/registry.ts';
import type { Quantity } from '../quantity/quantities.ts';
import { type Side, SIDES } from './keep-feet.ts';
import { added, partsOf, scaled, sideOfPart, wayTo } from './proposals.ts';
import { type Asked, type Mends, type Parameters, type Proposal, SOUGHT } from './remedy.ts';

/** Parts of a finding on a side, as quantities name them. */
const limbs = (asked: Asked, limb: string): string[] =>
  partsOf(asked).map((part) => (/\.[LR]$/.test(part) ? `${limb}.${sideOfPart(part)}` : limb));

/** The pitch of a foot about some labels: as many steps as there are landings. */
function pitchAt(asked: Asked, event: 'at' | 'until', falloff: number): Proposal[] {
  const view = viewGait(asked.shot);
  if (typeof view === 'string' || asked.target === undefined) return [];
  const sides = new Set(partsOf(asked).map(sideOfPart));
  const steps = view.landings
    .filter((landing) => sides.has(landing.side) && !landing.standing)
    .map(({ side, [event]: sample }) => ({
      remedy: 'amount',
      parameters: { quantity: 'pitch', of: `foot.${side}`, to: SOUGHT, at: Math.floor(view.label(sample)), falloff },
    }));
  const { value } = asked.finding.reading;
  return typeof value === 'number' ? [{ steps, seek: { from: value, to: value + 2 * wayTo(asked) } }] : [];
}

const ofPart =
  (quantity: Quantity, of: (asked: Asked) => readonly string[]) =>
  (asked: Asked): Proposal[] => [added(asked, of(asked), quantity)];
const sizeOf =
  (quantity: Quantity | 'own', of: (asked: Asked) => readonly string[]) =>
  (asked: Asked): Proposal[] => [scaled(asked, of(asked), quantity)];
const named =
  (...names: string[]) =>
  (): readonly string[] =>
    names;
const sameName = (asked: Asked): readonly string[] => partsOf(asked);

/** The knee at a key pose is as bent as the hips are high. */
const hipsUp = (asked: Asked): Proposal[] => [
  added(asked, ['hips'], 'height', {}, -0.5),
  added(asked, ['hips'], 'height', {}, -1),
];

/** What more or less of a quantity mends: which quantity of which part, and between which values it is sought. */
export const AMOUNT_MENDS: Mends = {
  'posture.lean': (asked) => [added(asked, ['trunk'], 'lean')],
  'posture.side': ofPart('side', named('trunk')),
  'posture.head': ofPart('pitch', named('head')),
  'posture.aside': ofPart('turn', named('head')),
  'posture.tilt': ofPart('side', named('head')),
  'posture.neck': ofPart('lean', named('neck')),
  'posture.turn': ofPart('turn', sameName),
  'posture.arm': ofPart('swing', (asked) => limbs(asked, 'upperArm')),
  'posture.shrug': (asked) => [
    { ...added(asked, limbs(asked, 'clavicle'), 'shrug'), seek: { from: 0, to: 5 * wayTo(asked) } },
  ],
  'wrist.bend': ofPart('bend', (asked) => limbs(asked, 'wrist')),
  'elbow.least': ofPart('bend', (asked) => limbs(asked, 'elbow')),
  'elbow.most': (asked) => [
    added(asked, limbs(asked, 'elbow'), 'bend'),
    scaled(asked, limbs(asked, 'elbow'), 'bend', 3),
  ],
  'size.lean': sizeOf('lean', named('trunk')),
  'size.turn': sizeOf('turn', sameName),
  'size.tilt': sizeOf('tilt', sameName),
  'size.shift': sizeOf('shift', named('hips')),
  'size.side': sizeOf('side', (asked) => sameName(asked).map((part) => (part === 'spine' ? 'trunk' : part))),
  'size.head': sizeOf('pitch', named('head')),
  'size.arm': sizeOf('swing', (asked) => limbs(asked, 'upperArm')),
  'size.wrist': sizeOf('own', (asked) => limbs(asked, 'hand')),
  'size.flap': sizeOf('spread', (asked) => limbs(asked, 'upperArm')),
  'size.spread': ofPart('spread', (asked) => limbs(asked, 'upperArm')),
  'gait.knee': () => [
    {
      steps: [{ remedy: 'amount', parameters: { quantity: 'height', of: 'hips', by: SOUGHT } }],
      seek: { from: 0, to: -5 },
    },
  ],
  'gait.bob': sizeOf('height', named('hips')),
  'foot.land': (asked) => [3, 2, 1].flatMap((falloff) => pitchAt(asked, 'at', falloff)),
  'foot.leave': (asked) => [3, 2].flatMap((falloff) => pitchAt(asked, 'until', falloff)),
  'foot.turn': (asked) => [forSides(asked, (side) => ({ quantity: 'turn', of: `foot.${side}`, by: SOUGHT }), 1)],
  'knee.aside': (asked) => [forSides(asked, (side) => ({ quantity: 'aside', of: `knee.${side}`, by: SOUGHT }), 4)],
  'knee.up': hipsUp,
  'knee.contact': hipsUp,
  'knee.down': hipsUp,
  'knee.passing': hipsUp,
  'step.reach': (asked) => [added(asked, ['hips'], 'ahead', {}, -30)],
  'breath.size': sizeOf('lean', named('trunk')),
  'take.anticipation': (asked) => headAt(asked, -1.2),
  'take.accent': stretched,
  'through.frames': (asked) => [
    forSides(asked, (side) => ({ quantity: 'spread', of: `upperArm.${side}`, by: SOUGHT }), 0, 40),
  ],
  'gait.flight': lifted,
  'foot.clear': (asked) => clearing(asked),
};

/** One step for each side that the finding is of; what is put on counts outward on both sides. */
const forSides = (
  asked: Asked,
  parameters: (side: Side) => Record<string, string | number>,
  much: number,
  least = 0,
): Proposal => ({
  steps: partsOf(asked).map((part) => ({ remedy: 'amount', parameters: parameters(sideOfPart(part)) })),
  seek: { from: 0, to: least + much * 2 * wayTo(asked) },
});

/** The head lower or higher about a frame, by the hips: %L for each percent of the figure's height. */
function headAt(asked: Asked, sign: number): Proposal[] {
  const { reading } = asked.finding;
  const told = (reading.frames ?? [])[0];
  const at = told === undefined ? undefined : Math.round(told);
  if (at === undefined) return [];
  const to = Math.sign(sign) * Math.abs(4 * wayTo(asked) * Math.abs(sign));
  return [8, 5].map((falloff) => ({
    steps: [{ remedy: 'amount', parameters: { quantity: 'height', of: 'hips', by: SOUGHT, at, falloff } }],
    seek: { from: 0, to },
  }));
}

/** The body stretched up where the accent would be: behind the anticipation, for as long as an accent is read. */
function stretched({ shot }: Asked): Proposal[] {
  const told = measureReading(shot, 'take.anticipation')[0]?.frames?.[0];
  if (told === undefined) return [];
  const last = shot.firstFrame + shot.played.motion.frames - 1;
  return [8, 10, 6].map((by) => {
    const from = Math.min(last, Math.round(told) + by);
    const until = Math.min(last, from + 13);
    const held = { from, until, falloff: 6 };
    // Straight up and on the toes: legs alone are seldom long enough.
    const onToes = SIDES.map((side): Parameters => ({ quantity: 'pitch', of: `foot.${side}`, by: -20, ...held }));
    const up: Parameters[] = [
      { quantity: 'lean', of: 'trunk', to: 0, ...held },
      ...onToes,
      { quantity: 'height', of: 'hips', by: SOUGHT, ...held },
    ];
    return {
      steps: up.map((parameters) => ({ remedy: 'amount', parameters })),
      seek: { from: 0, to: 24 },
    };
  });
}

/** Every foot lifted off the ground sooner: at the end of its stand, so that none stands before the other lands. */
function lifted({ shot }: Asked): Proposal[] {
  const view = viewGait(shot);
  if (typeof view === 'string') return [];
  const lift = (by: number) =>
    view.landings.map(({ side, until }) => ({
      remedy: 'amount',
      parameters: {
        quantity: 'height',
        of: `foot.${side}`,
        by: SOUGHT,
        at: Math.floor(view.label(until - by)),
        falloff: 4,
      },
    }));
  return [0, 1].map((by) => ({ steps: lift(by), seek: { from: 0, to: 16 } }));
}

/** A swinging foot lifted about the frame where it passes lowest. */
function clearing(asked: Asked): Proposal[] {
  const at = (asked.finding.reading.frames ?? []).map(Math.round);
  return [
    {
      steps: partsOf(asked).flatMap((part) =>
        at.map((label) => ({
          remedy: 'amount',
          parameters: { quantity: 'height', of: `foot.${sideOfPart(part)}`, by: SOUGHT, at: label, falloff: 3 },
        })),
      ),
      seek: { from: 0, to: 3 * wayTo(asked) },
    },
  ];
}
