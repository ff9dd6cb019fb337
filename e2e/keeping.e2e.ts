import { readlinkSync, rmSync } from 'node:fs';
import { join as pathOf } from 'node:path';
import { type BrowserContext, type Page, chromium } from '@playwright/test';
// @ts-expect-error plain JavaScript shared with the start command
import { temporaryFolder } from '../scripts/temporary.mjs';
import config from './playwright.config';
import { type Site, axeFindings, expect, openCopy, test } from './site';

const name = (page: Page) => page.getByLabel('Name of the design');
async function rename(page: Page, to: string): Promise<void> {
  await name(page).fill(to);
  await name(page).press('Enter');
}
const saved = (page: Page) => expect(page.getByText('Saved', { exact: true })).toBeVisible();
async function stored(page: Page, site: Site, id: string): Promise<{ revision: number; design: { name: string; note?: string } }> {
  const answer = await page.request.get(`${site.url}api/designs/${id}`);
  return answer.ok() ? answer.json() : { revision: 0, design: { name: `answered ${answer.status()}` } };
}
/** The server has this name of the design, and the page says so. */
async function holds(page: Page, site: Site, id: string, expected: string): Promise<void> {
  await expect.poll(async () => (await stored(page, site, id)).design.name).toBe(expected);
  await saved(page);
}
async function saveElsewhere(page: Page, site: Site, id: string, change: object): Promise<void> {
  const now = await stored(page, site, id);
  const data = { base: now.revision, save: crypto.randomUUID(), design: { ...now.design, ...change } };
  expect((await page.request.put(`${site.url}api/designs/${id}`, { data })).status()).toBe(200);
}
/** No save comes through, as if the line were cut. */
const cut = (page: Page) => page.route('**/api/designs/*', (r) => (r.request().method() === 'PUT' ? r.abort() : r.continue()));

