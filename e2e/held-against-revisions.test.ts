// What a mark asks for is held against every later revision, whatever it is made of: better ones, worse ones, and ones that take other many frames.
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page } from '@playwright/test';
import type { NewMark } from '@ypsigraph/contract/marks';
import type { Shot } from '@ypsigraph/contract/shots';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { puppetFile } from '@ypsigraph/core/exemplar/puppet';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import type { MeasuredAmount } from '@ypsigraph/core/mark/amount-mark';
import type { MeasuredDelay } from '@ypsigraph/core/mark/delay-mark';
import { measureMark } from '@ypsigraph/core/mark/mark';
import { type Progress, PROGRESS_WORDS } from '@ypsigraph/core/mark/progress';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { LoosePose } from '@ypsigraph/core/posing/loose-pose';
import { NOTHING_WANTED, toldPose } from '@ypsigraph/core/posing/wanted-pose';
import { CODECS, encodeShot } from '@ypsigraph/pictures/drawn/encode-shot';
import { figureShot } from '@ypsigraph/pictures/drawn/drawn-shots';
import { make, words } from './at-the-desk.ts';
import { choose, test } from './people.ts';

const folder = mkdtempSync(join(tmpdir(), 'ypsigraph-held-'));
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

type Dials = Readonly<Record<string, number>>;
/** Of a walk: how far it leans and how late its arms are, and how many frames it takes. */
interface Revision {
  readonly faults: Dials;
  readonly set?: Dials;
}
const FIRST: Revision = { faults: { leansFar: 36, lateArms: 6 } };
const BETTER: Revision = { faults: { leansFar: 6, lateArms: 2 } };
const SLOWER: Revision = { ...BETTER, set: { length: 30 } };

const walkOf = ({ faults, set = {} }: Revision) => EXEMPLARS.walk!.make({ ...set }, { ...faults });
const drawnOf = ({ faults, set = {} }: Revision) =>
  figureShot({ exemplar: 'walk', ...{ faults, set, width: 640, height: 360, leg: 110 } });

interface Material {
  readonly knee: string;
  file(revision: Revision): Promise<{ name: string; mimeType: string; buffer: Buffer }>;
  /** What somebody at the desk adds before it can be measured. */
  prepare?(page: Page, id: string, revision: Revision): Promise<void>;
}

const MATERIALS: Readonly<Record<string, Material>> = {
  'a motion': {
    knee: 'shin.L',
    file: async (revision) => ({
      ...{ name: 'walk.bvh', mimeType: 'application/octet-stream' },
      buffer: Buffer.from(writeBvh(walkOf(revision))),
    }),
  },
  'a clip with followed points': {
    knee: 'knee.L',
    async file(revision) {
      const path = join(folder, `${randomUUID()}.mp4`);
      await encodeShot(drawnOf(revision), path, { args: CODECS.mp4 });
      return { name: 'walk.mp4', mimeType: 'video/mp4', buffer: readFileSync(path) };
    },
    async prepare(page, id, revision) {
      const drawn = drawnOf(revision);
      const points = Object.keys(drawn.points(0)).map((name) => ({
        name,
        places: Array.from({ length: drawn.frames }, (_, f) => [f, ...drawn.points(f)[name]!, 1]),
      }));
      await ask(page, `/api/revisions/${id}/tracks`, {
        ...{ version: 0, points, still: [], pairs: [], shapes: [], ground: null, exposures: null },
      });
    },
  },
  'a puppet of layers': {
    knee: 'shin left',
    file: async (revision) => ({
      ...{ name: 'walk.json', mimeType: 'application/json' },
      buffer: Buffer.from(puppetFile(prepareShot(walkOf(revision), { kind: 'walk' }))),
    }),
  },
};

/** Asks the server for something, as whoever is signed in on the page. */
async function ask(page: Page, path: string, data: unknown): Promise<void> {
  const session = (await (await page.request.get('/api/session')).json()) as { person: { id: string } };
  const answer = await page.request.post(path, { data, headers: { 'x-ypsigraph': session.person.id } });
  expect([path, answer.ok()]).toEqual([path, true]);
}

