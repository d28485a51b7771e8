// Files of motions that were changed at random: each is read with finite numbers, or refused in words; none crashes the reader, keeps it, or makes a
// reading that is no number.
const { characterFile } = await import('../../packages/core/dist/exemplar/character.js');
const { puppetFile } = await import('../../packages/core/dist/exemplar/puppet.js');
const { EXEMPLARS } = await import('../../packages/core/dist/exemplar/exemplars.js');
const { FormatError } = await import('../../packages/core/dist/formats/format-error.js');
const { readMotion } = await import('../../packages/core/dist/formats/read-motion.js');
const { writeBvh } = await import('../../packages/core/dist/formats/bvh/write-bvh.js');
const { reportShot } = await import('../../packages/core/dist/measure/report.js');
const { prepareShot } = await import('../../packages/core/dist/motion/prepare-shot.js');

/** So many files of each format. */
const FILES = 10_000;
/** Every so many files that are read, all of them are measured as well. */
const MEASURED = 25;
const SLOW_MS = 20_000;

/** A text of JSON with one of its numbers changed, so that what it says is wrong and not only what it is written with. */
function retoldText(text, random) {
  const numbers = [...text.matchAll(/-?\d+(\.\d+)?/g)];
  const { 0: old, index } = numbers[Math.floor(random() * numbers.length)];
  const other = ['-1', '0', '1', '255', '65536', '4294967295', '1e9', '1e308', 'null', '"x"', '[]', '0.5'];
  return `${text.slice(0, index)}${other[Math.floor(random() * other.length)]}${text.slice(index + old.length)}`;
}

/** A `.glb` whose JSON is changed. */
function retoldGlb(bytes, random) {
  const length = bytes.readUInt32LE(12);
  const own = retoldText(bytes.subarray(20, 20 + length).toString('utf8'), random);
  const json = Buffer.from(own.padEnd(Math.ceil(Buffer.byteLength(own) / 4) * 4));
  const made = Buffer.concat([bytes.subarray(0, 20), json, bytes.subarray(20 + length)]);
  made.writeUInt32LE(made.length, 8);
  made.writeUInt32LE(json.length, 12);
  return made;
}

function changed(bytes, random) {
  const own = Buffer.from(bytes);
  const kind = random();
  if (kind < 0.1) return own.subarray(0, Math.floor(random() * own.length));
  for (let k = 0; k <= random() * 8; k++) own[Math.floor(random() * own.length)] = Math.floor(random() * 256);
  return own;
}

const retold = {
  glTF: retoldGlb,
  Lottie: (bytes, random) => Buffer.from(retoldText(bytes.toString('utf8'), random)),
};

/** @returns what was found, in words, or why it fails */
export async function mutatedFiles({ expectThat, random }) {
  const take = EXEMPLARS.take.make({}, {});
  const sources = {
    glTF: Buffer.from(
      await characterFile(take, {
        ...{ metresPerUnit: 0.01, keys: [0, 12, 24, 36, 48, 60, 71] },
        face: { 'blink.L': [[3, 0], [6, 1], [9, 0]] }, // prettier-ignore
        lamp: { hand: 'hand.R', slides: 0.05 },
      }),
    ),
    Lottie: Buffer.from(puppetFile(prepareShot(take), { keys: [0, 12, 24, 36, 48, 60, 71] })),
    BVH: Buffer.from(writeBvh(EXEMPLARS.walk.make({}, {}))),
  };
  for (const [format, bytes] of Object.entries(sources)) {
    let [read, refused, slowest] = [0, 0, 0];
    const wrong = [];
    for (let k = 0; k < FILES; k++) {
      const own = random() < 0.6 ? (retold[format]?.(bytes, random) ?? changed(bytes, random)) : changed(bytes, random);
      const begun = performance.now();
      try {
        const { motion } = await readMotion(own, { usualFps: 24, withShape: true });
        if (![motion.rotations, motion.translations].every((list) => list.every(Number.isFinite)))
          wrong.push(`file ${k}: a motion that is not finite`);
        if (read++ % MEASURED === 0 && motion.frames < 500) {
          const { readings } = reportShot(prepareShot(motion, { kind: 'any' }), { file: '', format: '', warnings: [] });
          const bad = readings.find(({ value }) => typeof value === 'number' && !Number.isFinite(value));
          if (bad) wrong.push(`file ${k}: ${bad.id} is ${bad.value}`);
        }
      } catch (error) {
        if (error instanceof FormatError) refused++;
        else wrong.push(`file ${k}: ${error?.stack?.split('\n').slice(0, 2).join(' ') ?? error}`);
      }
      slowest = Math.max(slowest, performance.now() - begun);
    }
    const told = `${read} read, ${refused} refused, the slowest ${(slowest / 1000).toFixed(1)} s`;
    expectThat(
      `${FILES} changed files of ${format} are read or refused`,
      wrong.length === 0,
      `${told}${wrong.length > 0 ? `; ${wrong.slice(0, 5).join('; ')}` : ''}`,
    );
    expectThat(`no changed file of ${format} keeps its reader`, slowest < SLOW_MS, `${(slowest / 1000).toFixed(1)} s`);
  }
}
