import { centreOfMass } from '../../motion/centre-of-mass.ts';
import { STANDARD_GRAVITY } from '../../motion/figure-scale.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { dot, largestOf, mean, rangeOf } from '../../motion/vector.ts';
import { findFlights, type Flight } from './flights.ts';
import { fitParabola } from '../../signal/parabola.ts';
import { type Measured, type Reading, tidy, type Unmade } from '../reading.ts';

export const JUMP_IDS = [
  'jump.crouch',
  'jump.takeoff',
  'jump.apex',
  'jump.landing',
  'jump.air',
  'jump.rise',
  'jump.gravity',
  'jump.parabola',
  'jump.squash',
  'jump.settle',
] as const;
type JumpId = (typeof JUMP_IDS)[number];

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
  const hips = joint === undefined ? undefined : heights(shot, (f) => 3 * (f * n + joint), shot.world.positions);
  const path = centreOfMass(shot.motion.joints, shot.roles, shot.world, shot.motion.frames);
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

const none = (why: string): Measured => ({ readings: [], unmade: JUMP_IDS.map((id) => ({ id, why })) });

function heights({ motion, axes }: PreparedShot, at: (frame: number) => number, points: Float64Array): Float64Array {
  return Float64Array.from({ length: motion.frames }, (_, f) => {
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
  return fit !== undefined && fit.fall < JUMP_DEFAULTS.held * STANDARD_GRAVITY;
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

  private put(id: JumpId, value: number, unit: string, at: readonly number[], detail?: Record<string, unknown>): void {
    const frames = at.map((sample) => labelOf(this.shot, sample));
    this.readings.push({ id, value: tidy(value), unit, frames, ...(detail && { detail }) });
  }

  private miss(why: string, ...ids: JumpId[]): void {
    this.unmade.push(...ids.map((id) => ({ id, why })));
  }

  times(mass: Float64Array | undefined): void {
    const { takeoff, landing } = this.flight;
    const label = (sample: number): number => labelOf(this.shot, sample);
    if (takeoff === undefined) this.miss('the shot begins in the air', 'jump.takeoff', 'jump.air');
    else this.put('jump.takeoff', label(takeoff), 'frames', [takeoff]);
    if (landing === undefined) this.miss('the shot ends in the air', 'jump.landing', 'jump.air');
    else this.put('jump.landing', label(landing), 'frames', [landing]);
    if (takeoff !== undefined && landing !== undefined)
      this.put('jump.air', landing - takeoff, 'frames', [takeoff, landing], {
        from: label(takeoff),
        to: label(landing),
      });
    if (!mass) this.miss(NO_MASS, 'jump.apex', 'jump.rise', 'jump.gravity', 'jump.parabola');
  }

  /** Apex, rise, gravity and parabola of the centre of mass. */
  fall(mass: Float64Array | undefined): void {
    if (!mass) return;
    const fit = fitFlight(this.shot, this.flight, mass);
    if (!fit) {
      this.miss('it is in the air for too few frames', 'jump.apex', 'jump.rise', 'jump.gravity', 'jump.parabola');
      return;
    }
    const { from, to, vertex } = fit;
    let top = from;
    for (let f = from; f <= to; f++) if (mass[f]! > mass[top]!) top = f;
    const within = fit.bend < 0 && vertex >= from && vertex <= to && Math.abs(vertex - top) <= 1.5;
    const apex = within ? vertex : top;
    const peak = within ? fit.peak : mass[top]!;
    this.put('jump.apex', this.shot.firstFrame + apex, 'frames', [Math.round(apex)]);
    if (this.flight.takeoff === undefined) this.miss('the shot begins in the air', 'jump.rise');
    else
      this.put('jump.rise', (peak - mass[from]!) / this.percent, '%L', [from, Math.round(apex)], {
        units: tidy(peak - mass[from]!),
      });
    const detail = { metresPerSecond2: tidy(fit.fall) };
    this.put('jump.gravity', fit.fall / STANDARD_GRAVITY, 'ratio', [from, to], detail);
    this.put('jump.parabola', fit.r2, '0…1', [from, to]);
  }

  /** How far, and for how long, the hips go down before take-off. */
  crouch(hips: Float64Array | undefined): void {
    const { takeoff } = this.flight;
    if (!hips) return this.miss('the hips are not known; set the roles', 'jump.crouch');
    if (takeoff === undefined || takeoff - this.since < 2)
      return this.miss('the shot begins with the take-off, or in the air', 'jump.crouch');
    const { low, stand, from } = this.crouchBefore(hips, takeoff, this.since);
    const depth = Math.max(0, hips[stand]! - hips[low]!);
    let to = low;
    while (to < takeoff && hips[to]! < hips[stand]!) to++;
    const value = depth / this.percent;
    if (value < JUMP_DEFAULTS.turn / 2) return this.put('jump.crouch', value, '%L', [], { frames: 0 });
    const label = (sample: number): number => labelOf(this.shot, sample);
    const detail = { from: label(from), to: label(to), frames: to - from, lowest: label(low), units: tidy(depth) };
    this.put('jump.crouch', value, '%L', [from, to], detail);
  }

  /** How deep the hips go after landing, and how long it takes until they rest. */
  squash(hips: Float64Array | undefined): void {
    const { landing } = this.flight;
    if (!hips) return this.miss('the hips are not known; set the roles', 'jump.squash', 'jump.settle');
    if (landing === undefined) return this.miss('the shot ends in the air', 'jump.squash', 'jump.settle');
    const end = this.next === undefined ? hips.length - 1 : this.crouchBefore(hips, this.next, landing).from;
    if (end - landing < 3) return this.miss('the shot ends with the landing', 'jump.squash', 'jump.settle');
    const low = this.turnFrom(hips, landing, 1, end, -1);
    const still = Math.max(3, Math.round(4 * (this.shot.fps / 24)));
    const last = hips.subarray(Math.max(low, end - still), end + 1);
    const rests = rangeOf(last) < JUMP_DEFAULTS.calm * this.percent;
    const rest = rests ? mean(last) : largestOf(hips.subarray(low, end + 1));
    const depth = Math.max(0, rest - hips[low]!);
    const label = labelOf(this.shot, low);
    this.put('jump.squash', depth / this.percent, '%L', depth > 0 ? [low] : [], { lowest: label, units: tidy(depth) });
    if (!rests) return this.miss('the body is not at rest before the shot, or the next jump, goes on', 'jump.settle');
    const near = Math.max(JUMP_DEFAULTS.settled * depth, JUMP_DEFAULTS.settledLeast * this.percent);
    let settled = end;
    while (settled > landing && Math.abs(hips[settled - 1]! - rest) <= near) settled--;
    this.put('jump.settle', settled - landing, 'frames', [landing, settled]);
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
