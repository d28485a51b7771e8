import { readBvh } from '../src/formats/bvh/read-bvh.ts';
import { frameRate } from '../src/formats/bvh/frame-rate.ts';
import { FormatError } from '../src/formats/format-error.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { worldPose } from '../src/motion/pose.ts';
import { bytes, smallBvh, walkText } from './fixtures.ts';

const ROW = '1 2 3 10 20 30 0 0 0';
const read = (text: string) => readBvh(bytes(text));
const positionsOf = (text: string): number[] => Array.from(worldPose(read(text).motion).positions);

async function refusal(text: string | Uint8Array): Promise<FormatError> {
  try {
    await readMotion(typeof text === 'string' ? bytes(text) : text);
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
  throw new Error('the file was read');
}

describe('reading BVH', () => {
  test('a plain file', () => {
    const { motion, warnings } = read(smallBvh([ROW, ROW]));
    expect(motion.joints.map(({ name, parent }) => [name, parent])).toEqual([
      ['hips', -1],
      ['spine', 0],
    ]);
    expect(motion.frames).toBe(2);
    expect(motion.fps).toBe(24);
    expect(motion.joints[1]!.ends).toEqual([[0, 5, 0]]);
    expect(warnings).toEqual([]);
  });

  const plain = smallBvh([ROW]);
  test.each([
    ['lower case', plain.toLowerCase().replace(/position/g, 'position')],
    ['upper case', plain.toUpperCase().replace('HIPS', 'hips').replace('SPINE', 'spine')],
    ['CR LF line ends', plain.replace(/\n/g, '\r\n')],
    ['CR line ends', plain.replace(/\n/g, '\r')],
    ['tabs and trailing blanks', plain.replace(/ {2}/g, '\t').replace(/\n/g, '  \n')],
    ['a byte order mark', `\ufeff${plain}`],
    ['blank lines', plain.replace(/\n/g, '\n\n')],
    ['no line end at the end', plain.trimEnd()],
    ['braces on the name’s line', plain.replace(/\n\s*\{/g, ' {')],
    ['keywords without a colon', plain.replace('Frames:', 'Frames').replace('Frame Time:', 'Frame  Time')],
    ['numbers in other shapes', plain.replace(ROW, '1e0 +2 3.000 1.0E1 .2e2 30. -0 0e5 0')],
  ])('%s reads to the same motion', (_, text) => {
    expect(positionsOf(text)).toEqual(positionsOf(plain));
  });

  test('channels are applied in the order given, the first outermost', () => {
    // A quarter turn about Z, then about the turned X: the spine, 10 up, comes to lie along +X turned about … Z(90)·X(90)·(0,10,0) = Z(90)·(0,0,10).
    const zx = positionsOf(smallBvh(['0 0 0 90 90 0 0 0 0']));
    zx.slice(3).forEach((v, k) => expect(v).toBeCloseTo([0, 0, 10][k]!, 9));
    // The other way round: X(90)·Z(90)·(0,10,0) = X(90)·(−10,0,0).
    const xz = positionsOf(
      smallBvh(['0 0 0 90 90 0 0 0 0']).replace('Zrotation Xrotation Yrotation', 'Xrotation Zrotation Yrotation'),
    );
    xz.slice(3).forEach((v, k) => expect(v).toBeCloseTo([-10, 0, 0][k]!, 9));
  });

  test('a joint may have any number of channels, in any order, several roots, several end sites, and a name with blanks', () => {
    const { motion } = read(
      [
        'HIERARCHY',
        'ROOT left mast { OFFSET 0 1 0 CHANNELS 1 Yrotation End Site { OFFSET 0 1 0 } End Site { OFFSET 1 0 0 } }',
        'ROOT right mast { OFFSET 2 1 0 CHANNELS 4 Xrotation Yposition Zrotation Xrotation JOINT top { OFFSET 0 3 0 CHANNELS 0 } }',
        'MOTION Frames: 1 Frame Time: .04',
        '0 0 7 0 0',
      ].join('\n'),
    );
    expect(motion.joints.map(({ name }) => name)).toEqual(['left mast', 'right mast', 'top']);
    expect(motion.joints[0]!.ends).toHaveLength(2);
    expect(motion.fps).toBe(25);
    // Yposition 7 is nearer 1 than … nearer zero: neither x nor z has a channel, so they keep their offset.
    expect(Array.from(worldPose(motion).positions.slice(3))).toEqual([2, 7, 0, 2, 10, 0]);
  });

  test('names in another script are kept', () => {
    expect(read(smallBvh([ROW]).replace('spine', 'позвоночник')).motion.joints[1]!.name).toBe('позвоночник');
  });

  test('more or fewer rows than declared are used as they are, with a warning', () => {
    for (const declared of [1, 5]) {
      const { motion, warnings } = read(smallBvh([ROW, ROW, ROW], declared));
      expect(motion.frames).toBe(3);
      expect(warnings.join()).toContain(`declares ${declared} frames and holds 3`);
    }
  });

  test('a file that spreads every frame over several lines is read, with a warning', () => {
    const { motion, warnings } = read(smallBvh(['1 2 3', '10 20 30 0 0 0', '1 2 3', '10 20 30 0 0 0'], 2));
    expect(motion.frames).toBe(2);
    expect(warnings.join()).toContain('several lines');
  });

  test('position channels with and without the joint’s offset give the same pose', () => {
    const file = (y: number): string =>
      smallBvh([`0 0 0 0 0 0 0 ${y} 0 0 0 0`]).replace(
        'OFFSET 0 10 0\n    CHANNELS 3 Zrotation',
        'OFFSET 0 10 0\n    CHANNELS 6 Xposition Yposition Zposition Zrotation',
      );
    expect(positionsOf(file(10.5))[4]).toBeCloseTo(10.5);
    expect(positionsOf(file(0.5))[4]).toBeCloseTo(10.5);
    expect(read(file(0.5)).warnings.join()).toContain('added to the offset');
    expect(read(file(10.5)).warnings.join()).toContain('taken as including the offset');
  });

  test.each([
    ['0.0416667', 24],
    ['0.0417', 24],
    ['0.0333333', 30],
    ['0.033333', 30],
    ['0.04170833', 24000 / 1001],
    ['0.008333', 120],
    ['0.01', 100],
    ['1e-2', 100],
    ['0.5', 2],
  ])('a frame time of %s s is %d frames a second', (text, fps) => {
    expect(frameRate(text)).toBeCloseTo(fps, 2);
  });
});

describe('a file that can’t be read says where and what was expected', () => {
  const lines = (change: (text: string) => string): string => change(smallBvh([ROW, ROW]));
  test.each<[string, string, number | undefined, RegExp]>([
    ['not a BVH', 'Dear Ottoline,\nhere is my walk', 1, /HIERARCHY, found “Dear”: this is not a BVH/],
    ['empty', '', undefined, /empty/],
    [
      'a row too short',
      lines((t) => t.replace(`${ROW}\n${ROW}`, `${ROW}\n1 2 3\n${ROW}`)),
      20,
      /expected 9 numbers, found 3/,
    ],
    ['a row too long', lines((t) => t.replace(ROW, `${ROW} 4 5`)), 19, /expected 9 numbers, found 11/],
    [
      'cut within a row',
      smallBvh([ROW, ROW]).slice(0, -12),
      20,
      /expected 9 numbers, found \d: the file ends within a frame/,
    ],
    ['cut within the hierarchy', smallBvh([ROW]).slice(0, 60), undefined, /end of the file/],
    ['no frames', smallBvh([], 0), undefined, /holds no row/],
    ['a negative frame time', smallBvh([ROW], 1, '-0.04'), 18, /above 0 seconds, found -0.04/],
    ['a frame time of zero', smallBvh([ROW], 1, '0'), 18, /above 0/],
    ['a frame time that is no number', smallBvh([ROW], 1, 'nan'), 18, /a finite number, found “nan”/],
    ['not a number', lines((t) => t.replace('10 20 30', '10 twenty 30')), 19, /a number, found “twenty”/],
    ['a decimal comma', lines((t) => t.replace('10 20 30', '10 20,5 30')), 19, /a number, found “20,5”/],
    [
      'a value that is not finite',
      lines((t) => t.replace('10 20 30', '10 1e999 30')),
      19,
      /finite number, found “1e999”/,
    ],
    [
      'a joint without braces',
      lines((t) => t.replace('JOINT spine\n  {', 'JOINT spine\n')),
      8,
      /\{ after joint “spine/,
    ],
    ['an unknown channel', lines((t) => t.replace('3 Zrotation', '3 Zscale')), 9, /channel 1 of 3 of “spine”/],
    [
      'fewer channels than counted',
      lines((t) => t.replace('3 Zrotation Xrotation', '3 Zrotation')),
      10,
      /channel 3 of 3/,
    ],
    ['a position no figure is at', lines((t) => t.replace('10 20 30', '10 -2e9 30')), 19, /at most 1,000,000,000/],
    ['an angle of no turn', lines((t) => t.replace('10 20 30', '3000000000 20 30')), 19, /at most 1,000,000,000/],
    ['a frame time of a year', smallBvh([ROW], 1, '31536000'), 18, /from 0.001 to 1 seconds/],
    ['a frame time of nothing', smallBvh([ROW], 1, '0.0000001'), 18, /from 0.001 to 1 seconds/],
    [
      'a name of a page',
      lines((t) => t.replace('JOINT spine', `JOINT ${'s'.repeat(300)}`)),
      6,
      /at most 200 characters/,
    ],
    [
      'a number of a page',
      lines((t) => t.replace('10 20 30', `10 ${'0'.repeat(900)}1 30`)),
      19,
      /at most 64 characters/,
    ],
    [
      'a joint with a hundred ends',
      lines((t) => t.replace('End Site\n    {\n', `End Site\n    {\n${'OFFSET 0 1 0\n'.repeat(100)}`)),
      undefined,
      /more than 64 end sites/,
    ],
    ['half a frame count', smallBvh([ROW], 1.5), 17, /whole number of frames/],
    [
      'nothing that moves',
      'HIERARCHY\nROOT mast\n{\nOFFSET 0 0 0\n}\nMOTION\nFrames: 1\nFrame Time: 0.04\n',
      undefined,
      /no joint has a channel/,
    ],
  ])('%s', async (_, text, line, message) => {
    const error = await refusal(text);
    expect(error.message).toMatch(message);
    if (line !== undefined) expect(error.line).toBe(line);
  });

  test('archives and pictures that were renamed are called by their name', async () => {
    expect((await refusal(Uint8Array.of(0x50, 0x4b, 3, 4, 0, 0))).message).toContain('zip archive');
    expect((await refusal(Uint8Array.of(0x89, 0x50, 0x4e, 0x47))).message).toContain('PNG');
  });

  test('what is found is shown short and printable', async () => {
    const noise = Uint8Array.from({ length: 400 }, (_, k) => (k * 7) % 256 || 1);
    expect((await refusal(noise)).message.length).toBeLessThan(140);
  });

  test('sizes are bounded', async () => {
    expect((await refusal(new Uint8Array(64 * 1024 * 1024 + 1))).message).toContain('at most 64 MB');
    const joint = (k: number): string => `JOINT j${k} { OFFSET 0 1 0 CHANNELS 0 }\n`;
    const many = `HIERARCHY\nROOT r { OFFSET 0 0 0 CHANNELS 1 Xrotation\n${Array.from({ length: 2000 }, (_, k) => joint(k)).join('')}}\nMOTION\nFrames: 1\nFrame Time: 0.04\n0\n`;
    expect((await refusal(many)).message).toContain('more than 2,000 joints');
    const long = `HIERARCHY\nROOT r { OFFSET 0 0 0 CHANNELS 1 Xrotation }\nMOTION\nFrames: 9\nFrame Time: 0.04\n${'0\n'.repeat(100_001)}`;
    expect((await refusal(long)).message).toContain('more than 100,000 frames');
  });

  test('joints times frames are bounded before memory is spent on them: a small file can declare a huge motion', async () => {
    const rest = Array.from({ length: 1999 }, (_, k) => `JOINT j${k} { OFFSET 0 1 0 CHANNELS 0 }\n`).join('');
    const bomb = `HIERARCHY\nROOT r { OFFSET 0 0 0 CHANNELS 1 Xrotation\n${rest}}\nMOTION\nFrames: 99999\nFrame Time: 0.04\n${'0\n'.repeat(99_999)}`;
    expect((await refusal(bomb)).message).toContain('more than 10,000 frames of so many joints');
  });

  test('a declared number of frames is not believed before memory is spent on it', () => {
    expect(readBvh(bytes(smallBvh([ROW], 99_999_999))).motion.frames).toBe(1);
  });

  test('any prefix of a good file either reads or is refused with a message', () => {
    const text = walkText();
    for (let end = 0; end < text.length; end += 97) {
      try {
        readBvh(bytes(text.slice(0, end)));
      } catch (error) {
        expect(error).toBeInstanceOf(FormatError);
      }
    }
  });
});
