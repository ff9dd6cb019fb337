import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { strToU8 } from 'fflate';
import { boxMesh } from '../core/testing/shapes';
import { writeStl } from '../core/formats/stl';
import type { Kernel } from '../solids/index';
import { beamStep, headBeam, kernel } from '../scripts/demo-part';
import { choose, expect, layout, openCopy, openNew, test } from './site';

let oc: Kernel;
test.beforeAll(async () => {
  oc = await kernel();
});

const file = (name: string, content: Uint8Array) => ({ name, mimeType: 'application/octet-stream', buffer: Buffer.from(content) });
/** Chooses a file in the import dialog that is open. */
async function chooseFile(page: Page, name: string, content: Uint8Array): Promise<void> {
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('dialog').getByRole('button', { name: 'Choose file' }).click(),
  ]);
  await chooser.setFiles(file(name, content));
}
const read = (page: Page) => expect(page.getByRole('dialog').getByRole('status')).toContainText('parts', { timeout: 60_000 });
const sheet = (page: Page) => page.getByRole('complementary', { name: 'Data sheet' });
async function goTo(page: Page, step: string): Promise<void> {
  await page
    .getByRole('navigation', { name: 'Work order' })
    .getByRole('button', { name: new RegExp(`^${step}`) })
    .click();
}

