import type { Browser, Page } from '@playwright/test';
import { walkExemplar } from '@ypsigraph/core/exemplar/walk';
import type { WalkFaults, WalkOptions } from '@ypsigraph/core/exemplar/walk-options';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';

/** A page of their own for someone of the night school, signed in with one click. */
export async function comeInAs(browser: Browser, name: string): Promise<Page> {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto('/');
  await page.getByRole('button', { name: new RegExp(`^${name}`) }).click();
  await page.getByText(name).first().waitFor();
  return page;
}

/** A file to hand in: a walk with chosen faults. */
export const walkFile = (name: string, faults: WalkFaults = {}, options: Partial<WalkOptions> = {}) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(writeBvh(walkExemplar(options, faults))),
});
