import { type Joint, restPositions, type ShapePiece } from '../../motion/motion.ts';

/** What is carried by several joints belongs to the one that carries this much of it. */
const MOSTLY = 0.5;
/** Of fewer vertices nothing is said. */
const FEW = 12;
/** Loose ends of hair and cloth count for nothing: this share of the vertices, on each side. */
const LOOSE = 0.05;

/**
 * How thick a character is about each joint: six numbers a joint, how far what the joint carries reaches from it along −x, +x, −y, +y, −z and +z while the
 * figure rests, in the file's units; all zero of a joint that carries too little.
 */
export function girthsOf(pieces: readonly ShapePiece[], joints: readonly Joint[]): Float64Array {
  const rest = restPositions(joints);
  const carried = joints.map((): [number[], number[], number[]] => [[], [], []]);
  for (const { positions, joints: by, weights } of pieces)
    for (let v = 0; 3 * v < positions.length; v++)
      for (let n = 4 * v; n < 4 * v + 4; n++) {
        if (weights[n]! < MOSTLY) continue;
        const joint = by[n]!;
        for (let c = 0; c < 3; c++) carried[joint]![c]!.push(positions[3 * v + c]! - rest[3 * joint + c]!);
        break;
      }
  const girths = new Float64Array(6 * joints.length);
  carried.forEach((own, joint) => {
    if (own[0].length < FEW) return;
    own.forEach((values, c) => {
      const order = Float64Array.from(values).sort();
      const loose = Math.floor(LOOSE * order.length);
      girths[6 * joint + 2 * c] = order[loose]!;
      girths[6 * joint + 2 * c + 1] = order[order.length - 1 - loose]!;
    });
  });
  return girths;
}
