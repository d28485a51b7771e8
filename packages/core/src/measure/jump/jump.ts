import { centreOfMass } from '../../motion/centre-of-mass.ts';
import { ADULT_LEG_METRES, STANDARD_GRAVITY } from '../../motion/figure-scale.ts';
import { framesIn, labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { largestOf, mean, rangeOf } from '../../signal/statistics.ts';
import { dot } from '../../motion/vector.ts';
import { atFrames, figures, frames, ofLeg } from '../../say/words.ts';
import { fitParabola } from '../../signal/parabola.ts';
import { type AnyReadingKind, describeReading, holding } from '../describe.ts';
import { type Measured, type Reading, refuse, roundTo4, type Unmade } from '../reading.ts';
import { findFlights, type Flight, isLegless } from './flights.ts';
import { sampled } from '../../signal/sampled.ts';

const FLIGHT = 'feet that leave the ground together';
const MASS = 'feet that leave the ground together, trunk and thighs';
const shared = { kinds: ['jump', 'any'], shows: 'hips', needs: FLIGHT, mark: 'timing' } as const;

const CROUCH = describeReading({
  ...shared,
  id: 'jump.crouch',
  holds: holding<number, { from?: number; to?: number; frames: number; lowest?: number; units?: number }>(),
  name: 'crouch',
  unit: '%L',
  mark: 'overshoot',
  keyPose: 'crouch',
  say: ({ value, detail }, _, told) =>
    told?.side === -1 && told.judgement !== 'inside'
      ? `the body leaves the ground almost without a crouch, of ${ofLeg(value)}`
      : `before take-off the hips go down by ${ofLeg(value)}, for ${frames(detail.frames)}`,
});
const TAKEOFF = describeReading({
  ...shared,
  id: 'jump.takeoff',
  about: 'timing',
  holds: holding<number>(),
  name: 'take-off',
  unit: 'frames',
  isLabel: true,
  keyPose: 'take-off',
  say: ({ value }) => `the feet leave the ground after frame ${Math.round(value)}`,
});
const APEX = describeReading({
  ...shared,
  id: 'jump.apex',
  about: 'timing',
  holds: holding<number>(),
  name: 'top of the jump',
  unit: 'frames',
  isLabel: true,
  needs: MASS,
  keyPose: 'top',
  say: ({ value }) => `the body is highest at frame ${Math.round(value)}`,
});
const LANDING = describeReading({
  ...shared,
  id: 'jump.landing',
  about: 'timing',
  holds: holding<number>(),
  name: 'landing',
  unit: 'frames',
  isLabel: true,
  keyPose: 'landing',
  say: ({ value }) => `the feet land at frame ${Math.round(value)}`,
});
const AIR = describeReading({
  ...shared,
  id: 'jump.air',
  about: 'timing',
  holds: holding<number, { from: number; to: number }>(),
  name: 'time in the air',
  unit: 'frames',
  time: true,

  say: ({ value, detail: { from, to } }) => `the body is in the air for ${frames(value)}, from ${from} to ${to}`,
});
const RISE = describeReading({
  ...shared,
  id: 'jump.rise',
  holds: holding<number, { units: number }>(),
  name: 'rise of the body',
  unit: '%L',
  needs: MASS,
  mark: 'spacing',

  say: ({ value }) => `after take-off the body rises by ${ofLeg(value)}`,
});
const GRAVITY = describeReading({
  ...shared,
  id: 'jump.gravity',
  holds: holding<number, { metresPerSecond2: number }>(),
  name: 'fall against gravity',
  unit: 'ratio',
  needs: MASS,
  mark: 'spacing',

  say: ({ value }, _, told) =>
    told && told.judgement !== 'inside'
      ? told.side < 0
        ? `the body floats: it falls at ${figures(value, 2)} of gravity`
        : `the body drops too hard: it falls at ${figures(value)} of gravity`
      : `the body falls at ${figures(value, 2)} of gravity`,
});
const PARABOLA = describeReading({
  ...shared,
  id: 'jump.parabola',
  holds: holding<number>(),
  name: 'path in the air',
  unit: '0…1',
  needs: MASS,
  mark: 'spacing',
  explains: { 'jump.gravity': 'always' },
  say: ({ value }, _, told) =>
    `in the air the body ${told && told.judgement !== 'inside' ? 'leaves its parabola' : 'follows a parabola'}, which tells ${figures(100 * value)} % of its way`,
});
const SQUASH = describeReading({
  ...shared,
  id: 'jump.squash',
  holds: holding<number, { lowest: number; units: number }>(),
  name: 'give on landing',
  unit: '%L',
  mark: 'overshoot',
  keyPose: 'squash',
  say: ({ value, frames: at }, _, told) =>
    told?.side === -1 && told.judgement !== 'inside'
      ? `knees and hips hardly take up the landing: they go down by ${ofLeg(value)}`
      : `after landing the hips go down by ${ofLeg(value)}${atFrames(at)}`,
});
const SETTLE = describeReading({
  ...shared,
  id: 'jump.settle',
  about: 'timing',
  holds: holding<number>(),
  name: 'time to rest',
  unit: 'frames',
  needs: 'a jump that ends at rest',
  time: true,
  mark: 'overshoot',

  say: ({ value }) => `the body rests ${frames(value)} after it landed`,
});

export const JUMPS = [CROUCH, TAKEOFF, APEX, LANDING, AIR, RISE, GRAVITY, PARABOLA, SQUASH, SETTLE] as const;

export const JUMP_DEFAULTS = Object.freeze({
  /** A rise or fall of the hips under this is no crouch and no squash of its own, %L. */
  turn: 2,
  /** At rest: the hips stay within this share of the squash, or within so many %L. */
  settled: 0.05,
  settledLeast: 0.5,
  /** Before the shot's end, or the next jump, the hips must keep this still over four frames at 24 fps to be at rest, %L. */
  calm: 1.5,
  /** A body off its feet that falls at less than this share of gravity hangs or is carried: that is no jump. */
  held: 0.12,
  /** This share of a flight is left out of the fit at both ends, where feet still push or already land. */
  trim: 0.1,
});

/**
 * Every jump in the shot: when it leaves, tops and lands, how deep the body goes before and after, and whether the centre of mass falls as
 * things fall. Several jumps give several of each.
 */
export function measureJump(shot: PreparedShot): Measured {
  const all = findFlights(shot);
  if (typeof all === 'string') return none(all);
  if (all.length === 0) return none('the feet never leave the ground together');
  const joint = shot.roles.hips;
  const n = shot.motion.joints.length;
  const legless = isLegless(shot);
  const path = legless
    ? middlePath(shot)
    : centreOfMass(shot.motion.joints, shot.roles, shot.world, shot.motion.frames);
  const ofHips = joint === undefined ? undefined : heights(shot, (f) => 3 * (f * n + joint), shot.world.positions);
  // A body without hips crouches and squashes with its middle.
  const hips = legless ? heights(shot, (f) => 3 * f, path!) : ofHips;
  const mass = path && heights(shot, (f) => 3 * f, path);
  const flights = all.filter((flight) => !mass || !isHeld(shot, flight, mass));
  if (flights.length === 0) return none('off its feet the body does not fall: it hangs, or is carried');
  const readings: Reading[] = [];
  const unmade: Unmade[] = [];
  flights.forEach((flight, k) => {
    const jump = new Jump(shot, flight, flights[k - 1]?.landing ?? 0, flights[k + 1]?.takeoff);
    jump.times(mass);
    jump.fall(mass);
    jump.crouch(hips);
    jump.squash(hips);
    readings.push(...jump.readings);
    unmade.push(...jump.unmade);
  });
  return { readings, unmade };
}

const none = (why: string): Measured => refuse(JUMPS, why);

/** The middle of all joints at every sample: of a sack or a ball, about where its weight is. */
function middlePath({ motion, world }: PreparedShot): Float64Array {
  const n = motion.joints.length;
  const path = new Float64Array(3 * motion.frames);
  for (let f = 0; f < motion.frames; f++)
    for (let j = 0; j < n; j++)
      for (let c = 0; c < 3; c++) path[3 * f + c]! += world.positions[3 * (f * n + j) + c]! / n;
  return path;
}

/** Whether nobody has said how large a body without legs is: then how fast it should fall is not known. */
const hasNoSize = ({ scale }: PreparedShot): boolean =>
  !scale.fromLegs && Math.abs(scale.metresPerUnit * scale.legLength - ADULT_LEG_METRES) < 1e-9;

function heights({ motion, axes }: PreparedShot, at: (frame: number) => number, points: Float64Array): Float64Array {
  return sampled(motion.frames, (f) => {
    const k = at(f);
    return dot([points[k]!, points[k + 1]!, points[k + 2]!], axes.up);
  });
}

/** The parabola through the centre of mass in the air, the ends left out. */
function fitFlight(shot: PreparedShot, { takeoff, landing }: Flight, mass: Float64Array) {
  const from = takeoff ?? 0;
  const to = landing ?? shot.motion.frames - 1;
  let trim = Math.max(1, Math.round(JUMP_DEFAULTS.trim * (to - from)));
  if (to - from - 2 * trim + 1 < 5) trim = 0;
  const fit = fitParabola(mass.subarray(from + trim, to - trim + 1));
  const fall = fit && -2 * fit.bend * shot.fps ** 2 * shot.scale.metresPerUnit;
  return fit && { ...fit, from, to, vertex: from + trim + fit.vertex, peak: fit.at(fit.vertex), fall: fall! };
}

function isHeld(shot: PreparedShot, flight: Flight, mass: Float64Array): boolean {
  const fit = fitFlight(shot, flight, mass);
  return fit !== undefined && !hasNoSize(shot) && fit.fall < JUMP_DEFAULTS.held * STANDARD_GRAVITY;
}

/** One jump: its readings are gathered as they are made. */
class Jump {
  readonly readings: Reading[] = [];
  readonly unmade: Unmade[] = [];
  private readonly percent: number;

  constructor(
    private readonly shot: PreparedShot,
    private readonly flight: Flight,
    /** First sample that may belong to its crouch, and the next jump's take-off. */
    private readonly since: number,
    private readonly next: number | undefined,
  ) {
    this.percent = shot.scale.legLength / 100;
  }

  private at(samples: readonly number[]): { frames: number[] } {
    return { frames: samples.map((sample) => Math.round(labelOf(this.shot, sample))) };
  }

  private miss(why: string, ...kinds: AnyReadingKind[]): void {
    this.unmade.push(...refuse(kinds, why).unmade);
  }

  times(mass: Float64Array | undefined): void {
    const { takeoff, landing } = this.flight;
    const label = (sample: number): number => labelOf(this.shot, sample);
    if (takeoff === undefined) this.miss('the shot begins in the air', TAKEOFF, AIR);
    else this.readings.push(TAKEOFF.of(label(takeoff), this.at([takeoff])));
    if (landing === undefined) this.miss('the shot ends in the air', LANDING, AIR);
    else this.readings.push(LANDING.of(label(landing), this.at([landing])));
    if (takeoff !== undefined && landing !== undefined) {
      const [from, to] = [label(takeoff), label(landing)];
      this.readings.push(AIR.of(to - from, { ...this.at([takeoff, landing]), detail: { from, to } }));
    }
    if (!mass) this.miss(NO_MASS, APEX, RISE, GRAVITY, PARABOLA);
  }

  /** Apex, rise, gravity and parabola of the centre of mass. */
  fall(mass: Float64Array | undefined): void {
    if (!mass) return;
    const fit = fitFlight(this.shot, this.flight, mass);
    if (!fit) {
      this.miss('it is in the air for too few frames', APEX, RISE, GRAVITY, PARABOLA);
      return;
    }
    const { from, to, vertex } = fit;
    let top = from;
    for (let f = from; f <= to; f++) if (mass[f]! > mass[top]!) top = f;
    const within = fit.bend < 0 && vertex >= from && vertex <= to && Math.abs(vertex - top) <= 1.5;
    const apex = within ? vertex : top;
    const peak = within ? fit.peak : mass[top]!;
    this.readings.push(APEX.of(roundTo4(labelOf(this.shot, apex)), this.at([apex])));
    if (this.flight.takeoff === undefined) this.miss('the shot begins in the air', RISE);
    else {
      const units = peak - mass[from]!;
      this.readings.push(
        RISE.of(roundTo4(units / this.percent), { ...this.at([from, apex]), detail: { units: roundTo4(units) } }),
      );
    }
    const gravity = { ...this.at([from, to]), detail: { metresPerSecond2: roundTo4(fit.fall) } };
    this.readings.push(PARABOLA.of(roundTo4(fit.r2), this.at([from, to])));
    if (hasNoSize(this.shot))
      this.miss('how large it is in metres is not known, so neither is how fast it should fall', GRAVITY);
    else this.readings.push(GRAVITY.of(roundTo4(fit.fall / STANDARD_GRAVITY), gravity));
  }

  /** How far, and for how long, the hips go down before take-off. */
  crouch(hips: Float64Array | undefined): void {
    const { takeoff } = this.flight;
    if (!hips) return this.miss('the hips are not known; set the roles', CROUCH);
    if (takeoff === undefined || takeoff - this.since < 2)
      return this.miss('the shot begins with the take-off, or in the air', CROUCH);
    const { low, stand, from } = this.crouchBefore(hips, takeoff, this.since);
    const depth = Math.max(0, hips[stand]! - hips[low]!);
    let to = low;
    while (to < takeoff && hips[to]! < hips[stand]!) to++;
    const value = depth / this.percent;
    if (value < JUMP_DEFAULTS.turn / 2) {
      this.readings.push(CROUCH.of(roundTo4(value), { detail: { frames: 0 } }));
      return;
    }
    const label = (sample: number): number => labelOf(this.shot, sample);
    const detail = {
      from: label(from),
      to: label(to),
      frames: roundTo4(label(to) - label(from)),
      lowest: label(low),
      units: roundTo4(depth),
    };
    this.readings.push(CROUCH.of(roundTo4(value), { ...this.at([from, to]), detail }));
  }

  /** How deep the hips go after landing, and how long it takes until they rest. */
  squash(hips: Float64Array | undefined): void {
    const { landing } = this.flight;
    if (!hips) return this.miss('the hips are not known; set the roles', SQUASH, SETTLE);
    if (landing === undefined) return this.miss('the shot ends in the air', SQUASH, SETTLE);
    const end = this.next === undefined ? hips.length - 1 : this.crouchBefore(hips, this.next, landing).from;
    if (end - landing < 3) return this.miss('the shot ends with the landing', SQUASH, SETTLE);
    const low = this.turnFrom(hips, landing, 1, end, -1);
    const still = Math.max(3, Math.round(4 * (this.shot.fps / 24)));
    const last = hips.subarray(Math.max(low, end - still), end + 1);
    const rests = rangeOf(last) < JUMP_DEFAULTS.calm * this.percent;
    const rest = rests ? mean(last) : largestOf(hips.subarray(low, end + 1));
    const depth = Math.max(0, rest - hips[low]!);
    const label = labelOf(this.shot, low);
    this.readings.push(
      SQUASH.of(roundTo4(depth / this.percent), {
        ...(depth > 0 && this.at([low])),
        detail: { lowest: label, units: roundTo4(depth) },
      }),
    );
    if (!rests) return this.miss('the body is not at rest before the shot, or the next jump, goes on', SETTLE);
    const near = Math.max(JUMP_DEFAULTS.settled * depth, JUMP_DEFAULTS.settledLeast * this.percent);
    let settled = end;
    while (settled > landing && Math.abs(hips[settled - 1]! - rest) <= near) settled--;
    this.readings.push(SETTLE.of(roundTo4(framesIn(this.shot, settled - landing)), this.at([landing, settled])));
  }

  /** The last way down before a take-off: from where the hips stand, to their lowest, and where they begin to go. */
  private crouchBefore(
    hips: Float64Array,
    takeoff: number,
    since: number,
  ): { low: number; stand: number; from: number } {
    const low = this.turnFrom(hips, takeoff, -1, since, -1);
    const stand = this.turnFrom(hips, low, -1, since);
    let from = stand;
    while (from + 1 < low && hips[from + 1]! >= hips[stand]! - 0.05 * (hips[stand]! - hips[low]!)) from++;
    return { low, stand, from };
  }

  /** From a sample in one direction to where the hips are highest (`sign` 1; lowest: −1) before they clearly turn. */
  private turnFrom(hips: Float64Array, start: number, direction: 1 | -1, end: number, sign: 1 | -1 = 1): number {
    let best = start;
    for (let f = start; direction > 0 ? f <= end : f >= end; f += direction) {
      if (sign * hips[f]! > sign * hips[best]!) best = f;
      else if (sign * (hips[best]! - hips[f]!) > JUMP_DEFAULTS.turn * this.percent) break;
    }
    return best;
  }
}

const NO_MASS = 'the centre of mass needs the trunk and the thighs; set the roles';
