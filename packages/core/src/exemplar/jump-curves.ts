import { monotoneCurve } from './curve.ts';
import type { JumpFaults, JumpOptions } from './jump-options.ts';

/** Lean of the trunk over a jump, degrees: into the crouch, stretched in the air, down with the squash, and up again. */
export function jumpLean(options: JumpOptions, faults: JumpFaults, landing: number): (t: number) => number {
  const { takeoff } = options;
  const crouch = 1 - (faults.noCrouch ?? 0);
  const squash = 1 - (faults.noSquash ?? 0);
  const settle = 1 + (faults.slowSettle ?? 0);
  return monotoneCurve([
    [6, 3],
    [takeoff - 6, 3 + 37 * crouch],
    [takeoff, 8],
    [takeoff + 3, 5],
    [landing - 3, 14],
    [landing, 18],
    [landing + 5, 18 + 24 * squash],
    [landing + 5 + 7 * settle, 1],
    [landing + 5 + 12 * settle, 3],
  ]);
}

/** Swing of the arms over a jump, degrees: back in the crouch, up with the take-off, down through the landing. */
export function jumpArms(options: JumpOptions, faults: JumpFaults, landing: number): (t: number) => number {
  const { takeoff } = options;
  const settle = 1 + (faults.slowSettle ?? 0);
  return monotoneCurve([
    [5, 2],
    [takeoff - 5, -48],
    [takeoff + 1, 112],
    [takeoff + 4, 124],
    [landing, 62],
    [landing + 5, 20],
    [landing + 5 + 6 * settle, -7],
    [landing + 5 + 12 * settle, 2],
  ]);
}
