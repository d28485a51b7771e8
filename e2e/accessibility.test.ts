import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';
import { test } from './people.ts';

/** WCAG 2.2, level AA, as far as axe-core can tell by itself. */
async function check(page: Page): Promise<void> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze();
  const found = violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.target.join(' ')).join(', ')}`);
  expect(found).toEqual([]);
}

for (const theme of ['light', 'dim'] as const) {
  test(`every page keeps to WCAG AA in the ${theme} theme`, async ({ comeInAs }) => {
    const dim = (page: Page): Promise<unknown> =>
      theme === 'dim' ? page.getByRole('button', { name: /Dim theme/ }).click() : Promise.resolve();
    const ottoline = await comeInAs('Ottoline Farrow');
    await dim(ottoline);
    await ottoline.getByRole('heading', { name: 'Docket' }).waitFor();
    await check(ottoline);
    await ottoline.goto('/ledger');
    await ottoline.getByRole('heading', { name: 'Ledger' }).waitFor();
    await check(ottoline);
    await ottoline.goto('/docket');
    await ottoline.getByRole('link', { name: 'Bram Hoekstra' }).click();
    await ottoline.getByTestId('strip').waitFor();
    await ottoline.keyboard.press('3');
    await check(ottoline);
    await ottoline.getByRole('button', { name: 'Send back' }).click();
    await check(ottoline);

    const emeka = await comeInAs('Emeka Brightwater');
    await dim(emeka);
    await emeka.getByRole('heading', { name: 'Worksheet' }).waitFor();
    await check(emeka);
    await emeka.getByRole('link', { name: 'Hand in the next revision' }).click();
    await emeka.getByRole('heading', { name: /Hand in/ }).waitFor();
    await check(emeka);
    await emeka.getByRole('button', { name: 'Sign out' }).click();
    await emeka.getByRole('heading', { name: 'Sign in' }).waitFor();
    await check(emeka);
  });
}
