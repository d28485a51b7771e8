import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { ClipError } from '@ypsigraph/pictures/clip-error';
import { type ClipIndex, PACK } from '@ypsigraph/pictures/clip-index';
import { checkClip } from '@ypsigraph/pictures/check-clip';
import { readClip } from '@ypsigraph/pictures/read-clip';
import { runTool, TOOL_LIMITS } from '@ypsigraph/pictures/run-tool';
import { clipFolder, encode, FORMATS, numbered, numberOf, SIZE, zip } from './clips.ts';

const clips = clipFolder();
afterAll(clips.end);
let folders = 0;

async function read(path: string, fps = 24): Promise<{ index: ClipIndex; numbers: number[] }> {
  const folder = clips.path(`read-${folders++}`);
  mkdirSync(folder);
  const index = await readClip(path, { folder, fps, fileName: path.split('/').at(-1)! });
  const pack = readFileSync(`${folder}/${PACK}`);
  const numbers: number[] = [];
  let at = 0;
  for (const size of index.sizes) {
    const grey = await sharp(pack.subarray(at, at + size))
      .greyscale()
      .raw()
      .toBuffer();
    numbers.push(numberOf(grey, index.shown));
    at += size;
  }
  return { index, numbers: index.pictures.map((picture) => numbers[picture]!) };
}

const counting = (frames: number): number[] => Array.from({ length: frames }, (_, k) => k + 1);
const drawings = (numbers: readonly number[]) => numbers.map((k) => numbered(k));
const png = async (grey: Uint8Array, { width, height } = SIZE): Promise<Uint8Array> =>
  sharp(grey, { raw: { width, height, channels: 1 } })
    .png()
    .toBuffer();

describe('every frame of a clip is the frame of the file', () => {
  test.each(FORMATS)('%s: frame n carries the number n, at the rate it was made at', async (_, file, args) => {
    const path = encode(clips.path(file), drawings(counting(50)), { args });
    const { index, numbers } = await read(path);
    expect(numbers).toEqual(counting(50));
    expect(index).toMatchObject({ frames: 50, fps: 24, ...SIZE, warnings: [] });
    expect(index.exposures).toHaveLength(50);
  });

  test('as many frames as ffmpeg itself decodes, and the same of them alike (framemd5)', async () => {
    // A doubled frame, coded without loss: its sum comes twice.
    const path = encode(clips.path('twice.mp4'), drawings([1, 2, 3, 3, 4, 5, 6, 7]), {
      args: ['-c:v', 'libx264', '-qp', '0', '-bf', '2'],
    });
    const said = spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'framemd5', '-']);
    const sums = String(said.stdout)
      .split('\n')
      .filter((line) => line !== '' && !line.startsWith('#'))
      .map((line) => line.split(',').at(-1)!.trim());
    const { index } = await read(path);
    expect(index.frames).toBe(sums.length);
    const alike = sums.map((sum, k) => (k > 0 && sums[k - 1] === sum ? k : -1)).filter((k) => k >= 0);
    expect(alike).toEqual([3]);
    expect(index.exposures.filter(({ from, to }) => to > from)).toEqual([{ from: 2, to: 3 }]);
  });

  test('drawings in an archive go by their numbers, whatever their order and folder', async () => {
    const files = await Promise.all(
      [10, 2, 1, 9].map(async (k) => [`scene 3/drawing_${k}.png`, await png(numbered(k))] as const),
    );
    const { index, numbers } = await read(
      zip(clips.path('drawings.zip'), [...files, ['notes.txt', Buffer.from('hello')]]),
      12,
    );
    // The numbers say which frame each is on: what is missing is held, and said.
    expect(numbers).toEqual([1, 2, 2, 2, 2, 2, 2, 2, 9, 10]);
    expect(index.fps).toBe(12);
    expect(index.warnings.join(' ')).toMatch(/3–8 are missing.*notes\.txt/s);
  });

  test('a phone held upright: the picture is turned as it is to be seen', async () => {
    const flat = encode(clips.path('flat.mp4'), drawings(counting(6)), {
      args: ['-c:v', 'libx264', '-pix_fmt', 'yuv420p'],
    });
    const upright = clips.path('upright.mp4');
    const { status } = spawnSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-i',
      flat,
      '-c',
      'copy',
      '-metadata:s:v:0',
      'rotate=90',
      upright,
    ]);
    expect(status).toBe(0);
    const { index } = await read(upright);
    expect(index).toMatchObject({ width: SIZE.height, height: SIZE.width, frames: 6 });
  });

  test('pictures that last differently long stand as long as they are seen, and it is said', async () => {
    const path = clips.path('uneven.webm');
    // Each picture at the time of frame 0, 2, 3, 6, 7, 8 of 24 a second.
    encode(path, drawings(counting(6)), {
      args: [
        ...['-vf', "setpts='if(eq(N,0),0,if(eq(N,1),2,if(eq(N,2),3,N+3)))/24/TB'"],
        ...['-fps_mode', 'passthrough', '-c:v', 'libvpx', '-b:v', '1M'],
      ],
    });
    const { index, numbers } = await read(path);
    expect(numbers.slice(0, 9)).toEqual([1, 1, 2, 3, 3, 3, 4, 5, 6]);
    expect(index.fps).toBe(24);
    expect(index.warnings.join(' ')).toMatch(/last differently long.*24 frames a second/);
  });
});