test.describe('work kept on this machine', () => {
  test('twenty times: a browser killed once it says that work is kept has it when it comes back', async ({ page, site }) => {
    test.setTimeout(240_000);
    const design = { format: 1, name: 'Kept 0', members: [], joints: [], elements: [], couplings: [], sources: [], loads: [], wanted: [] };
    const made = (await (await page.request.get(`${site.url}api/designs`)).json()) as { designs: { id: string }[] };
    const whole = (await stored(page, site, made.designs[0].id)).design;
    const empty = { ...whole, ...design, format: (whole as { format?: number }).format };
    const answer = await page.request.post(`${site.url}api/designs`, { data: { save: crypto.randomUUID(), design: empty } });
    expect(answer.status(), await answer.text()).toBe(201);
    const { id } = (await answer.json()) as { id: string };
    const profile = temporaryFolder('profile') as string;
    try {
      for (let k = 1; k <= 20; k++) {
        const browser: BrowserContext = await chromium.launchPersistentContext(profile, { ...config.use!.launchOptions });
        const p = await browser.newPage();
        await p.goto(`${site.url}design/${id}`);
        await expect(name(p)).toHaveValue(`Kept ${k - 1}`);
        await saved(p);
        expect((await stored(page, site, id)).design.name).toBe(`Kept ${k - 1}`);
        await cut(p);
        await rename(p, `Kept ${k}`);
        await expect(p.getByText(/^Kept on this machine/)).toBeVisible();
        // The browser's own lock on its profile names its process.
        process.kill(Number(readlinkSync(pathOf(profile, 'SingletonLock')).split('-').pop()), 'SIGKILL');
        await browser.close().catch(() => undefined);
      }
    } finally {
      rmSync(profile, { recursive: true, force: true, maxRetries: 5 });
    }
  });

  test('two tabs of one design show the same; when the one that saves is closed, the other saves', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    const second = await page.context().newPage();
    await second.goto(`${site.url}design/${id}`);
    await expect(name(second)).toHaveValue('Level board (copy)');
    await rename(page, 'From the first tab');
    await expect(name(second)).toHaveValue('From the first tab');
    await rename(second, 'From the second tab');
    await expect(name(page)).toHaveValue('From the second tab');
    await saved(page);
    await saved(second);
    await expect(second.getByRole('button', { name: 'Undo: Rename the design' })).toBeEnabled();
    await page.close();
    await rename(second, 'The first tab is closed');
    await holds(second, site, id, 'The first tab is closed');
  });

  test('an edit made just before the design is left is on the server', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    await rename(page, 'Left at once');
    await page.getByRole('link', { name: 'All designs' }).click();
    await expect(page.getByRole('heading', { name: 'Left at once' })).toBeVisible();
    expect((await stored(page, site, id)).design.name).toBe('Left at once');
  });

  test('a page with work that the server has not confirmed asks before it goes', async ({ page, site }) => {
    await openCopy(page, site, 'Level board');
    await cut(page);
    await rename(page, 'Not confirmed');
    await expect(page.getByText(/^Kept on this machine/)).toBeVisible();
    const asked = page.waitForEvent('dialog');
    await page.close({ runBeforeUnload: true });
    const dialog = await asked;
    expect(dialog.type()).toBe('beforeunload');
    await dialog.dismiss();
    await expect(name(page)).toHaveValue('Not confirmed');
  });

  test('blocked storage is said and stays said; the server has the work', async ({ page, site }) => {
    await page.addInitScript(
      () =>
        (IDBFactory.prototype.open = () => {
          throw new DOMException('blocked', 'SecurityError');
        }),
    );
    const id = await openCopy(page, site, 'Level board');
    await expect(page.getByText('This browser keeps nothing on this machine')).toBeVisible();
    await rename(page, 'Without storage');
    await holds(page, site, id, 'Without storage');
    await expect(page.getByText('This browser keeps nothing on this machine')).toBeVisible();
    await cut(page);
    await rename(page, 'Nowhere yet');
    await expect(page.getByText('Kept nowhere yet')).toBeVisible();
    expect((await stored(page, site, id)).design.name).toBe('Without storage');
  });

  test('a draft that cannot be read any more can be taken away as it is', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    await rename(page, 'Before');
    await holds(page, site, id, 'Before');
    await page.evaluate(async (design) => {
      const db = await new Promise<IDBDatabase>(
        (done) =>
          (indexedDB.open('unirota').onsuccess = function () {
            done((this as IDBOpenDBRequest).result);
          }),
      );
      const tx = db.transaction('drafts', 'readwrite');
      tx.objectStore('drafts').put({ design, writer: 'gone', version: 3, base: 1, document: { name: 'Broken', elements: 'none' } });
      await new Promise((done) => (tx.oncomplete = done));
      db.close();
    }, id);
    await page.reload();
    await expect(page.getByText('Work kept on this machine cannot be read')).toBeVisible();
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Download it as it is' }).click();
    expect((await download).suggestedFilename()).toBe('Before kept.json');
    await page.getByRole('button', { name: 'Discard draft' }).click();
    await expect(page.getByText('cannot be read')).toHaveCount(0);
    await page.reload();
    await expect(name(page)).toHaveValue('Before');
    await expect(page.getByText('cannot be read')).toHaveCount(0);
  });
});

