// npm run bench: ratios measured in one run, never bare times. Both sides of a ratio are run in turn, and their medians compared.
import { existsSync, readFileSync } from 'node:fs';
import { AnimationMixer } from 'three';
import { BVHLoader } from 'three/examples/jsm/loaders/BVHLoader.js';
import { onTheDesk } from './lib/bench-desk.mjs';
import { followingAgainstDecoding, picturesOnTheDesk } from './lib/bench-pictures.mjs';
import { onBenchSchool } from './lib/bench-school.mjs';
import { docketWhileReading } from './lib/bench-server.mjs';
import { build } from './lib/build.mjs';

await build();
const { readBvh } = await import('../packages/core/dist/formats/bvh/read-bvh.js');
const { writeBvh } = await import('../packages/core/dist/formats/bvh/write-bvh.js');
const { worldPose } = await import('../packages/core/dist/motion/pose.js');
const { prepareShot } = await import('../packages/core/dist/motion/prepare-shot.js');
const { measureReading, measureShot } = await import('../packages/core/dist/measure/registry.js');
const { makeRecipe } = await import('../packages/core/dist/remedy/recipe.js');
const { alignShots } = await import('../packages/core/dist/align/frame-map.js');
const { changesBetween } = await import('../packages/core/dist/align/change.js');
const { walkExemplar } = await import('../packages/core/dist/exemplar/walk.js');

const ROUNDS = 7;
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** Runs two pieces of work in turn and gives the ratio of their median times. */
function ratio(slow, fast) {
  const times = { slow: [], fast: [] };
  for (let round = 0; round < ROUNDS + 2; round++) {
    for (const [name, work] of [
      ['slow', slow],
      ['fast', fast],
    ]) {
      const start = performance.now();
      work();
      // The first two rounds warm both up.
      if (round >= 2) times[name].push(performance.now() - start);
    }
  }
  return median(times.slow) / median(times.fast);
}

/** A walk of many cycles on the exemplar's figure and as many more joints as are asked for. */
function longWalk(frames, joints) {
  const cycle = walkExemplar({ loop: 'follow' });
  const extra = Math.max(0, joints - cycle.joints.length);
  const all = [
    ...cycle.joints,
    ...Array.from({ length: extra }, (_, k) => ({
      name: `finger ${k}`,
      parent: 0,
      offset: [1, k, 0],
      ends: [[0, 1, 0]],
    })),
  ];
  const rotations = new Float64Array(4 * all.length * frames);
  const translations = new Float64Array(3 * frames);
  for (let f = 0; f < frames; f++) {
    const from = f % cycle.frames;
    const row = cycle.rotations.subarray(from * 4 * cycle.joints.length, (from + 1) * 4 * cycle.joints.length);
    rotations.set(row, f * 4 * all.length);
    for (let k = 0; k < extra; k++) rotations.set(row.subarray(4, 8), 4 * (f * all.length + cycle.joints.length + k));
    translations.set(cycle.translations.subarray(3 * from, 3 * from + 3), 3 * f);
  }
  return { ...cycle, joints: all, frames, rotations, translations };
}

function posedByThree(text) {
  const { skeleton, clip } = new BVHLoader().parse(text);
  const root = skeleton.bones[0];
  const mixer = new AnimationMixer(root);
  mixer.clipAction(clip).play();
  for (const time of clip.tracks[0].times) {
    mixer.setTime(time);
    root.updateMatrixWorld(true);
  }
}

const print = (what, value, wanted) => console.log(`${what.padEnd(78)} ${value.toFixed(2)}   (wanted: ${wanted})`);

const walk = writeBvh(longWalk(2700, 38));
const bytes = new TextEncoder().encode(walk);
const files = [['a walk of 2,700 frames × 38 joints', walk, bytes]];
for (const name of ['01_03.bvh', 'Boxing_Toes.bvh']) {
  const path = `/usr/share/assimp/models/BVH/${name}`;
  if (existsSync(path)) files.push([name, readFileSync(path, 'latin1'), readFileSync(path)]);
}
for (const [name, text, raw] of files) {
  const value = ratio(
    () => posedByThree(text),
    () => worldPose(readBvh(raw).motion),
  );
  print(`reading and posing ${name}: times as fast as three’s BVHLoader`, value, 'at least 6');
}

const { motion } = readBvh(bytes);
const parse = ratio(
  () => measureShot(prepareShot(motion, { kind: 'walk', loop: 'none' })),
  () => new BVHLoader().parse(walk),
);
print('every reading of that walk: multiple of three’s parsing', parse, 'at most 1');
const loop = ratio(
  () => measureShot(prepareShot(motion, { kind: 'walk', loop: 'follow' })),
  () => new BVHLoader().parse(walk),
);
print('the same, taken as one long loop', loop, 'at most 1.5');

