import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import { readBvh } from '@ypsigraph/core/formats/bvh/read-bvh';
import { measureMark } from '@ypsigraph/core/mark/mark';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import type { Shot } from '@ypsigraph/contract/shots';
import { atDesk, make, overlay, settled, words } from './at-the-desk.ts';
import { choose, test } from './people.ts';

/** What the page's worker measured of each mark is what the core measures of the same file here, to a millionth. */
async function agreesWithTheCore(page: Page): Promise<void> {
  const shot = (await (await page.request.get(`/api/shots/${page.url().split('/').at(-1)!}`)).json()) as Shot;
  const revision = shot.revisions.at(-1)!;
  const file = await (await page.request.get(`/api/revisions/${revision.id}/file`)).body();
  const prepared = prepareShot(readBvh(file).motion, shotOptions(shot.brief, revision));
  const own = shot.marks.filter(({ words }) => words.startsWith('Of its kind'));
  expect(own).toHaveLength(9);
  for (const mark of own) {
    const { payload } = mark;
    const at = payload?.kind === 'breakdown' ? payload.measured?.at : undefined;
    const place = { ...mark, ...(at !== undefined && { inner: at }) };
    nearly(payload?.measured, measureMark(mark.kind, prepared, place, payload ?? undefined).measured);
  }
}

function nearly(a: unknown, b: unknown): void {
  if (typeof a === 'number' && typeof b === 'number') return expect(Math.abs(a - b)).toBeLessThan(1e-6);
  if (typeof a !== 'object' || a === null || typeof b !== 'object' || b === null) return expect(a).toEqual(b);
  expect(Object.keys(a).sort()).toEqual(Object.keys(b).sort());
  for (const key of Object.keys(a)) nearly((a as Record<string, unknown>)[key], (b as Record<string, unknown>)[key]);
}

test('every kind of mark by keys: measured where it stands, kept, and drawn at the same place after a reload', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Priya Ramanathan', 'Two voices');
  await choose(page, 'Point', 'head');
  await expect(page.getByRole('button', { name: /^Path of the chosen point/ })).toHaveAttribute('aria-pressed', 'true');
  const axis = page.getByRole('slider', { name: 'Frame', exact: true });
  const { width } = (await axis.boundingBox())!;
  for (const [key, kind, label, now] of [
    ['1', 'timing', 9, /at frame \d+/],
    ['2', 'spacing', 13, /over \d+ frames/],
    ['3', 'arc', 13, /off that arc/],
    ['4', 'breakdown', 13, /favours the pose at/],
    ['5', 'overshoot', 17, /its end/],
    ['6', 'moving hold', 25, /it is dead/],
    ['7', 'amount', 13, /pitch of the head: −?[\d.]+°/],
    ['8', 'pose', 13, /the pose at this frame/],
    ['9', 'delay', 13, /comes \d+ frames? (after|before)|moves/],
  ] as const) {
    await axis.click({ position: { x: ((label - 0.5) / 64) * width, y: 10 } });
    await page.keyboard.press(key);
    await expect(page.getByTestId('told')).toContainText(now);
    await make(page, `Of its kind: ${kind}.`);
    await words(page).waitFor({ state: 'detached' });
  }
  await agreesWithTheCore(page);
  await page.keyboard.press('.');
  await make(page, 'A note alone.');
  await page.mouse.move(5, 5);
  const card = page.getByTestId('mark').filter({ hasText: 'Of its kind: arc.' });
  await card.hover();
  const before = await settled(page);
  const frame = await page.getByRole('slider', { name: 'Frame', exact: true }).getAttribute('aria-valuenow');
  await page.reload();
  await page.getByTestId('lanes').waitFor();
  await expect(page.getByTestId('mark').filter({ hasText: /Of its kind/ })).toHaveCount(9);
  await page.keyboard.press('Home');
  for (let k = 1; k < Number(frame); k++) await page.keyboard.press('ArrowRight');
  await choose(page, 'Point', 'head');
  await expect(page.getByRole('button', { name: /^Path of the chosen point/ })).toHaveAttribute('aria-pressed', 'true');
  await card.hover();
  await expect.poll(async () => (await overlay(page)) === before).toBe(true);
  for (const text of ['timing', 'spacing', 'arc', 'breakdown', 'overshoot', 'moving hold', 'amount', 'pose', 'delay'])
    await page
      .getByTestId('mark')
      .filter({ hasText: `Of its kind: ${text}.` })
      .getByRole('button', { name: 'Delete', exact: true })
      .click();
  await page
    .getByTestId('mark')
    .filter({ hasText: 'A note alone.' })
    .getByRole('button', { name: 'Delete', exact: true })
    .click();
  await expect(page.getByTestId('mark').filter({ hasText: /Of its kind|A note alone/ })).toHaveCount(0);
});