test.describe('parts that were modelled elsewhere', () => {
  test('a STEP file comes in, a lever is pinned in its bore, and a run turns it', async ({ page, site }) => {
    await openNew(page, site, 'Beam and lever');
    await page.keyboard.press('i');
    await chooseFile(page, 'beam.step', beamStep(oc, headBeam(700, 400)));
    await read(page);
    await choose(page, 'Put parts on', 'All on the frame');
    await page.getByRole('button', { name: 'Import parts', exact: true }).click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(sheet(page)).toContainText('beam.step');
    await expect(page.getByText('Saved', { exact: true })).toBeVisible({ timeout: 20_000 });
    // A lever, pinned by its eye in one of the bores.
    await page.keyboard.press('b');
    await page.getByRole('group', { name: 'Build' }).getByRole('button', { name: 'Lever' }).click();
    const pick = async (name: RegExp): Promise<void> => {
      await page.getByRole('button', { name }).first().focus();
      await page.keyboard.press('Enter');
    };
    await pick(/Lever bar, first eye/);
    await pick(/Head beam, axis Ø 100/);
    await expect(page.getByText(/^.*Done: Lever on the frame, pin/)).toBeVisible();
    // A motor drives it: the joint is selected through the search.
    await page.getByRole('button', { name: 'Close', exact: true }).first().click();
    await goTo(page, 'Duty');
    await page.getByRole('button', { name: /Motor/ }).first().click();
    await goTo(page, 'Motion');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await expect(page.getByText('Run, 201 instants over 10 s: nothing in particular happens.')).toBeVisible({ timeout: 30_000 });
    const speed = page.getByRole('table', { name: 'Figures: Speed of Lever on the frame, pin' }).getByRole('row').nth(1);
    await expect(speed.getByRole('cell').nth(2)).toHaveText('60');
    // It is there again after a reload, drawn from the server or this machine.
    await page.reload();
    await expect(layout(page)).toHaveAttribute('data-drawn', /\d+/);
    await expect(page.getByText(/content is neither/)).toHaveCount(0);
  });

  test('a newer, thicker beam: the stop on its face and the screws in its bores follow; what it lacks is a finding', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    await goTo(page, 'Layout');
    await page.keyboard.press('/');
    await page.keyboard.type('Head beam');
    await page
      .getByRole('option', { name: /Head beam/ })
      .first()
      .click();
    await expect(page.getByRole('button', { name: /Replace by a newer file/ })).toBeVisible();
    await expect(page.getByText('1200 mm').first()).toBeVisible();
    // Bores 1160 apart instead of 1200: each screw moves by 20.
    await page.getByRole('button', { name: /Replace by a newer file/ }).click();
    await chooseFile(page, 'beam-2.step', beamStep(oc, headBeam(1580, 1160)));
    await page.getByRole('button', { name: 'Replace shape' }).click({ timeout: 60_000 });
    await expect(page.getByText(/Screw bearing, lock side” moved by 20 mm/)).toBeVisible();
    await page.keyboard.press('Control+z');
    // 50 mm thicker below: the gate stops 50 mm earlier.
    await page.getByRole('button', { name: /Replace by a newer file/ }).click();
    await chooseFile(page, 'beam-3.step', beamStep(oc, headBeam(1580, 1200, -50, 60)));
    await page.getByRole('button', { name: 'Replace shape' }).click({ timeout: 60_000 });
    await expect(page.getByText('1150 mm').first()).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(page.getByText('1200 mm').first()).toBeVisible();
    // A plate without bores: what stood in them stays, and a finding names it.
    await page.getByRole('button', { name: /Replace by a newer file/ }).click();
    await chooseFile(page, 'plate.stl', writeStl([boxMesh(1580, 140, 60)]));
    await page.getByRole('button', { name: 'Replace shape' }).click({ timeout: 60_000 });
    await expect(page.getByText(/places were not found again/)).toBeVisible();
    await expect(sheet(page)).toContainText(/the newer file has no axis Ø 100/);
  });

  test('wrong files get a sentence and change nothing; reading can be ended; a unit is asked for where there is none', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    await goTo(page, 'Layout');
    const count = async (): Promise<string> => (await page.getByText(/\d+ members, \d+ elements/).textContent())!;
    const before = await count();
    await page.keyboard.press('i');
    const dialog = page.getByRole('dialog');
    for (const [name, content, words] of [
      ['empty.step', new Uint8Array(0), 'The file is empty'],
      ['renamed.step', strToU8('not a step file at all'), 'This is no STEP file'],
      ['short.step', beamStep(oc, headBeam(700, 400)).slice(0, 4000), /cut short|damaged/],
      ['zip.3mf', strToU8('PK'), 'no 3MF'],
      ['data.glb', strToU8('glTF'), 'cannot be read as glTF'],
    ] as const) {
      await chooseFile(page, name, content);
      await expect(dialog.getByRole('alert')).toContainText(words, { timeout: 30_000 });
    }
    await chooseFile(page, 'box.stl', writeStl([boxMesh(1, 2, 3)]));
    await read(page);
    await expect(dialog).toContainText('1 × 2 × 3');
    await choose(page, 'Unit of the file', 'Inches');
    await expect(dialog).toContainText('25.4 × 50.8 × 76.2');
    await dialog.getByRole('button', { name: 'Cancel' }).click();
    expect(await count()).toBe(before);
  });

  test('places are measured between, and a measured value goes into a field', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    await goTo(page, 'Layout');
    await page.keyboard.press('/');
    await page.keyboard.type('Motor housing');
    await page
      .getByRole('option', { name: /Motor housing/ })
      .first()
      .click();
    const diameter = page.getByLabel('Diameter', { exact: true });
    await diameter.focus();
    await page.getByRole('button', { name: 'Measure', exact: true }).click();
    const bores = page.getByRole('button', { name: 'Head beam, axis Ø 100' });
    await bores.first().focus();
    await page.keyboard.press('Enter');
    const bar = page.getByRole('group', { name: 'Measure' });
    await expect(bar).toContainText('100 mm');
    await bar.getByRole('button', { name: 'Put Diameter into Diameter' }).click();
    await expect(diameter).toHaveValue('100');
    await bores.nth(1).focus();
    await page.keyboard.press('Enter');
    await expect(bar).toContainText('1200 mm');
  });

  test('a file that is dropped on the workbench opens the list of its parts', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    const content = Buffer.from(writeStl([boxMesh(10, 20, 30)])).toString('base64');
    const data = await page.evaluateHandle((base64) => {
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const transfer = new DataTransfer();
      transfer.items.add(new File([bytes], 'dropped.stl'));
      return transfer;
    }, content);
    await page.dispatchEvent('uni-workbench', 'drop', { dataTransfer: data });
    await read(page);
    await expect(page.getByRole('dialog')).toContainText('10 × 20 × 30');
  });

  test('a design with its shapes is one file, and opens again from it', async ({ page, site }) => {
    await openCopy(page, site, 'Screw gate');
    await goTo(page, 'Release');
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Design document' }).click()]);
    expect(download.suggestedFilename()).toMatch(/\.unirota\.zip$/);
    const bytes = readFileSync((await download.path())!);
    await page.goto(site.url);
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: /Open a file/ }).click()]);
    await chooser.setFiles(file('gate.unirota.zip', bytes));
    await expect(page.getByRole('group', { name: 'Train map' })).toBeVisible({ timeout: 20_000 });
    await expect(page.getByText('no trouble found')).toBeVisible({ timeout: 20_000 });
    // Another machine has nothing of it: it comes from the server.
    const address = page.url();
    await expect(async () => {
      const id = address.split('/').at(-1)!;
      expect(((await (await page.request.get(`${site.url}api/designs/${id}/shapes`)).json()) as string[]).length).toBe(1);
    }).toPass({ timeout: 20_000 });
    const other = await page.context().browser()!.newPage();
    await other.goto(address);
    await expect(other.getByText('no trouble found')).toBeVisible({ timeout: 20_000 });
    await other.close();
  });

  test('a mechanism of another engine: what is not taken over is listed first, then its design opens', async ({ page, site }) => {
    const model = `<mujoco model="Two arms"><compiler angle="radian"/><worldbody><body name="upper"><joint name="shoulder" axis="0 1 0" range="-1 1"/><geom type="box" size=".2 .02 .02" pos=".2 0 0"/>
      <body name="lower" pos=".4 0 0"><joint name="elbow" axis="0 1 0" damping="0.1"/><geom type="capsule" fromto="0 0 0 .3 0 0" size=".02"/></body></body></worldbody></mujoco>`;
    await page.goto(site.url);
    const open = async (): Promise<void> => {
      const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: /Open a file/ }).click()]);
      await chooser.setFiles(file('arms.xml', strToU8(model)));
    };
    await open();
    const dialog = page.getByRole('dialog');
    await expect(dialog).toContainText('2 members and 2 joints');
    await expect(dialog).toContainText('damping of the joint elbow');
    await expect(dialog).toContainText('round ends of the capsule');
    await dialog.getByRole('button', { name: 'Cancel' }).click();
    await expect(page.getByRole('link', { name: /Two arms/ })).toHaveCount(0);
    await open();
    await dialog.getByRole('button', { name: 'Create design' }).click();
    await expect(page.getByRole('group', { name: 'Train map' })).toBeVisible({ timeout: 20_000 });
    await goTo(page, 'Train');
    await expect(page.getByText('2 freedoms. 2 without a source.')).toBeVisible();
    await expect(page.getByText(/^lower can move alone/)).toBeVisible();
    await expect(page.getByText(/^upper can move alone/)).toBeVisible();
  });
});
