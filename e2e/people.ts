import { type BrowserContext, expect, type Locator, type Page, test as base } from '@playwright/test';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import type { WalkFaults, WalkOptions } from '@ypsigraph/core/exemplar/walk-options';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';

/** Opens a page of their own for someone of the night school, signed in with one click. */
export type ComeInAs = (name: string) => Promise<Page>;

/** Tests in which people come in; their pages are closed when the test ends, so that no figure goes on walking in the background. */
export const test = base.extend<{ comeInAs: ComeInAs }>({
  comeInAs: async ({ browser }, use) => {
    const contexts: BrowserContext[] = [];
    await use(async (name) => {
      // Figures stand still unless a test lets them walk: software-drawn pages of several people share two cores.
      const context = await browser.newContext({ reducedMotion: 'reduce' });
      contexts.push(context);
      const page = await context.newPage();
      await page.goto('/');
      await page.getByRole('button', { name: new RegExp(`^${name}`) }).click();
      await page.getByRole('button', { name: 'Sign out', exact: true }).waitFor();
      return page;
    });
    for (const context of contexts) await context.close();
  },
});

/** A file to hand in: a walk with chosen faults. */
export const walkFile = (name: string, faults: WalkFaults = {}, options: Partial<WalkOptions> = {}) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(writeBvh(walkExemplar(options, faults))),
});

/** Opens a shot from the docket: a student may have several that wait. */
export const openShot = (page: Page, student: string, exercise = 'Night round'): Promise<void> =>
  page.getByRole('row').filter({ hasText: exercise }).getByRole('link', { name: student }).click();

/** Chooses one of a list by its text, or by the first that a pattern fits. */
export async function choose(within: Page | Locator, list: string, option: string | RegExp): Promise<void> {
  const select = within.getByRole('combobox', { name: list, exact: true });
  // What it offers may still be on its way, and the page that is left may have a list of the same name.
  await expect(async () => {
    const texts = await select.locator('option').allTextContents();
    const text = texts.find((own) => (typeof option === 'string' ? own === option : option.test(own)));
    if (text === undefined) throw new Error(`${list} has no ${String(option)}, but ${texts.join(', ')}`);
    await select.selectOption({ label: text }, { timeout: 1000 });
  }).toPass({ timeout: 60_000 });
}