test('by hand: ticks of a chart dragged, an arc pulled, a pencil line drawn, and all of it taken back step by step', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Bram Hoekstra');
  await choose(page, 'Point', 'hand.L');
  await page.getByRole('combobox', { name: 'Point' }).focus();
  // The list keeps its letters as long as it has the focus.
  await page.keyboard.press('2');
  await expect(words(page)).toHaveCount(0);
  const axis = page.getByRole('slider', { name: 'Frame', exact: true });
  await axis.click({ position: { x: 150, y: 10 } });
  await page.keyboard.press('2');
  const tick = page.getByRole('slider', { name: /^Frame \d+, wanted$/ }).first();
  const told = page.getByTestId('told');
  const then = await tick.getAttribute('aria-valuenow');
  const box = (await tick.boundingBox())!;
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await page.mouse.move(box.x - 40, box.y + 5, { steps: 5 });
  await page.mouse.up();
  await expect(tick).not.toHaveAttribute('aria-valuenow', then!);
  await page.getByRole('button', { name: 'both', exact: true }).click();
  await expect(told).toContainText('a slow-out and a slow-in');
  await page.waitForTimeout(500);
  await axis.focus();
  await page.keyboard.press('u');
  await expect(told).not.toContainText('a slow-out and a slow-in');
  await page.keyboard.press('Shift+U');
  await expect(told).toContainText('a slow-out and a slow-in');

  // The wanted arc is pulled by its points: with the pointer, and by arrow keys.
  await page.keyboard.press('3');
  const composer = page.getByTestId('composer');
  await settled(page);
  await composer.getByLabel(/^from/).fill('7');
  await composer.getByLabel(/^to/).fill('17');
  await settled(page);
  await expect(composer).toHaveAttribute('aria-busy', 'false');
  await expect(told).toContainText(/off that arc/);
  const grip = page.getByRole('button', { name: /^Point 2 of the wanted arc/ });
  const off = (): Promise<string> => told.innerText();
  const start = await off();
  const from = (await grip.boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2 - 40, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await grip.boundingBox())!.y).toBeCloseTo(from.y - 40, -0.5);
  await expect.poll(off).not.toBe(start);
  const pulled = (await grip.boundingBox())!;
  expect(pulled.x).toBeCloseTo(from.x, -0.5);
  await grip.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await grip.boundingBox())!.x).toBeCloseTo(pulled.x + 10, -0.5);
  await axis.focus();
  await page.keyboard.press('2');
  await page.getByRole('button', { name: 'both', exact: true }).click();

  await page.getByRole('button', { name: 'draw' }).click();
  const paper = (await page.getByTestId('paper').boundingBox())!;
  await page.mouse.move(paper.x + 260, paper.y + 90);
  await page.mouse.down();
  await page.mouse.move(paper.x + 320, paper.y + 140, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('button', { name: 'Erase' })).toBeVisible();
  // With the pencil put down, the line is pulled by its ends and its middle.
  await expect(page.getByRole('button', { name: /of line 1$/ })).toHaveCount(0);
  await page.getByTitle('Draw on the paper with the pencil').click();
  const lineEnd = page.getByRole('button', { name: 'The end of line 1' });
  const lineStart = page.getByRole('button', { name: 'The start of line 1' });
  const [endAt, startAt] = [(await lineEnd.boundingBox())!, (await lineStart.boundingBox())!];
  await page.mouse.move(endAt.x + 12, endAt.y + 12);
  await page.mouse.down();
  await page.mouse.move(endAt.x + 52, endAt.y - 18, { steps: 5 });
  await page.mouse.up();
  await expect.poll(async () => (await lineEnd.boundingBox())!.x).toBeCloseTo(endAt.x + 40, -0.5);
  expect((await lineStart.boundingBox())!.x).toBeCloseTo(startAt.x, -0.5);
  await lineStart.focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect.poll(async () => (await lineStart.boundingBox())!.y).toBeCloseTo(startAt.y - 10, -0.5);
  await make(page, 'Ease it into the front.');
  const mark = page.getByTestId('mark').filter({ hasText: 'Ease it into the front.' });
  await expect(mark.getByTestId('now-and-wanted')).toContainText('a slow-out and a slow-in');

  // Split at the frame that is shown, and merged again.
  const { width } = (await axis.boundingBox())!;
  await axis.click({ position: { x: (12.5 / 25) * width, y: 10 } });
  await mark.getByRole('button', { name: 'Split' }).click();
  await expect(mark).toHaveCount(2);
  await mark.first().getByRole('button', { name: 'Merge' }).click();
  await expect(mark).toHaveCount(1);

  // Two people and one mark: who comes second is told, and keeps the words.
  await mark.getByRole('button', { name: 'Change' }).click();
  const id = await page.evaluate(async () => {
    const shot = location.pathname.split('/').at(-1)!;
    const { marks } = (await (await fetch(`/api/shots/${shot}`)).json()) as { marks: { id: string; words: string }[] };
    return marks.find((own) => own.words === 'Ease it into the front.')!.id;
  });
  const other = await comeInAs('Baraka Lundqvist');
  const changed = await other.evaluate(async (path) => {
    const { person } = (await (await fetch('/api/session')).json()) as { person: { id: string } };
    const headers = { 'content-type': 'application/json', 'x-ypsigraph': person.id };
    return (await fetch(path, { method: 'PATCH', headers, body: JSON.stringify({ words: 'Baraka’s.' }) })).status;
  }, `/api/marks/${id}`);
  expect(changed).toBe(200);
  await words(page).fill('Ottoline’s.');
  await page.getByRole('button', { name: 'Change the mark' }).click();
  await expect(page.getByText(/changed meanwhile/)).toBeVisible();
  await expect(words(page)).toHaveValue('Ottoline’s.');
  await page.getByRole('button', { name: 'Discard' }).click();
  await page.reload();
  await page
    .getByTestId('mark')
    .filter({ hasText: 'Baraka’s.' })
    .getByRole('button', { name: 'Delete', exact: true })
    .click();
});