const shotOf = async (page: Page, id: string): Promise<Shot> =>
  (await (await page.request.get(`/api/shots/${id}`)).json()) as Shot;

/** What became of each mark on the better revision, and on the one that takes six frames more as well. */
const EXPECTED: Readonly<Record<string, readonly [better: Progress, slower: Progress]>> = {
  'amount: as it will be': ['as wanted', 'as wanted'],
  'amount: farther back': ['towards', 'towards'],
  'amount: halfway': ['past', 'past'],
  'amount: farther forward': ['away', 'away'],
  'amount: the knee': ['unchanged', 'unchanged'],
  'pose: as it will be': ['as wanted', 'as wanted'],
  'pose: farther back': ['towards', 'towards'],
  'pose: halfway': ['past', 'past'],
  'pose: farther forward': ['away', 'away'],
  'pose: the leg': ['unchanged', 'unchanged'],
  'delay: as it will be': ['as wanted', 'as wanted'],
  'delay: sooner': ['towards', 'towards'],
  // Where the cycle takes 30 frames the arms come five after the contact: within a frame of six.
  'delay: halfway': ['past', 'as wanted'],
  'delay: later': ['away', 'away'],
  // Passing comes six frames after the contact of 24, and later of 30.
  'delay: passing': ['unchanged', 'away'],
};

/** Where the marks of each kind stand on the first revision. */
const PLACES = { amount: [1, 24], pose: [13, 13], delay: [1, 9] } as const;