test.describe('two versions', () => {
  test('that touch different things are joined, and undo takes back only what was done here', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    await saveElsewhere(page, site, id, { note: 'Seen in spring' });
    await rename(page, 'Level board, north');
    const dialog = page.getByRole('dialog', { name: 'Saved elsewhere meanwhile' });
    await expect(dialog).toContainText('can be joined');
    await dialog.getByRole('button', { name: 'Merge', exact: true }).click();
    await saved(page);
    expect((await stored(page, site, id)).design).toMatchObject({ name: 'Level board, north', note: 'Seen in spring' });
    await page.getByRole('button', { name: 'Undo: Rename the design' }).click();
    await expect(name(page)).toHaveValue('Level board (copy)');
    await saved(page);
    expect((await stored(page, site, id)).design).toMatchObject({ name: 'Level board (copy)', note: 'Seen in spring' });
  });

  test('a design deleted elsewhere is brought back with the work', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    await page.request.delete(`${site.url}api/designs/${id}`);
    await rename(page, 'Still worked on');
    await expect(page.getByText('This design was deleted elsewhere')).toBeVisible();
    await page.getByRole('button', { name: 'Restore', exact: true }).click();
    await holds(page, site, id, 'Still worked on');
  });

  test('a deleted design is found among the deleted ones and restored', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    await rename(page, 'Taken away by mistake');
    await holds(page, site, id, 'Taken away by mistake');
    await page.request.delete(`${site.url}api/designs/${id}`);
    await page.goto(site.url);
    await page.getByRole('button', { name: 'Deleted designs' }).click();
    const dialog = page.getByRole('dialog', { name: 'Deleted designs' });
    expect(await axeFindings(page)).toEqual([]);
    await dialog.getByRole('button', { name: 'Restore Taken away by mistake' }).click();
    await expect(dialog.getByText('No deleted designs.').or(dialog.getByRole('table'))).toBeVisible();
    await expect(dialog.getByText('Taken away by mistake')).toHaveCount(0);
    await dialog.getByRole('button', { name: 'Close' }).click();
    await page.getByRole('link', { name: 'Taken away by mistake', exact: true }).click();
    await expect(name(page)).toHaveValue('Taken away by mistake');
  });

  test('the history is looked at, compared in words, named and brought back', async ({ page, site }) => {
    const id = await openCopy(page, site, 'Level board');
    await rename(page, 'Second state');
    await holds(page, site, id, 'Second state');
    await page.getByRole('button', { name: 'History' }).click();
    const dialog = page.getByRole('dialog', { name: 'History' });
    await dialog.getByRole('option').first().click();
    await expect(dialog.getByRole('list', { name: 'Changed in this revision' })).toContainText('Name: Level board (copy) → Second state');
    await dialog.getByRole('option').last().click();
    await expect(dialog.getByText('Name: Level board (copy) → Second state')).toBeVisible();
    await dialog.getByLabel(/^Name/).fill('As measured');
    await dialog.getByLabel(/^Name/).press('Enter');
    await expect(dialog.getByRole('option').last()).toContainText('As measured');
    await dialog.getByRole('button', { name: 'Look at it' }).click();
    await expect(page.getByText('This is revision 1, as it was.')).toBeVisible();
    await rename(page, 'Not possible here');
    await expect(page.getByRole('alert').filter({ hasText: 'earlier revision' })).toBeVisible();
    await page.getByRole('link', { name: 'Latest', exact: true }).click();
    await expect(name(page)).toHaveValue('Second state');
    await page.getByRole('button', { name: 'History' }).click();
    await dialog.getByRole('option').last().click();
    await dialog.getByRole('button', { name: 'Restore', exact: true }).click();
    await holds(page, site, id, 'Level board (copy)');
    await page.getByRole('button', { name: 'Undo: Restore revision 1' }).click();
    await expect(name(page)).toHaveValue('Second state');
  });
});