test('a finding is put aside with its reason, stays aside, and is taken back', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Oisín Brannagh');
  await page.keyboard.press('n');
  const findings = page.getByTestId('findings').getByRole('listitem');
  const count = await findings.count();
  await findings.first().getByRole('button', { name: 'Not now' }).click();
  await page.getByLabel('Why this is not a fault here').fill('The deck gives way there.');
  await page.keyboard.press('Enter');
  await expect(findings).toHaveCount(count - 1);
  await page.reload();
  await page.getByTestId('lanes').waitFor();
  await page.keyboard.press('n');
  await expect(page.getByTestId('aside')).toContainText('The deck gives way there.');
  await page.getByTestId('aside').getByRole('button', { name: 'Undo' }).click();
  await expect(findings).toHaveCount(count);
});

test('marks are taken away as web annotations, and those of elsewhere are brought in, once', async ({ comeInAs }) => {
  const page = await comeInAs('Ottoline Farrow');
  await atDesk(page, 'Nilufar Rashidova', 'Foghorn');
  await page.keyboard.press('.');
  await make(page, 'She waits for the horn: let me see it.');
  const marks = page.getByTestId('mark');
  await expect(marks).toHaveCount(1);
  const saving = page.waitForEvent('download');
  await choose(page, 'Take the marks away as', 'web annotations (JSON-LD)');
  const text = readFileSync(await (await saving).path(), 'utf8');
  const bring = async (content: string): Promise<void> =>
    page
      .getByLabel('Bring marks in')
      .setInputFiles({ name: 'marks.jsonld', mimeType: 'application/ld+json', buffer: Buffer.from(content) });
  await bring(text);
  await expect(page.getByText('No marks were brought in')).toBeVisible();
  await expect(page.getByText(/it is here already/)).toBeVisible();
  // Another school’s, on the same frames.
  await bring(text.replaceAll('She waits', 'He waits').replaceAll('Ottoline Farrow', 'Bram Hoekstra'));
  await expect(marks).toHaveCount(2);
  await expect(marks.filter({ hasText: 'He waits for the horn: let me see it. (Bram Hoekstra)' })).toContainText(
    'not sent',
  );
  await bring('{');
  await expect(page.getByText('this is no JSON that can be read')).toBeVisible();
  await page.reload();
  await expect(marks).toHaveCount(2);
});
