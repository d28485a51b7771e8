import { type Joint, restPositions, type ShapePiece } from '../../motion/motion.ts';

/** What is carried by several joints belongs to the one that carries this much of it. */
const MOSTLY = 0.5;
/** Of fewer vertices on a side nothing is said of it. */
const FEW = 4;
/** So much of what lies on a side lies nearer than what is told: cloth and hair hang outside of the body, and are not it. */
const NEARER = 0.4;

/**
 * How thick a character is about each joint: six numbers a joint, how far the body that the joint carries reaches from it along −x, +x, −y, +y, −z and +z
 * while the figure rests, in the file's units, by the vertices that lie more along that axis than along another; zero where they are too few.
 */
export function girthsOf(pieces: readonly ShapePiece[], joints: readonly Joint[]): Float64Array {
  const rest = restPositions(joints);
  const sides = Array.from({ length: 6 * joints.length }, (): number[] => []);
  for (const { positions, joints: by, weights } of pieces)
    for (let v = 0; 3 * v < positions.length; v++)
      for (let n = 4 * v; n < 4 * v + 4; n++) {
        if (weights[n]! < MOSTLY) continue;
        const joint = by[n]!;
        let [axis, far] = [0, 0];
        for (let c = 0; c < 3; c++) {
          const own = positions[3 * v + c]! - rest[3 * joint + c]!;
          if (Math.abs(own) > Math.abs(far)) [axis, far] = [c, own];
        }
        sides[6 * joint + 2 * axis + (far > 0 ? 1 : 0)]!.push(far);
        break;
      }
  return Float64Array.from(sides, (own) =>
    own.length < FEW ? 0 : own.sort((a, b) => Math.abs(a) - Math.abs(b))[Math.floor(NEARER * own.length)]!,
  );
}