/** The marks that are made by hand on the desk, each of its kind; the rest ask for other numbers in the same places. */
async function marksByHand(page: Page, knee: string): Promise<void> {
  const composer = page.getByTestId('composer');
  const told = page.getByTestId('told');
  const begin = async (key: string, [from, to]: readonly [number, number]): Promise<void> => {
    await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
    await page.keyboard.press('Home');
    for (let k = 1; k < from; k++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press(key);
    await expect(words(page)).toBeFocused();
    await composer.getByLabel('from', { exact: true }).fill(String(from));
    await composer.getByLabel('to', { exact: true }).fill(String(to));
    await expect(composer).toHaveAttribute('aria-busy', 'false');
  };
  const wanted = (label = 'wanted') => composer.getByRole('spinbutton', { name: new RegExp(`^${label}`) });

  await begin('7', PLACES.amount);
  await choose(composer, 'how much', 'on average');
  await expect(told).toContainText(/lean of the trunk: [\d.]+° on average/);
  await wanted().fill('9');
  await make(page, 'amount: by hand');

  await choose(page, 'Point', knee);
  await begin('7', PLACES.amount);
  await expect(told).toContainText(/bend of the left knee: \d+° from its lowest to its highest/);
  await composer.getByTitle('half less').click();
  await make(page, 'amount: the knee');

  await begin('8', PLACES.pose);
  await page.getByRole('button', { name: /^left shin: drag it/i }).focus();
  for (let k = 0; k < 3; k++) await page.keyboard.press('Shift+ArrowRight');
  await make(page, 'pose: the leg');

  await begin('9', PLACES.delay);
  await choose(composer, 'first', /^1\s+contact of the left foot/);
  await choose(composer, 'second', /^9\s+turning point of the left arm/);
  await expect(told).toContainText('8 frames after');
  await wanted('the second later by').fill('4');
  await make(page, 'delay: by hand');
}

/** The same marks with something else wanted: what a walk of other dials has in the same place. */
async function marksOtherwise(page: Page, id: string): Promise<void> {
  const { revisions, marks } = await shotOf(page, id);
  const made = (text: string): NewMark => {
    const { kind, from, to, point, payload } = marks.find((mark) => mark.words === text)!;
    return { kind, from, to, point, payload, words: text, key: randomUUID() };
  };
  const post = (mark: NewMark, text: string, numbers: object): Promise<void> =>
    ask(page, `/api/revisions/${revisions.at(-1)!.id}/marks`, {
      ...{ ...mark, words: text, key: randomUUID() },
      payload: { ...mark.payload, ...numbers },
    });
  const leans = (leansFar: number) => prepareShot(walkOf({ faults: { leansFar, lateArms: 6 } }), { kind: 'walk' });
  for (const [text, leansFar] of [
    ['as it will be', BETTER.faults.leansFar!],
    ['farther back', -20],
    ['halfway', 21],
    ['farther forward', 60],
  ] as const) {
    const shot = leans(leansFar);
    const { measured } = measureMark(
      'amount',
      shot,
      { from: 1, to: 24, point: null },
      made('amount: by hand').payload!,
    );
    await post(made('amount: by hand'), `amount: ${text}`, { wanted: { value: (measured as MeasuredAmount).value } });
    const trunk = toldPose(shot, 12, LoosePose.at(shot.motion, 12), []).directions.trunk!;
    await post(made('pose: the leg'), `pose: ${text}`, { wanted: { ...NOTHING_WANTED, directions: { trunk } } });
  }
  const delay = made('delay: by hand');
  for (const [text, frames] of [
    ['as it will be', 4],
    ['sooner', 1],
    ['halfway', 6],
    ['later', 12],
  ] as const)
    await post(delay, `delay: ${text}`, { wanted: { frames } });
  const { measured } = delay.payload as { measured: MeasuredDelay };
  const passing = { ...measured, second: 'passing', secondPart: 'leg.L', secondAt: 7, frames: 6 };
  await post({ ...delay, to: 7 }, 'delay: passing', { measured: passing, wanted: { frames: 3 } });
}

/** What points tell, a clip's or a puppet's, is held against marks as what a motion tells is: both are walked through in the long run. */
const isTried = (material: string): boolean => process.env.LONG === '1' || material === 'a motion';

for (const [material, own] of Object.entries(MATERIALS).filter(([name]) => isTried(name)))
  test(`amounts, poses and delays that were asked of ${material} are held against better, worse and slower revisions`, async ({
    comeInAs,
  }) => {
    const student = await comeInAs('Tomasz Wieczor');
    const page = await comeInAs('Ottoline Farrow');
    const handIn = async (revision: Revision): Promise<void> => {
      await student.goto('/worksheet');
      await student
        .getByRole('listitem')
        .filter({ hasText: 'Night round' })
        .getByRole('link', { name: /Hand in/ })
        .click();
      await student
        .locator('input[type=file]')
        .first()
        .setInputFiles(await own.file(revision));
      await student.getByRole('button', { name: 'Hand it in' }).click();
      await student.waitForURL(/\/desk\//);
      await expect(student.getByText(/\d+ made/)).toBeVisible();
    };
    await handIn(FIRST);
    const id = /desk\/([^?]+)/.exec(student.url())![1]!;
    const newest = async (): Promise<string> => (await shotOf(page, id)).revisions.at(-1)!.id;
    await own.prepare?.(page, await newest(), FIRST);
    await page.goto(`/desk/${id}`);
    await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls/);
    await marksByHand(page, own.knee);
    await marksOtherwise(page, id);
    const sendBack = async (): Promise<void> =>
      ask(page, `/api/revisions/${await newest()}/send-back`, { words: 'Once more.', asked: '' });
    for (const [k, revision] of [BETTER, SLOWER].entries()) {
      await sendBack();
      await handIn(revision);
      await own.prepare?.(page, await newest(), revision);
      await page.goto(`/desk/${id}`);
      for (const [text, became] of Object.entries(EXPECTED))
        await expect
          .soft(page.getByTestId('mark').filter({ hasText: text }).getByTestId('now-and-wanted'))
          .toContainText(became[k] === 'as wanted' ? 'as wanted' : PROGRESS_WORDS[became[k]!]);
    }
    for (const mark of (await shotOf(page, id)).marks)
      await ask(page, `/api/marks/${mark.id}/verdict`, { state: 'cleared' });
    await sendBack();
  });
