import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
// @ts-expect-error plain JavaScript shared with the start command
import { freePort } from '../scripts/common.mjs';
import { TestIssuer } from '../server/test/issuer';
import { Site, expect, test } from './site';

test('somebody signs in at the issuer of their works, comes back to where they were, and signs out at both', async ({ page }) => {
  test.setTimeout(180_000);
  const folder = mkdtempSync(join(tmpdir(), 'unirota-e2e-'));
  const port = (await freePort()) as number;
  const file = join(folder, 'issuers.json');
  const works = { id: 'works', name: 'Alder Works', clientId: 'unirota-page', clientSecret: 'a secret of the test' };
  writeFileSync(file, JSON.stringify([{ ...works, issuer: `http://127.0.0.1:${port}`, roleClaim: 'roles', members: ['drives'] }]));
  const site = await Site.open({ UNIROTA_ACCOUNTS: 'on', UNIROTA_SIGN_ON: file });
  const issuer = await TestIssuer.open(
    works.clientId,
    [site.url.replace(/\/$/, '')],
    { bo: { name: 'Bo Lock', roles: ['drives'] }, cy: { name: 'Cy Sluice' } },
    port,
  );
  try {
    // Who has no role there does not come in, and is told so.
    issuer.as = 'cy';
    await page.goto(site.url);
    await page.getByRole('link', { name: 'Sign in with Alder Works' }).click();
    await expect(page.getByRole('alert')).toHaveText('Your account there may not use Unirota: ask whoever runs this server');
    await page.context().clearCookies();
    issuer.as = 'bo';
    await page.getByRole('link', { name: 'Sign in with Alder Works' }).click();
    await page.getByRole('button', { name: 'Bo Lock' }).click();
    const account = page.getByRole('dialog', { name: 'Bo Lock' });
    await expect(account.getByRole('link', { name: 'Add sign-in with Alder Works' })).toBeVisible();
    // An identity that may not be added is said on the page of whoever is signed in.
    issuer.as = 'cy';
    await page.context().clearCookies({ domain: '127.0.0.1', name: /^_/ });
    await account.getByRole('link', { name: 'Add sign-in with Alder Works' }).click();
    await expect(page.getByRole('alert')).toHaveText('Your account there may not use Unirota: ask whoever runs this server');
    await page.getByRole('button', { name: 'Bo Lock' }).click();
    await account.getByRole('button', { name: 'Sign out', exact: true }).click();
    await page.getByRole('button', { name: 'Yes, sign me out' }).click();
    await expect(page.getByRole('link', { name: 'Sign in with Alder Works' })).toBeVisible();
    expect(issuer.ended).toBe(1);
  } finally {
    await Promise.all([site.close(), issuer.close()]);
    rmSync(folder, { recursive: true, force: true });
  }
});