test.describe('a team', () => {
  const words: Record<string, string> = {
    ada: 'heron under the lock gate',
    ben: 'a paddle of weathered oak',
    cass: 'thirteen buckets of silt',
    dell: 'moss on the lower sill',
    'reader-light': 'a lantern on the towpath',
    'reader-dark': 'no moon above the weir',
  };
  async function join(page: Page, link: string, who: string, login: string): Promise<void> {
    await page.goto(link);
    await page.getByLabel('Your name').fill(who);
    await page.getByLabel('Sign-in name').fill(login);
    await page.getByLabel('Passphrase').fill(words[login]);
    await page.getByRole('button', { name: 'Join' }).click();
    await expect(page.getByRole('button', { name: who })).toBeVisible();
  }

  test('joins by invitation, shares a design to look, then to edit; an ended session is begun again over the work', async ({ browser, teamSite }) => {
    const ada = await browser.newPage();
    await ada.goto(teamSite.url);
    await expect(ada.getByText('npm run administrator')).toBeVisible();
    await ada.goto('about:blank');
    await ada.goto(teamSite.administratorLink());
    await ada.getByLabel('Passphrase').fill('lockkeeper');
    await ada.getByRole('button', { name: 'Join' }).click();
    await expect(ada.getByText('at least 12 characters: a few words')).toBeVisible();
    await ada.goto('about:blank');
    await join(ada, teamSite.administratorLink(), 'Ada Brook', 'ada');

    await ada.getByRole('button', { name: 'Ada Brook' }).click();
    await ada.getByRole('tab', { name: 'People' }).click();
    await ada.getByRole('button', { name: 'Invite somebody' }).click();
    const invitation = await ada.getByLabel(/^Invitation/).inputValue();
    await ada.getByRole('button', { name: 'Close', exact: true }).click();
    const ben = await (await browser.newContext()).newPage();
    await join(ben, invitation, 'Ben Sallow', 'ben');

    const id = await openCopy(ada, teamSite, 'Level board');
    await ben.goto(`${teamSite.url}design/${id}`);
    await expect(ben.getByText('This design does not exist')).toBeVisible();
    await ada.getByRole('button', { name: 'Share' }).click();
    await ada.getByLabel('Person').click();
    await ada.getByRole('option', { name: 'Ben Sallow' }).click();
    await ada.getByRole('button', { name: 'May look' }).click();
    const may = ada.getByRole('radiogroup', { name: 'What Ben Sallow may do' });
    await expect(may.getByRole('radio', { name: 'may look' })).toBeChecked();
    await ben.reload();
    await expect(ben.getByText('You may look at this design, not edit it.')).toBeVisible();
    await may.getByRole('radio', { name: 'may edit' }).click();
    await ben.reload();
    await expect(name(ben)).toHaveValue('Level board (copy)');
    await rename(ben, 'By the second of the team');
    await holds(ben, teamSite, id, 'By the second of the team');

    // Somebody signs this person out everywhere; the page asks again and nothing is lost.
    await ben.context().clearCookies();
    await rename(ben, 'After the session');
    const dialog = ben.getByRole('dialog', { name: 'Sign in again' });
    await expect(dialog).toBeVisible();
    await dialog.getByLabel('Sign-in name').fill('ben');
    await dialog.getByLabel('Passphrase').fill('not this');
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    await expect(dialog.getByRole('alert')).toBeVisible();
    await dialog.getByLabel('Passphrase').fill(words['ben']);
    await dialog.getByRole('button', { name: 'Sign in' }).click();
    await holds(ben, teamSite, id, 'After the session');

    // His account is closed; what is his goes over to her.
    const his = await openCopy(ben, teamSite, 'Screw gate');
    await ben.context().close();
    await ada.goto(teamSite.url);
    await ada.getByRole('button', { name: 'Ada Brook' }).click();
    await expect(ada.getByRole('list', { name: 'Signed in' })).toContainText('here');
    await ada.getByRole('tab', { name: 'People' }).click();
    const row = ada.getByRole('row', { name: /Ben Sallow/ });
    await row.getByRole('button', { name: 'Close account' }).click();
    await row.getByRole('button', { name: 'Transfer designs' }).click();
    await ada.getByRole('menuitem', { name: 'To Ada Brook' }).click();
    await expect(ada.getByText('1 design of Ben Sallow now belongs to Ada Brook.')).toBeVisible();
    await ada.goto(`${teamSite.url}design/${his}`);
    await expect(name(ada)).toHaveValue('Screw gate (copy)');
    await ada.close();
  });

  test('a link gives what it says; the passphrase is changed; signing out leaves nothing of one for the next', async ({ browser, teamSite }) => {
    const cass = await (await browser.newContext()).newPage();
    await cass.goto(teamSite.administratorLink());
    await join(cass, cass.url(), 'Cass Weir', 'cass');
    const id = await openCopy(cass, teamSite, 'Screw gate');
    await cass.getByRole('button', { name: 'Share' }).click();
    await cass.getByRole('button', { name: 'Make a link to look' }).click();
    const link = await cass.getByLabel(/^New link/).inputValue();
    await expect(cass.getByText('Cass Weir shared: link to look')).toBeVisible();

    // Whoever is not signed in is asked to first, and then is where the link leads.
    const dell = await (await browser.newContext()).newPage();
    await dell.goto(link);
    await expect(dell.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await dell.goto('about:blank');
    await dell.goto(teamSite.administratorLink());
    await join(dell, dell.url(), 'Dell Marsh', 'dell');
    await dell.goto(link);
    await expect(dell.getByText('You may look at this design, not edit it.')).toBeVisible();
    await dell.getByRole('button', { name: 'Duplicate it' }).click();
    await expect(name(dell)).toHaveValue('Screw gate (copy) (copy)');
    await rename(dell, 'Screw gate of mine');
    await expect.poll(async () => (await dell.request.get(`${teamSite.url}api/designs?search=of%20mine`)).text()).toContain('Screw gate of mine');
    await cass.getByRole('button', { name: 'End it' }).click();
    await expect(cass.getByRole('button', { name: 'End it' })).toHaveCount(0);
    await dell.goto(`${teamSite.url}design/${id}`);
    await expect(dell.getByText('This design does not exist')).toBeVisible();
    await dell.goto(link);
    await expect(dell.getByRole('alert')).toBeVisible();

    await dell.goto(teamSite.url);
    await dell.getByRole('button', { name: 'Dell Marsh' }).click();
    await dell.getByLabel('Present passphrase').fill('not this one at all');
    await dell.getByLabel('New passphrase').fill('willow by the water');
    await dell.getByRole('button', { name: 'Change the passphrase' }).click();
    await expect(dell.getByText(/present passphrase is not right|not the present/i)).toBeVisible();
    await dell.getByLabel('Present passphrase').fill(words['dell']);
    await dell.getByLabel('New passphrase').fill('willow by the water');
    await dell.getByRole('button', { name: 'Change the passphrase' }).click();
    await expect(dell.getByText('Changed; other sessions have ended')).toBeVisible();
    await dell.getByRole('button', { name: 'Sign out', exact: true }).click();
    await expect(dell.getByRole('heading', { name: 'Sign in' })).toBeVisible();
    await dell.getByLabel('Sign-in name').fill('dell');
    await dell.getByLabel('Passphrase', { exact: true }).fill('willow by the water');
    await dell.getByRole('button', { name: 'Show what is typed' }).click();
    await expect(dell.getByLabel('Passphrase', { exact: true })).toHaveAttribute('type', 'text');
    await dell.getByRole('button', { name: 'Sign in' }).click();
    await expect(dell.getByRole('heading', { name: 'Screw gate of mine' })).toBeVisible();
    await cass.context().close();
    await dell.context().close();
  });

  test('the dialogs have nothing serious against them for axe, in light and dark', async ({ browser, teamSite }) => {
    for (const theme of ['light', 'dark']) {
      const page = await (await browser.newContext()).newPage();
      await page.addInitScript((t) => {
        try {
          localStorage.setItem('unirota.theme', t);
        } catch {
          // A page without an address has no storage.
        }
      }, theme);
      const check = async (what: string) => {
        const serious = (await axeFindings(page)).filter((v) => v.impact === 'serious' || v.impact === 'critical');
        expect(serious.map((v) => `${what}: ${v.id} ${v.nodes[0].html}`)).toEqual([]);
      };
      const link = teamSite.administratorLink();
      await page.goto(link);
      await check('join');
      await join(page, link, `Reader ${theme}`, `reader-${theme}`);
      await check('start');
      await page.getByRole('button', { name: `Reader ${theme}` }).click();
      await expect(page.getByRole('dialog').getByRole('heading').first()).toBeVisible();
      await check('my account');
      for (const tab of ['People', 'What was done']) {
        await page.getByRole('tab', { name: tab }).click();
        await check(tab);
      }
      await page.getByRole('button', { name: 'Close', exact: true }).click();
      const id = await openCopy(page, teamSite, 'Level board');
      await page.getByRole('button', { name: 'Share' }).click();
      await expect(page.getByRole('heading', { name: 'Activity' })).toBeVisible();
      await check('sharing');
      await page.getByRole('button', { name: 'Close', exact: true }).click();
      await page.getByRole('button', { name: 'History' }).click();
      await page.getByRole('dialog').getByRole('option').first().click();
      await expect(page.getByRole('button', { name: 'Look at it' })).toBeEnabled();
      await check('history');
      await page.getByRole('button', { name: 'Close', exact: true }).click();
      await saveElsewhere(page, teamSite, id, { note: 'From elsewhere' });
      await rename(page, 'Mine');
      await expect(page.getByRole('button', { name: 'Merge', exact: true })).toBeEnabled();
      await check('two versions');
      await page.context().close();
    }
  });
});

test.describe('the list of designs', () => {
  test('is searched, sorted and goes on page by page', async ({ page, site }) => {
    const first = (await (await page.request.get(`${site.url}api/designs`)).json()) as { designs: { id: string }[] };
    const design = (await stored(page, site, first.designs[0].id)).design;
    for (let k = 1; k <= 30; k++) {
      const data = { save: crypto.randomUUID(), design: { ...design, name: `Culvert ${String(k).padStart(2, '0')}` } };
      expect((await page.request.post(`${site.url}api/designs`, { data })).status()).toBe(201);
    }
    await page.goto(site.url);
    const cards = page.getByRole('listitem');
    await expect(cards).toHaveCount(24);
    await page.getByRole('button', { name: 'Show more' }).click();
    await expect.poll(() => cards.count()).toBeGreaterThan(30);
    await page.getByLabel('Find by name').fill('culvert 1');
    await expect(cards).toHaveCount(10);
    await page.getByLabel('Order').click();
    await page.getByRole('option', { name: 'name' }).click();
    await expect(cards.first()).toContainText('Culvert 10');
    await expect(cards.last()).toContainText('Culvert 19');
    await expect(cards.first().locator('path').first()).toBeAttached();
    await page.getByLabel('Find by name').fill('no such thing');
    await expect(page.getByText('No design has “no such thing” in its name.')).toBeVisible();
  });
  test('lies in folders: a design is put into one, what is begun there lies there, and it is taken out again', async ({ page, site }) => {
    await page.goto(site.url);
    await page.getByLabel('Find by name').fill('Weed rake');
    const card = page.getByRole('listitem').filter({ hasText: 'Weed rake' }).first();
    const put = async (name: string): Promise<void> => {
      await card.getByRole('button', { name: 'Folder' }).click();
      await card.getByRole('combobox', { name: 'Folder of the design' }).fill(name);
      await card.getByRole('button', { name: 'Move to folder' }).click();
    };
    await put('Intake screen');
    await expect(card).toContainText('in Intake screen');
    const folders = page.getByRole('listbox', { name: 'Folders' });
    await folders.getByRole('option', { name: /Intake screen/ }).click();
    await page.getByLabel('Find by name').fill('');
    await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(1);
    await page.getByRole('button', { name: 'New design' }).click();
    await expect(page.getByText('Nothing in the train yet.')).toBeVisible();
    await page.getByRole('link', { name: 'All designs' }).click();
    await expect(folders.getByRole('option', { name: 'Intake screen 2' })).toBeVisible();
    await folders.getByRole('option', { name: 'Intake screen 2' }).click();
    await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(2);
    await card.getByRole('button', { name: 'Folder' }).click();
    await card.getByRole('combobox', { name: 'Folder of the design' }).fill('');
    await card.getByRole('button', { name: 'Move to folder' }).click();
    await expect(folders.getByRole('option', { name: 'Intake screen 1' })).toBeVisible();
    await expect(page.getByRole('link', { name: /^Open / })).toHaveCount(1);
  });
});
