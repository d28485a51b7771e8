import { expect } from '@playwright/test';
import { test } from './people.ts';

test('a passkey is added, signs in without a password, and no more once it is removed', async ({
  browser,
  baseURL,
}) => {
  // A passkey is bound to a name; the loopback's own is one.
  const home = baseURL!.replace('127.0.0.1', 'localhost');
  const context = await browser.newContext({ baseURL: home, reducedMotion: 'reduce' });
  const page = await context.newPage();
  // The browser's own stand-in for a telephone (Chrome DevTools Protocol, WebAuthn).
  const devtools = await context.newCDPSession(page);
  await devtools.send('WebAuthn.enable');
  await devtools.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      ...{ protocol: 'ctap2', transport: 'internal', hasResidentKey: true, hasUserVerification: true },
      ...{ isUserVerified: true, automaticPresenceSimulation: true },
    },
  });
  await page.goto('/');
  await page.getByRole('button', { name: /Baraka Lundqvist/ }).click();
  await page.getByRole('heading', { name: 'Docket' }).waitFor();
  await page.goto('/account');
  const keys = page.getByRole('region', { name: 'Passkeys' });
  await keys.getByRole('button', { name: 'Add a passkey on this device' }).click();
  await expect(keys.getByRole('listitem')).toHaveCount(1);
  await keys.getByRole('button', { name: 'Add a passkey on this device' }).click();
  await expect(page.getByText('This device has a passkey for you already.')).toBeVisible();

  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await page.getByRole('button', { name: 'Use a passkey' }).click();
  await page.getByRole('heading', { name: 'Docket' }).waitFor();
  await page.goto('/account');
  await expect(keys.getByRole('listitem')).toContainText('used');
  await keys.getByRole('button', { name: 'Remove' }).click();
  await expect(keys.getByRole('listitem')).toHaveCount(0);
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await page.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(page.getByRole('alert')).toContainText('That passkey is not known here');
  await context.close();
});
