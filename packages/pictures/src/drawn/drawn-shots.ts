import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { BOLLARDS, type DrawnFigure, drawFigure, type DrawnPoints, pointsOf } from './drawn-figure.ts';
import { drawSack, MAIL_SACK, type MailSack, sackPoints } from './mail-sack.ts';

/** A shot that is drawn, frame by frame, with what is known of it. */
export interface DrawnShot {
  readonly fps: number;
  readonly frames: number;
  readonly width: number;
  readonly height: number;
  /** Which drawing each frame shows. */
  readonly drawings: readonly number[];
  /** The drawing that a frame shows, as SVG. */
  svg(frame: number): string;
  /** Where its points are at a frame, in the picture's pixels, y down. */
  points(frame: number): DrawnPoints;
}

export interface FigureShotOptions {
  /** Name of the exemplar it is drawn from. */
  readonly exemplar: string;
  readonly set?: Readonly<Record<string, number>>;
  readonly faults?: Readonly<Record<string, number>>;
  /** Frames each drawing stands. */
  readonly on?: number;
  /** Pixels a frame that the camera goes to the right. */
  readonly pan?: number;
  readonly cutOut?: boolean;
  readonly width?: number;
  readonly height?: number;
  readonly leg?: number;
}

/** The letter carrier, drawn from an exemplar as it is seen from its side. A loop is drawn without the frame that repeats its first. */
export function figureShot({
  exemplar,
  set,
  faults = {},
  on = 1,
  pan = 0,
  cutOut = false,
  width = 1280,
  height = 720,
  leg = 250,
}: FigureShotOptions): DrawnShot {
  const made = EXEMPLARS[exemplar]!;
  const shot = prepareShot(made.make({ ...set }, { ...faults }), { kind: made.kind });
  const frames = shot.loop === 'repeat' ? shot.motion.frames - 1 : shot.motion.frames;
  const drawn: DrawnFigure = { width, height, leg, ground: height - 90, cutOut, pan: (frame) => pan * frame };
  const drawings = Array.from({ length: frames }, (_, f) => Math.floor(f / on));
  // The drawing is the motion's first frame of it; the camera goes on underneath.
  const at = (frame: number): DrawnPoints => {
    const points = pointsOf(shot, drawings[frame]! * on, { ...drawn, pan: () => pan * frame });
    if (pan === 0) return points;
    const still = BOLLARDS.map((x) => x - pan * frame);
    return { ...points, 'bollard one': [still[1]!, drawn.ground - 14], 'bollard two': [still[2]!, drawn.ground - 14] };
  };
  return {
    fps: shot.fps,
    frames,
    width,
    height,
    drawings,
    points: at,
    svg: (frame) => drawFigure(at(frame), drawings[frame]!, drawn, pan * frame),
  };
}

/** The mail sack that bounces along the quay. */
export function sackShot(options: Partial<MailSack> = {}, frames = 60): DrawnShot {
  const sack = { ...MAIL_SACK, ...options };
  const drawings = Array.from({ length: frames }, (_, f) => f);
  return {
    fps: 24,
    frames,
    width: sack.width,
    height: sack.height,
    drawings,
    points: (frame) => sackPoints(frame, sack),
    svg: (frame) => drawSack(sackPoints(frame, sack), frame, sack),
  };
}
