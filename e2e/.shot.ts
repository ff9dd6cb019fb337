import { mkdirSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { Site, idOf } from './site';
const out = process.argv[2] ?? '/tmp/shots';
const only = process.argv.slice(3);
mkdirSync(out, { recursive: true });
const site = await Site.open();
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--no-sandbox',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-quic',
    '--no-first-run',
  ],
});
const open = async (name: string, size = { width: 1280, height: 800 }, dark = false): Promise<Page> => {
  const page = await (await browser.newContext({ viewport: size })).newPage();
  if (dark) await page.addInitScript(() => localStorage.setItem('unirota.theme', 'dark'));
  page.on('pageerror', (e) => console.log('page error', e.message));
  const id = await idOf(page, site, name);
  const copy = (await (await page.request.post(`${site.url}api/designs/${id}/copy`, { data: { save: crypto.randomUUID() } })).json()) as {
    id: string;
  };
  await page.goto(`${site.url}design/${copy.id}`);
  await page.waitForFunction(() => document.querySelector('canvas')?.dataset['drawn'], undefined, { timeout: 60000 });
  await page.waitForTimeout(500);
  return page;
};
const step = async (p: Page, name: string) => {
  await p.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name }).click();
  await p.waitForTimeout(500);
};
const shots: Record<string, () => Promise<void>> = {
  duty: async () => {
    const p = await open('Paddle winding gear');
    await step(p, 'Duty');
    await p.screenshot({ path: `${out}/duty.png` });
  },
  load: async () => {
    const p = await open('Paddle winding gear');
    await step(p, 'Duty');
    await p.getByRole('button', { name: 'Force', exact: true }).first().click();
    await p.waitForTimeout(400);
    await step(p, 'Layout');
    await p.screenshot({ path: `${out}/load.png` });
  },
  tools: async () => {
    const p = await open('Swing footbridge');
    await step(p, 'Layout');
    await p.getByRole('button', { name: 'Tools' }).click();
    await p.waitForTimeout(400);
    await p.screenshot({ path: `${out}/tools.png` });
  },
  sheet: async () => {
    const p = await open('Weed rake');
    await step(p, 'Train');
    await p.getByRole('group', { name: 'Train map' }).getByRole('button').first().click();
    await p.waitForTimeout(400);
    await p.screenshot({ path: `${out}/sheet.png` });
  },
  stage: async () => {
    const p = await open('Paddle winding gear');
    await step(p, 'Layout');
    await p.keyboard.press('p');
    await p.getByRole('button', { name: /^Planetary set/ }).click();
    await p.getByLabel('Turns in for one out, wanted').fill('1.3');
    await p.keyboard.press('Enter');
    await p.waitForTimeout(500);
    await p.screenshot({ path: `${out}/stage.png` });
  },
  dark: async () => {
    const p = await open('Paddle winding gear', { width: 1024, height: 700 }, true);
    await step(p, 'Duty');
    await p.screenshot({ path: `${out}/dark.png` });
  },
};
for (const [name, shoot] of Object.entries(shots))
  if (!only.length || only.includes(name)) {
    try {
      await shoot();
      console.log(name);
    } catch (e) {
      console.log(name, 'failed', (e as Error).message.slice(0, 300));
    }
  }
await browser.close();
await site.close();
process.exit(0);
