import { AnimationMixer, type Bone, Vector3 } from 'three';
import { BVHLoader } from 'three/examples/jsm/loaders/BVHLoader.js';
import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { worldPose } from '../src/motion/pose.ts';
import { bytes, recording, walkText } from './fixtures.ts';

/** World positions of every joint at a frame, as three's loader and skeleton have them. */
function* posesOfThree(text: string, frames: readonly number[]): Generator<Vector3[]> {
  const { skeleton, clip } = new BVHLoader().parse(text);
  const joints = skeleton.bones.filter((bone) => bone.name !== 'ENDSITE');
  const root = skeleton.bones[0] as Bone;
  const mixer = new AnimationMixer(root);
  mixer.clipAction(clip).play();
  const times = clip.tracks[0]!.times;
  for (const frame of frames) {
    mixer.setTime(times[frame]!);
    root.updateMatrixWorld(true);
    yield joints.map((bone) => bone.getWorldPosition(new Vector3()));
  }
}

/**
 * The greatest distance between our joints and three's, over the figure's height (the largest extent of the first pose).
 * A frame of the motion's own: what the loader interpolates between frames is not compared.
 */
function greatestDifference(text: string, every: number): number {
  const { motion } = readBvh(bytes(text));
  const { positions } = worldPose(motion);
  // three's last key lies at the clip's end, where its mixer starts over.
  const frames = Array.from({ length: Math.ceil((motion.frames - 1) / every) }, (_, k) => k * every);
  const n = motion.joints.length;
  let worst = 0;
  let low = Infinity;
  let high = -Infinity;
  for (let j = 0; j < n; j++) {
    low = Math.min(low, positions[3 * j + 1]!);
    high = Math.max(high, positions[3 * j + 1]!);
  }
  let k = 0;
  for (const pose of posesOfThree(text, frames)) {
    const frame = frames[k++]!;
    expect(pose).toHaveLength(n);
    pose.forEach(({ x, y, z }, j) => {
      const at = 3 * (frame * n + j);
      worst = Math.max(worst, Math.hypot(positions[at]! - x, positions[at + 1]! - y, positions[at + 2]! - z));
    });
  }
  return worst / (high - low);
}

// Reference: three.js, BVHLoader and Skeleton (registry package three).
describe('the same pose as three’s BVHLoader and skeleton, to a thousandth of the figure’s height', () => {
  test('an exemplar walk', () => {
    expect(greatestDifference(walkText({}, { firstFrame: 0 }), 1)).toBeLessThan(1e-3);
  });

  test.each(['01_03.bvh', 'Boxing_Toes.bvh'] as const)('the recording %s', (name) => {
    expect(greatestDifference(recording(name).toString('latin1'), 150)).toBeLessThan(1e-3);
  });
});
