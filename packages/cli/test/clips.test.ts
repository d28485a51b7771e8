import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parse } from 'csv-parse/sync';
import { figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { run } from '../src/main.ts';

const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-cli-'));
const clip = join(folder, 'walk.webm');
const walk = figureShot({ exemplar: 'walk', on: 2, width: 640, height: 360, leg: 110 });
beforeAll(() => encodeShot(walk, clip, { args: CODECS.webm }));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function ypsigraph(...args: string[]): Promise<{ code: number; out: string; err: string }> {
  let [out, err] = ['', ''];
  const code = await run(args, { out: (text) => (out += text), err: (text) => (err += text) });
  return { code, out, err };
}

test('exposures of a clip on twos, in words and as JSON', async () => {
  const { code, out } = await ypsigraph('exposures', clip);
  expect(code).toBe(0);
  expect(out.split('\n').slice(0, 3)).toEqual([
    '24 frames at 24 a second, 640 × 360: 12 drawings, on twos',
    '1–2  (2 frames)',
    '3–4  (2 frames)',
  ]);
  const told = JSON.parse((await ypsigraph('exposures', clip, '--json', '--first-frame', '101')).out);
  expect(told).toMatchObject({ frames: 24, fps: 24, width: 640, height: 360, pattern: 'twos' });
  expect(told.exposures[1]).toEqual({ from: 103, to: 104 });
});

test('a point is followed on and back from a frame; the table is read by another package, and measured', async () => {
  const table = join(folder, 'points.csv');
  const [x, y] = walk.points(10)['hat tip']!;
  const { code, out } = await ypsigraph('follow', clip, '--at', '11', '--point', `hat tip=${x},${y}`, '-o', table);
  expect([code, out]).toEqual([0, `${table}: hat tip 24 of 24 frames\n`]);
  const rows: { frame: string; x: string; y: string }[] = parse(readFileSync(table), { columns: true });
  expect(rows.map(({ frame }) => Number(frame))).toEqual(Array.from({ length: 24 }, (_, k) => k + 1));
  for (const row of rows) {
    const [tx, ty] = walk.points(Number(row.frame) - 1)['hat tip']!;
    expect(Math.hypot(Number(row.x) - tx, Number(row.y) - ty)).toBeLessThan(1);
  }
  const measured = JSON.parse((await ypsigraph('measure', table, '--fps', '24', '--joint', 'hat tip', '--json')).out);
  expect(measured.readings.map(({ id }: { id: string }) => id)).toContain('track.sure');
});

test('several points at once, on a stretch of frames', async () => {
  const table = join(folder, 'two.csv');
  const at = (name: string): string => `${name}=${walk.points(10)[name]!.join(',')}`;
  const { code, out } = await ypsigraph(
    ...['follow', clip, '--at', '11', '--from', '9', '--to', '14', '--point', at('hat tip'), at('head'), '-o', table],
  );
  expect([code, out]).toEqual([0, `${table}: hat tip 6, head 6 of 24 frames\n`]);
});

test('what can’t be is said: a file that is no clip, a point outside, a frame outside, no place', async () => {
  const none = join(folder, 'none.mp4');
  writeFileSync(none, 'nothing');
  expect(await ypsigraph('exposures', none)).toMatchObject({
    code: 1,
    err: expect.stringMatching(/no such clip is in it/),
  });
  const follow = (...args: string[]) => ypsigraph('follow', clip, '-o', join(folder, 'x.csv'), ...args);
  expect(await follow('--at', '1', '--point', 'a=9000,5')).toMatchObject({
    code: 2,
    err: expect.stringMatching(/outside the picture/),
  });
  expect(await follow('--at', '90', '--point', 'a=9,5')).toMatchObject({
    code: 2,
    err: expect.stringMatching(/not within 1 to 24/),
  });
  expect(await follow('--at', '1', '--point', 'a=9')).toMatchObject({
    code: 2,
    err: expect.stringMatching(/NAME=X,Y/),
  });
  expect((await follow('--at', '1', '--point', 'sky=40,20')).err).toMatch(/nothing at “sky” to hold on to/);
});

test('drawings of a clip are exposed otherwise: a table of which drawing each frame shows', async () => {
  const table = join(folder, 'exposed.csv');
  const { code } = await ypsigraph('remedy', clip, '--do', 'hold:at=5,frames=3', '--do', 'trim:front=2', '-o', table);
  expect(code).toBe(0);
  const rows: { frame: string; drawing: string }[] = parse(readFileSync(table), { columns: true });
  const shown = rows.map(({ drawing }) => Number(drawing));
  expect(shown.slice(0, 12)).toEqual([1, 1, 1, 1, 2, 2, 3, 3, 3, 3, 3, 4]);
  expect(rows).toHaveLength(29);
  const bent = await ypsigraph('remedy', clip, '--do', 'amount:quantity=lean,of=trunk,by=3', '-o', table);
  expect([bent.code, bent.err]).toEqual([1, expect.stringMatching(/^drawings can’t be bent/)]);
});
