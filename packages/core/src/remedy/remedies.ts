import { AMOUNT } from './amount.ts';
import { ANTICIPATE } from './anticipate.ts';
import { ARC } from './arc.ts';
import { CLOSE } from './close.ts';
import { DELAY } from './delay.ts';
import { FALL } from './fall.ts';
import { FAVOUR } from './favour.ts';
import { FIT } from './fit.ts';
import { HOLD } from './hold.ts';
import { MIRROR } from './mirror.ts';
import { OPPOSE } from './oppose.ts';
import { OVER } from './over.ts';
import { OVERSHOOT } from './overshoot.ts';
import { PLANT } from './plant.ts';
import { POSE } from './pose.ts';
import type { Remedy } from './remedy.ts';
import { RESPACE } from './respace.ts';
import { RETIME } from './retime.ts';
import { SMOOTH } from './smooth.ts';
import { STEADY } from './steady.ts';
import { TRIM } from './trim.ts';

/** Every remedy there is. Adding one is a file and a line here. */
export const REMEDIES: readonly Remedy[] = [
  HOLD,
  RETIME,
  RESPACE,
  FAVOUR,
  DELAY,
  AMOUNT,
  ARC,
  SMOOTH,
  STEADY,
  PLANT,
  FIT,
  OVER,
  MIRROR,
  CLOSE,
  ANTICIPATE,
  OVERSHOOT,
  FALL,
  OPPOSE,
  TRIM,
  POSE,
];

/** A remedy by its id; undefined where there is none of that name. */
export const remedyOf = (id: string): Remedy | undefined => REMEDIES.find((own) => own.id === id);
