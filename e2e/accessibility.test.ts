import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { choose, test } from './people.ts';

type RunOnly = NonNullable<Parameters<AxeBuilder['options']>[0]['runOnly']>;

/** Rules whose answer depends on colours. */
const OF_COLOURS: RunOnly = { type: 'rule', values: ['color-contrast', 'link-in-text-block'] };
const WCAG: RunOnly = { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] };

/** WCAG 2.2, level AA, as far as axe-core can tell by itself: in the light theme all of it, in the dim one what depends on colours. */
async function check(page: Page): Promise<void> {
  const found: string[] = [];
  for (const theme of ['dim', 'light'] as const) {
    await page.evaluate(async (own) => {
      document.documentElement.dataset.theme = own;
      window.dispatchEvent(new Event('themechange'));
      // Colours go over from one theme to the other, those that are inherited one behind the other: what is judged is where they come to rest.
      const frame = (): Promise<unknown> => new Promise((resolve) => requestAnimationFrame(resolve));
      for (let k = 0; k < 3 || (k < 200 && document.getAnimations().length > 0); k++) await frame();
    }, theme);
    // No page holds another's frames: then axe need not open a page of its own to put together what it found.
    // Where the arc is short its points lie closer than a finger is wide: their places are what is shown (2.5.8, essential).
    const axe = new AxeBuilder({ page }).exclude('[data-testid="grips"]').setLegacyMode();
    const { violations } = await axe
      .options({ runOnly: theme === 'light' ? WCAG : OF_COLOURS, resultTypes: ['violations'] })
      .analyze();
    for (const { id, nodes } of violations)
      found.push(`${theme}: ${id}: ${nodes.map((node) => node.target.join(' ')).join(', ')}`);
  }
  expect(found).toEqual([]);
}

/** The desk with everything on it that can be: folds open, lenses on, a mark being written, each dialog and menu. */
async function everyState(page: Page): Promise<void> {
  await choose(page, 'Point', 'hand.L');
  await page.getByRole('button', { name: /^Findings/ }).click();
  await page.getByRole('button', { name: /^Readings/ }).click();
  await page.getByLabel('Signal of the trace').selectOption('distance');
  await page.getByRole('slider', { name: 'Frame', exact: true }).focus();
  for (const key of ['y', 'g', 'w', 'r', 'q', 'b', 'v', 't', 'p', '+', 'i']) await page.keyboard.press(key);
  await page.keyboard.press('3');
  await page.getByRole('button', { name: /^Point 2 of the wanted arc/ }).waitFor();
  // An arc as long as its points need to stand apart.
  await page.getByTestId('composer').getByLabel(/^from/).fill('5');
  await page.getByTestId('composer').getByLabel(/^to/).fill('17');
  await check(page);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Discard' }).click();
  for (const name of ['Lanes', 'Hide parts']) {
    await page.getByRole('button', { name, exact: true }).click();
    await check(page);
    await page.keyboard.press('Escape');
  }
  for (const name of ['Keys', 'How the file was read']) {
    await page.getByRole('button', { name, exact: true }).click();
    await page.getByRole('dialog').waitFor();
    await check(page);
    await page.keyboard.press('Escape');
  }
  await page.getByRole('button', { name: 'Also for …' }).first().click();
  await page.getByRole('dialog').waitFor();
  await check(page);
  await page.keyboard.press('Escape');
  for (const key of ['z', 'p', '\\']) await page.keyboard.press(key);
}

/** Pages of those who teach that hang together with no shot on the desk. */
async function everyPage(page: Page): Promise<void> {
  for (const name of ['Tally', 'Briefs', 'Cohort', 'Outbox']) {
    await page.getByRole('link', { name, exact: true }).click();
    await page.getByRole('heading', { name, exact: true }).first().waitFor();
    await page.getByRole('table').or(page.getByRole('article')).first().waitFor();
    await check(page);
  }
  await page.goto('/record');
  await page.getByRole('table').waitFor();
  await check(page);
  await page.goto('/exemplars');
  await page.getByLabel('planted feet slide').check();
  await page.getByTestId('said').getByRole('listitem').first().waitFor();
  await check(page);
  await page.goto('/briefs');
  await page.getByRole('link', { name: 'Night round', exact: true }).click();
  await page.getByLabel('Find a gauge').fill('foot');
  await page.getByTestId('gauge-line').first().waitFor();
  await page.getByTestId('figure-moving').waitFor();
  await check(page);
  await page.goto('/ledger');
  await page.getByRole('button', { name: 'dates', exact: true }).first().click();
  await page.getByRole('dialog').getByLabel('blocking due').waitFor();
  await check(page);
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Bram Hoekstra' }).click();
  await page.getByTestId('totals').waitFor();
  await check(page);
  await page.goto('/docket');
  await page.getByRole('link', { name: 'Bram Hoekstra' }).click();
  await page.getByRole('button', { name: 'About this shot' }).click();
  await page.getByRole('dialog').getByRole('table').waitFor();
  await check(page);
  await page.getByRole('link', { name: 'Return sheet' }).click();
  await page.locator('[data-testid=sheet][data-ready=true]').waitFor();
  await check(page);
}

test('every page keeps to WCAG AA, light and dim', async ({ comeInAs }) => {
  // Each of some thirty pages and states is walked through twice, a brief with all its gauges among them.
  const ottoline = await comeInAs('Ottoline Farrow');
  await ottoline.getByRole('heading', { name: 'Docket' }).waitFor();
  await check(ottoline);
  await ottoline.goto('/ledger');
  await ottoline.getByRole('heading', { name: 'Ledger' }).waitFor();
  await check(ottoline);
  await everyPage(ottoline);
  await ottoline.goto('/docket');
  await ottoline.getByRole('link', { name: 'Bram Hoekstra' }).click();
  await ottoline.getByTestId('strip').waitFor();
  await ottoline.keyboard.press('3');
  await check(ottoline);
  await everyState(ottoline);
  await ottoline.getByRole('button', { name: 'Send back' }).click();
  await check(ottoline);

  const emeka = await comeInAs('Emeka Brightwater');
  await emeka.getByRole('heading', { name: 'Worksheet' }).waitFor();
  await check(emeka);
  await emeka.getByRole('link', { name: 'Night round', exact: true }).click();
  await emeka.getByTestId('figure-moving').waitFor();
  await check(emeka);
  await emeka.goto('/worksheet');
  await emeka.getByRole('link', { name: 'Hand in the next revision' }).click();
  await emeka.getByRole('heading', { name: /Hand in/ }).waitFor();
  await check(emeka);
  await emeka.getByRole('button', { name: 'Sign out', exact: true }).click();
  await emeka.getByRole('heading', { name: 'Sign in' }).waitFor();
  await check(emeka);
});
