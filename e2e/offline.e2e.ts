import { expect, idOf, layout, openCopy, Site, test as base } from './site';

/** A server of its own, which goes away; and a browser that may keep the page. */
const test = base.extend<object, { ownSite: Site }>({
  ownSite: [
    async ({}, use) => {
      const site = await Site.open();
      await use(site);
      await site.close();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
});
test.use({ serviceWorkers: 'allow' });

test('without the server the page opens with the designs that were opened here; what is done is kept, said so, and sent later', async ({
  page,
  ownSite,
}) => {
  const id = await openCopy(page, ownSite, 'Paddle winding gear');
  // The page is fetched beforehand while nobody waits for it.
  await page.evaluate(() => navigator.serviceWorker.ready);
  await expect
    .poll(() => page.evaluate(async () => (await caches.keys()).some((k) => k.includes(':assets:page:cache'))), { timeout: 60_000 })
    .toBe(true);
  await page.reload();
  await expect(layout(page)).toHaveAttribute('data-drawn', /\d+/);
  await ownSite.kill();
  await page.reload();
  await expect(layout(page)).toHaveAttribute('data-drawn', /\d+/, { timeout: 30_000 });
  await expect(page.getByText('The server is away: work is kept on this machine and sent later')).toBeVisible();
  const name = page.getByLabel('Name of the design');
  await name.fill('Named without the server');
  await name.press('Enter');
  await expect(page.getByText(/^Kept on this machine/)).toBeVisible();
  // The list says what is here, and opens it.
  await page.goto(ownSite.url);
  await expect(page.getByRole('heading', { name: 'On this machine' })).toBeVisible();
  await page
    .getByRole('link', { name: /Paddle winding gear/ })
    .first()
    .click();
  await expect(name).toHaveValue('Named without the server');
  await ownSite.start();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible({ timeout: 40_000 });
  expect(await idOf(page, ownSite, 'Named without the server')).toBe(id);
});