/** Exponent of growth between two sizes: 1 is linear. */
const slope = (small, large, factor) => Math.log(ratio(large, small)) / Math.log(factor);
const work = (frames, joints) => {
  const m = longWalk(frames, joints);
  return () => measureShot(prepareShot(m, { kind: 'walk', loop: 'none' }));
};
print('growth of the cost with frames (exponent, 1,350 to 5,400)', slope(work(1350, 38), work(5400, 38), 4), 'about 1');
print(
  'growth of the cost with joints (exponent, 40 to 160)',
  slope(work(1350, 40), work(1350, 160), 4),
  'about 1 or less',
);

const other = longWalk(2700, 64);
const otherBytes = new TextEncoder().encode(writeBvh(other));
const read = () => {
  const shot = prepareShot(readBvh(otherBytes).motion, { kind: 'walk', loop: 'none' });
  return { shot, measured: measureShot(shot) };
};
const [first, second] = [read(), read()];
const compare = ratio(
  () => {
    const { map } = alignShots(first.shot, second.shot);
    changesBetween(first.measured, second.measured, map);
  },
  () => [read(), read()],
);
print('aligning and comparing two of 2,700 × 64: multiple of reading the two', compare, 'at most 3');

const asWalk = { kind: 'walk', loop: 'none' };
/** A parameter that is dragged: the figure with its own reading, and all that is measured, beside reading the shot once. */
function dragged(step, id, frames) {
  const m = longWalk(frames, 60);
  const shot = prepareShot(m, asWalk);
  const reads = () => measureShot(prepareShot(m, asWalk));
  const made = () => makeRecipe(shot, asWalk, [step]).shot;
  return { own: ratio(() => measureReading(made(), id), reads), all: ratio(() => measureShot(made()), reads) };
}
for (const [what, step, id] of [
  [
    'an arm’s swing',
    { remedy: 'amount', parameters: { quantity: 'swing', of: 'upperArm.L', factor: 0.8 } },
    'size.arm',
  ],
  ['a trunk’s lean', { remedy: 'amount', parameters: { quantity: 'lean', of: 'trunk', by: -5 } }, 'posture.lean'],
  ['a delay along an arm', { remedy: 'delay', parameters: { chain: 'arm.L', frames: 1 } }, 'lag.frames'],
  ['feet that are planted', { remedy: 'plant', parameters: {} }, 'gait.slide'],
]) {
  const { own, all } = dragged(step, id, 300);
  print(`${what} on 300 × 60, with its own reading: multiple of reading the shot`, own, 'at most 0.5');
  print(`the same, with every reading`, all, 'at most 1.5');
}
const planted = { remedy: 'plant', parameters: {} };
print(
  'feet that are planted: growth from 300 to 2,700 frames (exponent)',
  (() => {
    const [small, large] = [300, 2700].map((frames) => {
      const shot = prepareShot(longWalk(frames, 60), asWalk);
      return () => makeRecipe(shot, asWalk, [planted]);
    });
    return slope(small, large, 9);
  })(),
  'about 1',
);

print(
  'following a point through 240 frames of 1280×720: multiple of decoding them',
  await followingAgainstDecoding(),
  'at most 4',
);

const recording = writeBvh(longWalk(38_000, 38));
const megabytes = (recording.length / 1_048_576).toFixed(0);
await onBenchSchool(async (school) => {
  const waiting = await docketWhileReading(school, recording);
  print(
    `the docket while a recording of ${megabytes} MB is read: multiple of its usual time, median`,
    waiting.middle,
    'under 1.5',
  );
  print('the same, of the slow requests (95 of 100 are faster)', waiting.slow, 'under 1.5');
  const pictures = await picturesOnTheDesk(school);
  print('a frame backwards on a clip, key to picture: of a frame’s time, 95 of 100', pictures.back, 'at most 1.5');
  print('share of a clip’s pictures that has come at its first frame', pictures.fetched, 'under 0.10 of 100 MB');
  const desk = await onTheDesk(school, [writeBvh(longWalk(3, 38)), writeBvh(longWalk(270, 38)), walk]);
  const { short, long, firstFrame } = desk;
  print('the desk with every lens and lane, 2,700 frames × 38: ms of script a frame, median', long.script, 'under 4');
  print('the same: multiple of a shot of 270 frames', long.script / short.script, 'about 1');
  print(
    'the same: KB a frame that stay in memory, less those of a shot of 270 frames',
    (long.bytes - short.bytes) / 1024,
    'about 0',
  );
  print(
    'its first frame: multiple of what next to nothing on the desk, and the transfer, take',
    firstFrame,
    'under 1.5',
  );
});
