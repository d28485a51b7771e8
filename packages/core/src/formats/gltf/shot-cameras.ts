import type { Motion, ShotCamera } from '../../motion/motion.ts';
import { multiply, type Quat, rotate } from '../../motion/quaternion.ts';
import { LIMITS } from '../format-error.ts';
import { originOf, turnOf } from './affine.ts';
import type { FrameGrid } from './frame-grid.ts';
import type { GltfJson } from './gltf-json.ts';
import { type Channel, Scene } from './scene.ts';

/** Cameras that the scene holds, where they are at every frame. @param sceneTurn the turn that the scene was stood up by */
export function camerasOf(
  json: GltfJson,
  channels: readonly Channel[],
  parents: Int32Array,
  { fps, from, frames }: FrameGrid,
  sceneTurn: Quat | undefined,
): Pick<Motion, 'cameras'> {
  const nodes = (json.nodes ?? []).flatMap(({ camera }, k) => (camera === undefined ? [] : [k]));
  if (nodes.length === 0 || nodes.length * frames > LIMITS.poses / 10) return {};
  const scene = new Scene(json, parents, nodes, channels);
  const cameras = nodes.map((node): ShotCamera => {
    const lens = json.cameras![json.nodes![node]!.camera!]!;
    const sees = lens.perspective
      ? { degrees: (lens.perspective.yfov * 180) / Math.PI }
      : { units: 2 * lens.orthographic!.ymag };
    const aspect =
      lens.perspective?.aspectRatio ?? (lens.orthographic && lens.orthographic.xmag / lens.orthographic.ymag);
    return {
      name: json.nodes![node]!.name?.trim() || lens.name?.trim() || 'camera',
      positions: new Float64Array(3 * frames),
      rotations: new Float64Array(4 * frames),
      sees,
      ...(aspect !== undefined && aspect > 0 && Number.isFinite(aspect) && { aspect }),
    };
  });
  for (let f = 0; f < frames; f++) {
    scene.at(from + f / fps);
    nodes.forEach((node, k) => {
      const [place, turned] = [originOf(scene.world(node)), turnOf(scene.world(node))];
      cameras[k]!.positions.set(sceneTurn ? rotate(sceneTurn, place) : place, 3 * f);
      cameras[k]!.rotations.set(sceneTurn ? multiply(sceneTurn, turned) : turned, 4 * f);
    });
  }
  return { cameras };
}
