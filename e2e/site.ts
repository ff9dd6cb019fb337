import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import AxeBuilder from '@axe-core/playwright';
import { Page, expect, test as base } from '@playwright/test';
// @ts-expect-error plain JavaScript shared with the start command
import { freePort } from '../scripts/common.mjs';
// @ts-expect-error plain JavaScript shared with the start command
import { startDatabase } from '../scripts/database.mjs';
// @ts-expect-error plain JavaScript shared with the start command
import { temporaryFolder } from '../scripts/temporary.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));

/** A database and a server of the tests' own; the server can be killed and started again. */
export class Site {
  private server?: ChildProcess;
  private constructor(
    readonly url: string,
    private readonly port: number,
    private readonly folder: string,
    private readonly database: { url: string; stop(): Promise<void> },
    private readonly settings: Record<string, string>,
  ) {}

  static async open(settings: Record<string, string> = {}): Promise<Site> {
    const folder = temporaryFolder('e2e');
    const database = await startDatabase(folder);
    const port = await freePort();
    const site = new Site(`http://127.0.0.1:${port}/`, port, folder, database, settings);
    await site.start();
    return site;
  }

  async start(): Promise<void> {
    const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      env: { ...process.env, UNIROTA_DATABASE: this.database.url, UNIROTA_PORT: String(this.port), ...this.settings },
    });
    this.server = child;
    await new Promise<void>((resolve, reject) => {
      child.once('message', () => resolve());
      child.once('exit', (c) => reject(new Error(`server ended with ${c}`)));
    });
  }

  /** What the command for the first administrator prints. */
  administratorLink(): string {
    const env = { ...process.env, UNIROTA_DATABASE: this.database.url, UNIROTA_ADDRESS: this.url, UNIROTA_ACCOUNTS: 'on' };
    const said = execFileSync(process.execPath, [join(root, 'scripts/administrator.mjs')], { cwd: root, encoding: 'utf8', env });
    return /http\S+/.exec(said)![0];
  }

  /** Ends the server at once, as a crash would. */
  async kill(): Promise<void> {
    const s = this.server!;
    const gone = new Promise((r) => s.once('exit', r));
    s.kill('SIGKILL');
    await gone;
  }

  async close(): Promise<void> {
    this.server?.kill('SIGKILL');
    await this.database.stop();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

export const test = base.extend<object, { site: Site; teamSite: Site }>({
  site: [
    async ({}, use) => {
      const site = await Site.open();
      await use(site);
      await site.close();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  /** Where people sign in. */
  teamSite: [
    async ({}, use) => {
      const site = await Site.open({ UNIROTA_ACCOUNTS: 'on' });
      await use(site);
      await site.close();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
});
export { expect };

/** The id of the design with a name. */
export async function idOf(page: Page, site: Site, name: string): Promise<string> {
  // By name it stands before its copies, of which a page of the list may be full.
  const list = (await (await page.request.get(`${site.url}api/designs`, { params: { search: name, order: 'name' } })).json()) as {
    designs: { id: string; name: string }[];
  };
  const [own, ...others] = list.designs.filter((d) => d.name === name);
  expect(others, `a test has made another design named “${name}”`).toEqual([]);
  return own.id;
}

/** A fresh copy of a demo design, opened; every test works on its own. */
export async function openCopy(page: Page, site: Site, name: string): Promise<string> {
  const id = await idOf(page, site, name);
  const save = crypto.randomUUID();
  const copy = (await (await page.request.post(`${site.url}api/designs/${id}/copy`, { data: { save } })).json()) as { id: string };
  await page.goto(`${site.url}design/${copy.id}`);
  await expect(page.getByRole('group', { name: 'Train map' })).toBeVisible();
  await expect(layout(page)).toHaveAttribute('data-drawn', /\d+/);
  return copy.id;
}

/** A demo's copy on Motion, with a run of it begun. */
export async function openAndRun(page: Page, site: Site, name: string): Promise<void> {
  await openCopy(page, site, name);
  await page.getByRole('button', { name: /^Motion/ }).click();
  await page.getByRole('button', { name: 'Run', exact: true }).click();
}

/** Chooses from a list by what it says: opens it, and takes the option. */
export async function choose(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label, exact: true }).click();
  await page
    .getByRole('listbox')
    .getByRole('option', { name: option, exact: typeof option === 'string' })
    .click();
}
export const dataSheet = (page: Page) => page.getByRole('complementary', { name: 'Data sheet' });
export const deck = (page: Page) => page.getByRole('region', { name: 'Crank deck' });
export const layout = (page: Page) => page.getByRole('img', { name: /^Layout of the train/ });
export const position = (page: Page) => page.getByRole('slider', { name: 'Crank of the source' });
export const member = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: new RegExp(`^${name}, `) });

/**
 * What axe finds on the page once nothing on it moves any more: a dialog that is still fading in has the contrast of its
 * fading, not its own.
 */
export async function axeFindings(page: Page) {
  await page.evaluate(async () => {
    const frame = () => new Promise((done) => requestAnimationFrame(done));
    const passing = () => document.getAnimations().filter((a) => a.playState === 'running' && a.effect?.getTiming().iterations !== Infinity);
    await frame();
    await frame();
    for (let left = passing(); left.length; left = passing()) {
      await Promise.all(left.map((a) => a.finished.catch(() => undefined)));
      await frame();
    }
  });
  const found = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa']).analyze();
  return found.violations;
}

/** Where on the page: the role and the name of the part. */
type Place = readonly [role: 'document' | 'navigation' | 'region' | 'group' | 'complementary' | 'main', name: string | undefined];
export const SHEET: Place = ['complementary', 'Data sheet'];
export const MAP: Place = ['group', 'Train map'];
export const BUILD: Place = ['group', 'Build'];
export const MAIN: Place = ['main', undefined];

/** Counts what a person does: clicks, fields filled, keys pressed. */
export class Hands {
  actions = 0;
  constructor(readonly page: Page) {}
  async click(name: string | RegExp, [role, region]: Place = ['document', undefined]): Promise<void> {
    this.actions++;
    await this.page
      .getByRole(role, { name: region, exact: true })
      .getByRole('button', { name, exact: typeof name === 'string' })
      .first()
      .click();
  }
  async type(label: string, value: string): Promise<void> {
    this.actions++;
    const f = this.page.getByLabel(label, { exact: true });
    await f.fill(value);
    await f.press('Enter');
  }
  async choose(label: string, value: string): Promise<void> {
    this.actions++;
    await choose(this.page, label, value);
  }
  async step(name: 'Duty' | 'Train' | 'Layout'): Promise<void> {
    await this.click(new RegExp(`^${name}`), ['navigation', 'Work order']);
  }
  /** Puts a stage in behind a member. */
  async put(after: string, kind: RegExp, values: Record<string, string> = {}): Promise<void> {
    await this.click(`Insert stage after ${after}`, MAP);
    await this.click(kind, SHEET);
    for (const [label, value] of Object.entries(values)) await this.type(label, value);
    await this.click('Insert', SHEET);
    await expect(this.page.getByRole('button', { name: 'Insert', exact: true })).toBeHidden();
  }
}

export async function openNew(page: Page, site: Site, name: string): Promise<void> {
  await page.goto(site.url);
  await page
    .getByRole('button', { name: /New design/ })
    .first()
    .click();
  await expect(page.getByText('Nothing in the train yet')).toBeVisible();
  const field = page.getByLabel('Name of the design');
  await field.fill(name);
  await field.press('Enter');
  await field.blur();
}
