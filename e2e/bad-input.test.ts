import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, type Page } from '@playwright/test';
import { openShot, test, walkFile } from './people.ts';

const choose = (page: Page, name: string, content: string | Buffer) =>
  page
    .locator('input[type=file]')
    .setInputFiles({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(content) });

async function handInPage(page: Page): Promise<void> {
  await page.goto('/worksheet');
  await page
    .getByRole('link', { name: /^Hand in/ })
    .first()
    .click();
  await page.getByRole('heading', { name: /^Hand in/ }).waitFor();
}

test('files that can’t be read are refused in the page, before anything is sent, with their line', async ({
  comeInAs,
}, testInfo) => {
  const page = await comeInAs('Kiri Tamatea');
  await handInPage(page);
  await page.getByLabel('A note to your instructor').fill('I changed the one thing.');
  const walk = walkFile('w.bvh').buffer.toString();
  const cases: readonly (readonly [string, string | Buffer, RegExp])[] = [
    ['letter.bvh', 'Dear Ottoline', /line 1: expected the word HIERARCHY, found “Dear”/],
    ['cut.bvh', walk.slice(0, 9000), /the file ends within a frame/],
    ['packed.bvh', Buffer.from([0x50, 0x4b, 3, 4, 0]), /the zip archive is damaged or cut/],
    ['empty.bvh', '', /empty/],
    ['backwards.bvh', walk.replace(/Frame Time: .*/, 'Frame Time: -1'), /above 0 seconds, found -1/],
  ];
  for (const [name, content, message] of cases) {
    await choose(page, name, content);
    await expect(page.getByRole('alert')).toContainText(message);
    await expect(page.getByRole('button', { name: 'Hand it in' })).toBeDisabled();
  }
  const huge = testInfo.outputPath('huge.bvh');
  writeFileSync(huge, Buffer.alloc(65 * 1024 * 1024, 'x'));
  await page.locator('input[type=file]').setInputFiles(huge);
  await expect(page.getByRole('alert')).toContainText('It has 65 MB; at most 64 MB');
  // What was typed is still there, after a reload as well.
  await page.reload();
  await expect(page.getByLabel('A note to your instructor')).toHaveValue('I changed the one thing.');
});

test('what the server refuses is said in its words, and the form stays as it is', async ({ comeInAs }) => {
  const page = await comeInAs('Greta Almqvist');
  await handInPage(page);
  await page.getByLabel('A note to your instructor').fill('Is this the right one?');
  await page.locator('input[type=file]').setInputFiles(walkFile('again.bvh', { doubledFrame: 1 }));
  await page.getByRole('button', { name: 'Hand it in' }).click();
  await expect(page.getByRole('alert')).toContainText('This is the same file as revision 1.');
  await expect(page.getByLabel('A note to your instructor')).toHaveValue('Is this the right one?');
});

test('a student who opens another’s shot by its address is told so, and sees nothing of it', async ({ comeInAs }) => {
  const owner = await comeInAs('Hoku Kealoha');
  await owner.getByRole('link', { name: 'Look at the shot' }).click();
  await owner.getByTestId('paper').waitFor();
  const other = await comeInAs('Emeka Brightwater');
  await other.goto(owner.url());
  await expect(other.getByRole('alert')).toContainText('This shot belongs to another student.');
  await expect(other.getByText('Hoku Kealoha')).toHaveCount(0);
});

test('a mark that is made while the connection is lost arrives when it is back, once, and survives a reload before', async ({
  comeInAs,
}) => {
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Oisín Brannagh');
  await page.getByTestId('strip').waitFor();
  await page.keyboard.press('Home');
  await page.keyboard.press('.');
  await page.getByLabel('Words of the mark').fill('He sinks through the quay.');
  await page.route('**/api/revisions/*/marks', (route) => route.abort('connectionfailed'));
  await page.getByRole('button', { name: 'Make the mark' }).click();
  await expect(page.getByText(/waits for the connection. Nothing is lost/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/waits for the connection/)).toBeVisible();
  await page.unroute('**/api/revisions/*/marks');
  await expect(page.getByTestId('mark')).toHaveCount(1);
  await expect(page.getByTestId('mark')).toContainText('He sinks through the quay.');
  await expect(page.getByText(/waits for the connection/)).toHaveCount(0);
});

test('the database may be restarted while a page is open: what is typed is kept and saved', async ({ comeInAs }) => {
  const { cluster } = test.info().project.metadata as { cluster?: string };
  test.skip(!cluster, 'the database is not this run’s own');
  const page = await comeInAs('Ottoline Farrow');
  await openShot(page, 'Mateo Villarreal');
  await page.getByTestId('strip').waitFor();
  await page.keyboard.press('1');
  await page.getByLabel('Words of the mark').fill('The trunk has turned away by the last frame.');
  const root = fileURLToPath(new URL('..', import.meta.url));
  const restart = `import('./scripts/lib/cluster.mjs').then(async (m) => (await m.startCluster('${cluster}')).restart())`;
  execFileSync(process.execPath, ['-e', restart], { cwd: root });
  await page.getByRole('button', { name: 'Make the mark' }).click();
  await expect(page.getByTestId('mark').filter({ hasText: 'The trunk has turned away' })).toHaveCount(1);
  await page.reload();
  await expect(page.getByTestId('mark').filter({ hasText: 'The trunk has turned away' })).toHaveCount(1);
  // Hand-ins go on being read, too: the queue has found the database again.
  const student = await comeInAs('Jomo Wanyama');
  await handInPage(student);
  await student.locator('input[type=file]').setInputFiles(walkFile('after.bvh', { slide: 2 }));
  await student.getByRole('button', { name: 'Hand it in' }).click();
  await expect(student.getByText(/\d+ made/)).toBeVisible();
});