test('what is transparent lies on white paper', async () => {
  const [width, height] = [32, 16];
  const clear = await sharp({ create: { width, height, channels: 4, background: { r: 0, g: 0, b: 0, alpha: 0 } } })
    .png()
    .toBuffer();
  const folder = clips.path('clear');
  mkdirSync(folder);
  const path = zip(clips.path('clear.zip'), [
    ['1.png', clear],
    ['2.png', clear],
  ]);
  const index = await readClip(path, { folder, fps: 24, fileName: 'clear.zip' });
  const pack = readFileSync(`${folder}/${PACK}`);
  const { dominant } = await sharp(pack.subarray(0, index.sizes[0])).stats();
  expect(Math.min(dominant.r, dominant.g, dominant.b)).toBeGreaterThan(240);
});

test('a decoder that hangs is ended, and it is said', async () => {
  const endless = ['-f', 'lavfi', '-i', 'testsrc', '-f', 'null', '-'];
  const limits = { ...TOOL_LIMITS, seconds: 1 };
  await expect(runTool('ffmpeg', endless, { limits })).rejects.toThrow(/takes longer than 1 seconds to decode/);
});

describe('a clip that can’t be taken is refused in words', () => {
  const make = (name: string, bytes: Uint8Array | string): string => {
    writeFileSync(clips.path(name), bytes);
    return clips.path(name);
  };
  const refusal = async (path: string): Promise<string> => {
    const told = await checkClip(path, path.split('/').at(-1)!)
      .then(() => read(path))
      .then(
        () => 'taken',
        (error: unknown) => {
          if (!(error instanceof ClipError)) throw error;
          return error.message;
        },
      );
    return told;
  };

  test('what is named as a clip and is none', async () => {
    expect(await refusal(make('a.mp4', 'not a clip at all'))).toMatch(/called \.mp4, but no such clip is in it/);
    expect(await refusal(make('b.webm', '#EXTM3U\n#EXTINF:10,\nfile:///etc/passwd\n'))).toMatch(/no such clip/);
    expect(await refusal(make('c.mov', "ffconcat version 1.0\nfile '/etc/passwd'\n"))).toMatch(/no such clip/);
    expect(await refusal(make('d.gif', ''))).toMatch(/empty/);
    expect(await refusal(make('e.mp4', Buffer.from('%PDF-1.7\n1 0 obj\n')))).toMatch(
      /PDF file; what can be handed in is/,
    );
    expect(await refusal(make('f.png', await png(numbered(1))))).toMatch(/PNG file/);
  });

  test('a playlist with the first bytes of a clip opens no other file', async () => {
    const head = Buffer.concat([
      Buffer.from([0, 0, 0, 0x14]),
      Buffer.from('ftypisom\0\0\0\0isom'),
      Buffer.from('\n#EXTM3U\nfile:///etc/passwd\n'),
    ]);
    expect(await refusal(make('g.mp4', head))).toMatch(/broken, or cut off/);
  });

  test('cut off: at the beginning it is refused, further on what is there is shown and it is said', async () => {
    const whole = readFileSync(
      encode(clips.path('whole.webm'), drawings(counting(96)), { args: ['-c:v', 'libvpx', '-b:v', '2M'] }),
    );
    expect(await refusal(make('h.webm', whole.subarray(0, 200)))).toMatch(/broken|cut off/);
    const { index, numbers } = await read(make('i.webm', whole.subarray(0, Math.round(whole.length / 2))));
    expect(index.frames).toBeGreaterThan(20);
    expect(index.frames).toBeLessThan(90);
    expect(numbers).toEqual(counting(index.frames));
    expect(index.warnings.join(' ')).toMatch(/breaks off|damaged/);
  });

  test('only sound; a thousand frames a second; too long; too large', async () => {
    const sound = clips.path('sound.webm');
    spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'anullsrc', '-t', '1', '-c:a', 'libvorbis', sound]);
    expect(await refusal(sound)).toMatch(/no picture in it, only sound/);
    const fast = encode(clips.path('fast.mp4'), drawings(counting(20)), { fps: 1000, args: ['-c:v', 'libx264'] });
    expect(await refusal(fast)).toMatch(/1000 frames a second; up to 120/);
    const long = encode(clips.path('long.mp4'), drawings(counting(10)), { fps: 0.05, args: ['-c:v', 'libx264'] });
    expect(await refusal(long)).toMatch(/200 seconds long; up to 180/);
    const wide = { width: 16384, height: 2 };
    const large = encode(clips.path('wide.webm'), [new Uint8Array(wide.width * wide.height)], {
      ...wide,
      args: ['-c:v', 'ffv1', '-f', 'matroska'],
    });
    expect(await refusal(large)).toMatch(/16384 × 2; up to 4096/);
  });

  test('times hours apart are told, and not taken for one mistake after the other', async () => {
    // Written as it comes, it names no length: what it has is known once its times are.
    const live = ['-fps_mode', 'passthrough', '-c:v', 'libvpx', '-live', '1'];
    const of = (name: string, times: string): Promise<string> =>
      refusal(encode(clips.path(name), drawings(counting(24)), { args: ['-vf', `setpts=${times}/TB`, ...live] }));
    expect(await of('day.webm', 'N*7200')).toMatch(/165600 seconds long; up to 180/);
    // Beyond thirty hours ffmpeg by itself closes the gap.
    expect(await of('month.webm', 'N*2000000')).toMatch(/46000000 seconds long/);
    expect(await of('last.webm', 'if(lt(N\\,23)\\,N/24\\,2000000)')).toMatch(/2000000 seconds long/);
  });

  test('how far it has come is told while it is read', async () => {
    const shares: number[] = [];
    const path = encode(clips.path('far.webm'), drawings(counting(50)), { args: ['-c:v', 'libvpx'] });
    const folder = clips.path('far');
    mkdirSync(folder);
    await readClip(path, { folder, fps: 24, fileName: 'far.webm', onProgress: (share) => shares.push(share) });
    expect(shares).toHaveLength(50);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect([shares[24], shares.at(-1)]).toEqual([0.5, 1]);
  });

  test('a single frame is shown, and said to be one', async () => {
    const { index } = await read(encode(clips.path('one.webm'), drawings([7]), { args: ['-c:v', 'libvpx'] }));
    expect(index.frames).toBe(1);
    expect(index.warnings).toContain('It has a single frame: nothing in it moves.');
  });

  test('archives: nothing in it, no numbers, two of one number, differing sizes, a way out, broken, a bomb', async () => {
    const one = await png(numbered(1));
    const small = await png(numbered(1, { width: 80, height: 48 }), { width: 80, height: 48 });
    const of = (name: string, files: readonly (readonly [string, Uint8Array])[]) =>
      refusal(zip(clips.path(name), files));
    expect(await of('j.zip', [['readme.txt', one]])).toMatch(/no drawings in the archive/);
    expect(await of('k.zip', [['cover.png', one]])).toMatch(/“cover\.png” has no number/);
    expect(
      await of('l.zip', [
        ['a1.png', one],
        ['b1.png', one],
      ]),
    ).toMatch(/“a1\.png” and “b1\.png” have the same number/);
    expect(
      await of('m.zip', [
        ['1.png', one],
        ['2.png', small],
      ]),
    ).toMatch(/“2\.png” is 80 × 48, but “1\.png” is 160 × 96/);
    expect(await of('n.zip', [['../../1.png', one]])).toMatch(/leads out of it/);
    expect(await of('o.zip', [['1.png', Buffer.from('no picture')]])).toMatch(
      /“1\.png” is no picture that can be read/,
    );
    expect(
      await of('p.zip', [
        ['1.png', one],
        ['90000.png', one],
      ]),
    ).toMatch(/numbered from 1 to 90000, but there are 2/);
    const svg = Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>',
    );
    expect(await of('u.zip', [['1.png', svg]])).toMatch(/“1\.png” is no PNG, JPEG or WebP picture/);
    const whole = readFileSync(zip(clips.path('q.zip'), [['1.png', one]]));
    expect(await refusal(make('r.zip', whole.subarray(0, whole.length - 30)))).toMatch(/broken, or cut off/);
    // A directory that promises three times a gigabyte.
    const bomb = Buffer.from(
      readFileSync(
        zip(clips.path('s.zip'), [
          ['1.png', one],
          ['2.png', one],
        ]),
      ),
    );
    let at = bomb.indexOf('PK\x01\x02', 0, 'latin1');
    bomb.writeUInt32LE(3_000_000_000, at + 24);
    at = bomb.indexOf('PK\x01\x02', at + 4, 'latin1');
    bomb.writeUInt32LE(3_000_000_000, at + 24);
    expect(await refusal(make('t.zip', bomb))).toMatch(/larger than 64 MB|broken/);
  });
});
