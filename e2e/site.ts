import { ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Page, expect, test as base } from '@playwright/test';
// @ts-expect-error plain JavaScript shared with the start command
import { freePort, startDatabase } from '../scripts/common.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));

/** A database and a server of the tests' own; the server can be killed and started again. */
export class Site {
  private server?: ChildProcess;
  private constructor(
    readonly url: string,
    private readonly port: number,
    private readonly folder: string,
    private readonly database: { url: string; stop(): Promise<void> },
  ) {}

  static async open(): Promise<Site> {
    const folder = mkdtempSync(join(tmpdir(), 'unirota-e2e-'));
    const database = await startDatabase(folder);
    const port = await freePort();
    const site = new Site(`http://127.0.0.1:${port}/`, port, folder, database);
    await site.start();
    return site;
  }

  async start(): Promise<void> {
    const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      env: { ...process.env, UNIROTA_DATABASE: this.database.url, UNIROTA_PORT: String(this.port) },
    });
    this.server = child;
    await new Promise<void>((resolve, reject) => {
      child.once('message', () => resolve());
      child.once('exit', (c) => reject(new Error(`server ended with ${c}`)));
    });
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

export const test = base.extend<object, { site: Site }>({
  site: [
    async ({}, use) => {
      const site = await Site.open();
      await use(site);
      await site.close();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
});
export { expect };

/** A fresh copy of a demo design, opened; every test works on its own. */
export async function openCopy(page: Page, site: Site, name: string): Promise<string> {
  const list = (await (await page.request.get(`${site.url}api/designs`)).json()) as { id: string; name: string }[];
  const id = list.find((d) => d.name === name)!.id;
  const save = crypto.randomUUID();
  const copy = (await (await page.request.post(`${site.url}api/designs/${id}/copy`, { data: { save } })).json()) as { id: string };
  await page.goto(`${site.url}design/${copy.id}`);
  await expect(page.getByRole('group', { name: 'Train map' })).toBeVisible();
  await expect(page.locator('canvas')).toHaveAttribute('data-drawn', /\d+/);
  return copy.id;
}

export const position = (page: Page) => page.getByRole('slider', { name: 'Crank of the source' });
export const member = (page: Page, name: string) =>
  page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: new RegExp(`^${name}, `) });
