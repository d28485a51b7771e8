import { expect, type Page } from '@playwright/test';
import { openShot } from './people.ts';

/** Opens a shot's desk, at its first frame, with all it has to show. */
export const atDesk = async (page: Page, student: string, exercise?: string): Promise<void> => {
  await openShot(page, student, exercise);
  // Once the readings have come the strip has all its lanes, and the paper its size.
  await expect(page.getByTestId('lanes')).toHaveAttribute('data-lanes', /footfalls|holds/);
  await page.keyboard.press('Home');
};

/**
 * The paper as it is seen, but for the dial. A picture of it, since reading a canvas again and again makes the browser change how it keeps it. The
 * dial is drawn by the page, which draws only what has changed of it: its edges may then differ by a shade from those that were drawn as a whole.
 */
export async function overlay(page: Page): Promise<string> {
  const mask = [page.getByTestId('dial')];
  return (await page.getByTestId('paper').screenshot({ animations: 'disabled', mask })).toString('base64');
}

/** The paper once it stays as it is. */
export async function settled(page: Page): Promise<string> {
  let last = await overlay(page);
  for (let k = 0; k < 20; k++) {
    await page.waitForTimeout(250);
    const now = await overlay(page);
    if (now === last) return now;
    last = now;
  }
  throw new Error('the paper does not come to rest');
}

export const words = (page: Page) => page.getByLabel('Words of the mark');
/** Writes the words of the mark that is being written, and makes it. */
export const make = async (page: Page, text: string): Promise<void> => {
  await words(page).fill(text);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByTestId('mark').filter({ hasText: text })).toContainText('not sent');
};
