import type { BlendShape, Motion } from '../../motion/motion.ts';
import { LIMITS } from '../format-error.ts';
import type { GltfFigure } from './figures.ts';
import type { FrameGrid } from './frame-grid.ts';
import type { GltfJson } from './gltf-json.ts';
import { valueAt } from './interpolate.ts';
import type { Channel } from './scene.ts';

/** What a blend shape is called: as its mesh names it, else by its number. */
export function blendShapeName(json: GltfJson, mesh: number, shape: number): string {
  const named: unknown = json.meshes?.[mesh]?.extras?.targetNames?.[shape];
  return typeof named === 'string' && named.trim() !== '' ? named.trim().slice(0, LIMITS.name) : `shape ${shape + 1}`;
}

/** Blend shapes of what shows the figure, where one of them moves; by the names that its meshes give them. */
export function blendShapesOf(
  json: GltfJson,
  channels: readonly Channel[],
  { joints, skins }: GltfFigure,
  parents: Int32Array,
  { fps, from, frames }: FrameGrid,
): Pick<Motion, 'weights'> {
  const own = new Set(joints);
  const shows = (node: number): boolean => {
    if (skins.includes(json.nodes![node]!.skin ?? -1)) return true;
    for (let above = node; above >= 0; above = parents[above]!) if (own.has(above)) return true;
    return false;
  };
  const shapes = new Map<string, BlendShape>();
  for (const { node, path, keys } of channels) {
    if (path !== 'weights' || !shows(node)) continue;
    const mesh = json.nodes![node]!.mesh ?? -1;
    const at = new Float64Array(keys.width);
    const values = Array.from({ length: keys.width }, () => new Float64Array(frames));
    for (let f = 0; f < frames; f++) {
      valueAt(keys, from + f / fps, at);
      at.forEach((value, k) => (values[k]![f] = value));
    }
    values.forEach((list, k) => {
      const name = blendShapeName(json, mesh, k);
      // Lashes and brows of their own mesh go with the face's: one of a name is enough.
      if (!shapes.has(name) && list.some((value) => Math.abs(value - list[0]!) > 1e-4))
        shapes.set(name, { name, values: list });
    });
  }
  return shapes.size > 0 ? { weights: [...shapes.values()] } : {};
}
