/** How the jump is made. Lengths percent of leg length, frames at 24 fps. */
export interface JumpOptions {
  /** Frames of the shot at its own rate. */
  readonly length: number;
  readonly fps: number;
  /** How far the centre of mass rises from take-off. */
  readonly rise: number;
  /** How far the feet land ahead, and below, where they left. */
  readonly distance: number;
  readonly drop: number;
  /** How deep the hips go before take-off, and after landing. */
  readonly crouch: number;
  readonly squash: number;
  /** Frame of a jump's take-off, counted from its own start. */
  readonly takeoff: number;
  /** How many jumps, one after the other, each as long as the shot. */
  readonly jumps: number;
}

/** A hop down from the quay onto a moored barge. */
export const JUMP_DEFAULTS: JumpOptions = Object.freeze({
  length: 60,
  fps: 24,
  rise: 34,
  distance: 105,
  drop: 16,
  crouch: 27,
  squash: 30,
  takeoff: 22,
  jumps: 1,
});

/** What can be wrong with a jump, each with its size. */
export interface JumpFaults {
  /** Share of gravity that is missing: 0.5 falls at half the rate. */
  readonly floats?: number;
  /** The body hangs at the top: how much slower its time goes there, 0 to 1. */
  readonly hang?: number;
  /** 1: no crouch before take-off. */
  readonly noCrouch?: number;
  /** 1: the landing is not taken up by the knees. */
  readonly noSquash?: number;
  /** The body comes to rest so many times as late after landing, less one. */
  readonly slowSettle?: number;
  /** The right forearm is off by so many degrees for one frame. */
  readonly pop?: number;
  /** 1: strap and bag move with the chest, with no drag. */
  readonly noDrag?: number;
  /** 1: nothing moves any more once the body has come to rest. */
  readonly deadHold?: number;
}

export const JUMP_FAULTS = [
  'floats',
  'hang',
  'noCrouch',
  'noSquash',
  'slowSettle',
  'pop',
  'noDrag',
  'deadHold',
] as const satisfies readonly (keyof JumpFaults)[];
