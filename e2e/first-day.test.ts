// A school with nothing in it: its first instructor takes the invitation, tries a review, begins a cohort, and sends the first shot back.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { generate } from 'otplib';
import { choose, walkFile } from './people.ts';

const PASSWORD = 'harbour lights 47';
const INVITATION = process.env.INVITATION;

interface Mail {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
}

/** A message that the school's mail server has been given. */
async function mailed(to: string, about: RegExp): Promise<Mail> {
  let found: Mail | undefined;
  await expect(() => {
    const all = readdirSync(process.env.MAIL!).map(
      (name) => JSON.parse(readFileSync(join(process.env.MAIL!, name), 'utf8')) as Mail,
    );
    found = all.find((mail) => mail.to.includes(to) && about.test(mail.subject));
    expect(found).toBeDefined();
  }).toPass({ timeout: 60_000 });
  return found!;
}
const linkIn = ({ text }: Mail): string => /https?:\/\/\S+/.exec(text)![0];

test('from an empty database to a shot that was sent back', async ({ browser }) => {
  test.skip(!INVITATION, 'no empty school was started for this run');
  const context = await browser.newContext({ reducedMotion: 'reduce', baseURL: new URL(INVITATION!).origin });
  const page = await context.newPage();
  const comeIn = async (own: typeof page, invitation: string): Promise<void> => {
    await own.goto(invitation);
    for (const label of ['Password', 'Once more']) await own.getByLabel(label).fill(PASSWORD);
    await own.getByRole('button', { name: 'Come in' }).click();
    await own.getByRole('button', { name: 'Sign out', exact: true }).waitFor();
  };
  const next = page.locator('[aria-current=step]');

  await test.step('whoever runs the server has invited the first instructor, who finds what to do next', async () => {
    await comeIn(page, INVITATION!);
    await expect(page.getByRole('heading', { name: 'Before the first shot comes in' })).toBeVisible();
    await expect(next).toContainText('A cohort');
    // The ledger and the cohort say the same.
    for (const name of ['Ledger', 'Cohort']) {
      await page.getByRole('link', { name, exact: true }).click();
      await expect(page.getByRole('heading', { level: 1, name })).toBeVisible();
      await expect(next).toContainText('A cohort');
    }
  });

  await test.step('tries a whole review on a practice shot, and deletes it', async () => {
    await page.getByRole('link', { name: 'Docket' }).click();
    await page.getByRole('button', { name: /practice shot/ }).click();
    await expect(page.getByTestId('paper').first()).toBeVisible();
    await expect(page.getByText(/\d+ made/)).toBeVisible();
    await page.getByRole('button', { name: /^Findings/ }).click();
    await expect(page.getByTestId('findings')).toContainText(/slides/i);
    await page.getByRole('button', { name: 'Send back' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Words to the student').fill('A foot slides, and a hand pops.');
    await dialog.getByRole('button', { name: 'Send it back' }).click();
    await expect(page.getByRole('heading', { level: 1, name: 'Docket' })).toBeVisible();
    await page.getByRole('link', { name: 'on the desk' }).click();
    await expect(page.getByText('smoothing, sent back')).toBeVisible();
    await page.getByRole('button', { name: 'Delete the practice shot' }).click();
    await expect(page.getByRole('button', { name: /practice shot/ })).toBeVisible();
  });

  await test.step('begins a cohort', async () => {
    await page.getByLabel('Name').fill('Monday loft');
    await choose(page, 'Time zone', 'Europe/Oslo');
    await page.getByRole('button', { name: 'Begin the cohort' }).click();
    await expect(next).toContainText('Its students');
  });

  await test.step('brings its students in by a list', async () => {
    await page.getByRole('link', { name: 'Bring the students in' }).click();
    await page
      .getByLabel('A table with the columns name and email')
      .fill('name,email\nHoku Kealoha,hoku.kealoha@saltwick.example');
    await page.getByRole('button', { name: 'Look at it' }).click();
    await page.getByRole('button', { name: 'Take it over' }).click();
    await expect(page.getByText('invited, no password yet')).toBeVisible();
    await page.getByRole('link', { name: 'Docket' }).click();
    await expect(next).toContainText('A brief');
  });

  await test.step('takes a brief from the shelf, which is the school’s own then', async () => {
    await page.getByRole('link', { name: 'Choose a brief' }).click();
    const shelf = page.getByRole('list', { name: 'Shelf' });
    await expect(shelf.getByRole('listitem')).toHaveCount(12);
    await shelf
      .getByRole('listitem')
      .filter({ hasText: 'Lamplighter' })
      .getByRole('button', { name: 'Take over' })
      .click();
    await expect(page.getByRole('row').filter({ hasText: 'Lamplighter' })).toBeVisible();
    await page.getByRole('link', { name: 'Docket' }).click();
    await expect(next).toContainText('Its date');
  });

  await test.step('sets it, with its date', async () => {
    await page.getByRole('link', { name: 'Set it in the ledger' }).click();
    const dialog = page.getByRole('dialog');
    await choose(dialog, 'Exercise', /Lamplighter/);
    await dialog.getByRole('button', { name: 'Set it' }).click();
    await expect(page.getByRole('columnheader', { name: /Lamplighter/ })).toBeVisible();
  });

  const student = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage();
  await test.step('the student comes in by the invitation that the outbox has, and hands in', async () => {
    await page.getByRole('link', { name: 'Outbox' }).click();
    await page.getByRole('button', { name: /Your place in the course/ }).click();
    const link = (await page.getByText(/\/invitation\//).textContent())!.trim();
    // The same has been sent to them.
    expect(linkIn(await mailed('hoku.kealoha@saltwick.example', /Your place/))).toBe(link);
    await expect(async () => {
      await page.reload();
      await page.getByRole('button', { name: /Your place in the course/ }).click();
      await expect(page.getByText('handed over to the mail server')).toBeVisible({ timeout: 3_000 });
    }).toPass();
    await comeIn(student, link);
    await student.getByRole('link', { name: 'Hand in' }).click();
    await student
      .locator('input[type=file]')
      .first()
      .setInputFiles(walkFile('lamplighter-1.bvh', { slide: 6 }));
    await expect(student.getByTestId('file-check')).toContainText('23 joints');
    await student.getByRole('button', { name: 'Hand it in' }).click();
    await expect(student.getByText('smoothing, handed in')).toBeVisible();
  });

  await test.step('and the first shot is reviewed and sent back', async () => {
    await page.getByRole('link', { name: 'Docket' }).click();
    await page.getByRole('link', { name: 'Hoku Kealoha' }).click();
    await expect(page.getByText(/\d+ made/)).toBeVisible();
    await page.getByRole('button', { name: 'Send back' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Words to the student').fill('The planted foot slides.');
    await dialog.getByRole('button', { name: 'Send it back' }).click();
    await expect(page.getByRole('heading', { name: 'Nothing waits for you' })).toBeVisible();
    await student.goto(new URL('/worksheet', INVITATION).href);
    await expect(student.getByText('The planted foot slides.')).toBeVisible();
  });
  await test.step('a forgotten password is set anew by the address that a message brings', async () => {
    expect((await mailed('hoku.kealoha@saltwick.example', /sent back/)).text).toContain('The planted foot slides.');
    await student.getByRole('button', { name: 'Sign out', exact: true }).click();
    await student.getByRole('link', { name: 'Forgotten your password?' }).click();
    await student.getByLabel('E-mail').fill('hoku.kealoha@saltwick.example');
    await student.getByRole('button', { name: 'Send it' }).click();
    await expect(student.getByRole('status')).toContainText('a message is on its way');
    await comeIn(student, linkIn(await mailed('hoku.kealoha@saltwick.example', /Another password/)));
    await expect(student.getByText('The planted foot slides.')).toBeVisible();
  });
  await test.step('the student signs in with the account that the school has for them; a stranger is told why not', async () => {
    await student.getByRole('button', { name: 'Sign out', exact: true }).click();
    const throughTheProvider = async (own: typeof page, login: string): Promise<void> => {
      await own.getByRole('link', { name: 'Sign in with Saltwick’s account' }).click();
      await own.locator('input[name=login]').fill(login);
      await own.locator('input[name=password]').fill('anything');
      await own.locator('button[type=submit]').click();
      await own.locator('button[type=submit]').click();
    };
    await throughTheProvider(student, 'hoku');
    await expect(student.getByText('The planted foot slides.')).toBeVisible();
    const stranger = await (await browser.newContext()).newPage();
    await stranger.goto(new URL('/', INVITATION).href);
    await throughTheProvider(stranger, 'stranger');
    await expect(stranger.getByRole('alert')).toContainText('Nobody here has the address of that account');
    await stranger.context().close();
  });

  await test.step('the instructor takes a second factor, and signs in with it, and with a recovery code', async () => {
    await page.getByRole('link', { name: /^Ottoline Farrow/ }).click();
    const section = page.getByRole('region', { name: 'Second factor' });
    await section.getByRole('button', { name: 'Set it up' }).click();
    await expect(section.getByRole('img', { name: 'The secret as a picture for your telephone' })).toBeVisible();
    const secret = (await section.getByText(/^([A-Z2-7]{4} ){7}[A-Z2-7]{4}$/).textContent())!.replaceAll(' ', '');
    await section.getByLabel('The code it shows now').fill('000000');
    await section.getByRole('button', { name: 'Switch it on' }).click();
    await expect(section).toContainText('This code is not right');
    await section.getByLabel('The code it shows now').fill(await generate({ secret }));
    await section.getByRole('button', { name: 'Switch it on' }).click();
    const codes = section.getByRole('list', { name: 'Recovery codes' }).getByRole('listitem');
    await expect(codes).toHaveCount(10);
    const [code] = await codes.allTextContents();
    await section.getByRole('button', { name: 'I have them' }).click();
    await expect(section).toContainText('10 recovery codes left');
    await page.getByRole('button', { name: 'Sign out', exact: true }).click();
    await page.getByLabel('E-mail').fill('ottoline@saltwick.example');
    await page.getByLabel('Password').fill(PASSWORD);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByLabel('Code')).toBeFocused();
    await page.getByLabel('Code').fill(code!);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('button', { name: 'Sign out', exact: true })).toBeVisible();
  });
  await student.context().close();
  await context.close();
});
