import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Download, Locator, Page } from '@playwright/test';
import type { Design } from '@unirota/core/document';
import { open } from '@unirota/core';
import Excel from 'exceljs';
import { readPdf } from '../core/testing/pdf';
import { choose, expect, openCopy, test } from './site';

const downloaded = async (page: Page, press: () => Promise<void>): Promise<Download> => {
  const [file] = await Promise.all([page.waitForEvent('download', { timeout: 60_000 }), press()]);
  return file;
};
const openReport = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: /^Release/ }).click();
  await page.getByRole('button', { name: /^Report/ }).click();
};

test.describe('what is handed on', () => {
  test('a report has the chapters that were chosen, and the figures of the ledger; the choice is remembered', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await openReport(page);
    const dialog = page.getByRole('dialog', { name: 'Report' });
    const download = dialog.getByRole('button', { name: 'Download PDF' });
    // Nothing chosen is nothing to print: it is said, and the way on is shut.
    await dialog.getByRole('button', { name: 'Clear' }).click();
    await expect(dialog.getByText('Choose at least one chapter.')).toBeVisible();
    await expect(download).toBeDisabled();
    for (const name of ['Ledger', 'Train map', 'Findings']) await dialog.getByRole('checkbox', { name, exact: true }).check();
    await choose(page, 'Paper', 'Letter');
    const file = await downloaded(page, () => download.click());
    await expect(dialog.getByText('The report is downloaded.')).toBeVisible();
    expect(file.suggestedFilename()).toMatch(/report\.pdf$/);
    const pdf = await readPdf(new Uint8Array(readFileSync((await file.path())!)));
    expect(pdf.outline).toEqual(['1  Train map', '2  Ledger', '3  Findings']);
    expect(pdf.sizes[0]).toEqual([612, 792]);
    const text = pdf.pages.join(' ');
    // Revision and date are on it.
    expect(text).toMatch(/Revision \d+ · Date \d{4}-\d\d-\d\d/);
    const read = open(JSON.parse(readFileSync('demo/paddle-winding-gear.json', 'utf8')));
    if (read.problems) throw new Error('demo');
    for (const l of read.snapshot().ledger.lines) if (l.power) expect(text).toContain(String(Number(l.power.toPrecision(5))));
    await dialog.getByRole('button', { name: 'Close' }).click();
    await page.reload();
    await openReport(page);
    await expect(dialog.getByRole('checkbox', { name: 'Gear data' })).not.toBeChecked();
    await expect(dialog.getByRole('checkbox', { name: 'Ledger' })).toBeChecked();
  });

  test('a report opens in a window of its own, to be printed', async ({ page, site }) => {
    await openCopy(page, site, 'Level board');
    await openReport(page);
    const [tab] = await Promise.all([page.waitForEvent('popup'), page.getByRole('button', { name: 'Open to print' }).click()]);
    await expect(page.getByText('print it there')).toBeVisible({ timeout: 60_000 });
    await expect.poll(() => tab.url()).toMatch(/^blob:/);
  });

  test('without its typefaces the report is not made, and it is said why', async ({ page, site }) => {
    await openCopy(page, site, 'Level board');
    await page.context().route('**/fonts/*.ttf', (r) => r.fulfill({ status: 404 }));
    await openReport(page);
    await page.getByRole('button', { name: 'Download PDF' }).click();
    await expect(page.getByRole('alert').filter({ hasText: 'The report was not made' })).toBeVisible({ timeout: 60_000 });
    // The next press works again when they are there.
    await page.context().unroute('**/fonts/*.ttf');
    await downloaded(page, () => page.getByRole('button', { name: 'Download PDF' }).click());
  });

  test('a design is released with its files; what is edited later is listed, and the released revision opens unchanged', async ({ page, site }) => {
    await openCopy(page, site, 'Level board');
    await page.getByRole('button', { name: /^Release/ }).click();
    await expect(page.getByText('Nothing is released yet.')).toBeVisible();
    await page.getByRole('button', { name: 'Release as A …' }).click();
    const dialog = page.getByRole('dialog', { name: 'Release A' });
    await expect(dialog.getByText('No faults.')).toBeVisible({ timeout: 30_000 });
    await dialog.getByRole('textbox', { name: /Reason for releasing/ }).fill('Shafts carry next to nothing');
    // Without the kernel's file it is quick.
    await dialog.getByRole('checkbox', { name: 'Solids (STEP)' }).uncheck();
    await dialog.getByRole('button', { name: 'Release as A' }).click();
    await expect(dialog).toHaveCount(0, { timeout: 60_000 });
    await expect(page.getByText('None: the design stands as released.')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Release as B …' })).toBeDisabled();
    const report = page.getByRole('button', { name: /A report\.pdf/ });
    const file = await downloaded(page, () => report.click());
    const bytes = readFileSync((await file.path())!);
    expect((await readPdf(new Uint8Array(bytes))).pages[0]).toContain('Release A · Revision');
    // It is the very file whose SHA-256 is shown.
    await expect(page.getByRole('listitem').filter({ has: report })).toContainText(createHash('sha256').update(bytes).digest('hex'));
    // The next edit begins the next draft.
    await page.getByRole('textbox', { name: 'Note' }).fill('Written after the release');
    await page.getByRole('textbox', { name: 'Note' }).blur();
    await expect(page.getByText('Design. Note: changed')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Release as B …' })).toBeEnabled();
    await page.getByRole('link', { name: /^revision \d+/ }).click();
    await expect(page.getByText('This is revision 1, as it was.')).toBeVisible();
    await expect(page.getByRole('textbox', { name: 'Note' })).not.toHaveValue('Written after the release');
  });

  test('a drawing is added, given sizes by pressing a body, cut, and exported; it follows the design', async ({ page, site }) => {
    await openCopy(page, site, 'Swing footbridge');
    await page.getByRole('button', { name: /^Release/ }).click();
    await page.getByRole('button', { name: /^Add drawing/ }).click();
    await page.getByRole('menuitem', { name: 'Planet carrier' }).click();
    const dialog = page.getByRole('dialog', { name: /^Drawing Planet carrier 2/ });
    const picture = dialog.getByRole('img', { name: 'The drawing' });
    const exports = dialog.getByRole('button', { name: 'Export SVG' });
    await expect(exports).toBeEnabled({ timeout: 60_000 });
    await expect(picture).toContainText('Swing footbridge (copy): Planet carrier 2');
    // A press on the picture offers the sizes of the body there: beside the shaft it is the pinion.
    await dialog.getByRole('checkbox', { name: /^Slew pinion: tip diameter/ }).check();
    await expect(picture).toContainText('Ø109.2', { timeout: 30_000 });
    const figure = picture.getByText('Ø109.2');
    const box = (await figure.boundingBox())!;
    await page.mouse.click(box.x + box.width / 2 + 40, box.y + box.height + 50);
    await expect(dialog.getByRole('checkbox', { name: /^Slew pinion/ })).not.toHaveCount(0);
    await expect(dialog.getByRole('checkbox', { name: /^Cage/ })).toHaveCount(0);
    await dialog.getByRole('button', { name: 'Show all sizes' }).click();
    // A section through an axis, and hidden lines.
    await dialog.getByRole('button', { name: /^Sections/ }).click();
    await dialog.getByRole('combobox', { name: 'Add section' }).click();
    await page.getByRole('option', { name: 'Slew pinion' }).click();
    await expect(picture).toContainText('A–A', { timeout: 30_000 });
    await choose(page, 'Paper', 'A4');
    await expect(exports).toBeEnabled({ timeout: 30_000 });
    const file = await downloaded(page, () => exports.click());
    expect(file.suggestedFilename()).toMatch(/^Swing footbridge.* Planet carrier 2\.svg$/);
    const svg = readFileSync((await file.path())!, 'utf8');
    for (const t of ['width="210mm"', 'A–A', 'Ø109.2', 'Gear data', 'Part drawing']) expect(svg).toContain(t);
    const pdf = await downloaded(page, () => dialog.getByRole('button', { name: 'Export PDF' }).click());
    expect((await readPdf(new Uint8Array(readFileSync((await pdf.path())!)))).pages[0]).toContain('Ø109.2');
    await dialog.getByRole('button', { name: 'Close' }).click();
    // Each change is an edit that can be undone; the drawing goes with its definition.
    await page.getByRole('button', { name: 'Delete Planet carrier 2' }).click();
    await expect(page.getByRole('button', { name: 'Planet carrier 2', exact: true })).toHaveCount(0);
  });

  test('a parts list that was filled in is imported; what is wrong in it is said by its row', async ({ page, site }) => {
    await openCopy(page, site, 'Level board');
    await page.getByRole('button', { name: /^Release/ }).click();
    const file = await downloaded(page, () => page.getByRole('button', { name: 'Tables (XLSX)' }).click());
    const book = new Excel.Workbook();
    await book.xlsx.readFile((await file.path())!);
    const sheet = book.getWorksheet('Parts')!;
    const at = (label: string): number => (sheet.getRow(1).values as string[]).indexOf(label);
    sheet.getRow(2).getCell(at('Material')).value = 'Gunmetal';
    sheet.getRow(3).getCell(at('Cost')).value = 'dear';
    const bytes = Buffer.from(await book.xlsx.writeBuffer());
    await page.getByLabel('Parts list', { exact: true }).setInputFiles({ name: 'parts.xlsx', mimeType: 'application/octet-stream', buffer: bytes });
    await expect(page.getByText('Taken from the list: 1 part')).toBeVisible({ timeout: 30_000 });
    await expect(page.getByRole('alert').getByText('Parts, row 3: Cost must be a number.')).toBeVisible();
    // It is an edit as any other.
    await page.getByRole('button', { name: 'Undo' }).first().click();
    await page
      .getByLabel('Parts list', { exact: true })
      .setInputFiles({ name: 'parts.xlsx', mimeType: 'application/octet-stream', buffer: Buffer.from('no book') });
    await expect(page.getByRole('alert').getByText('This is no XLSX workbook')).toBeVisible();
  });

  test('a caution is accepted for a reason, and open again when what it depends on changes', async ({ page, site }) => {
    const demo = JSON.parse(readFileSync('demo/level-board.json', 'utf8')) as Design;
    const gear = demo.elements.find((e) => e.type === 'gear')!;
    const few = { ...demo, name: 'Few teeth', elements: demo.elements.map((e) => (e.id === gear.id ? { ...e, teeth: 11 } : e)) };
    const r = await page.request.post(`${site.url}api/designs`, { data: { design: few, save: randomUUID() } });
    await page.goto(`${site.url}design/${((await r.json()) as { id: string }).id}`);
    await page
      .getByRole('button', { name: /^Release/ })
      .first()
      .click();
    const item = page
      .getByRole('listitem')
      .filter({ hasText: 'caution' })
      .filter({ has: page.getByRole('button', { name: 'Accept …' }) })
      .first();
    await item.getByRole('button', { name: 'Accept …' }).click();
    // Without a reason it is not accepted, and it is said beside the field.
    await page.getByRole('button', { name: 'Accept', exact: true }).click();
    await expect(page.getByText('Reason is missing: state why it is accepted')).toBeVisible();
    await page.getByRole('textbox', { name: 'Reason for accepting it' }).fill('Moved by a float, without load');
    await page.getByRole('textbox', { name: 'Reason for accepting it' }).press('Enter');
    await expect(page.getByText('Accepted: Moved by a float, without load')).toBeVisible();
    await page.getByRole('button', { name: 'Withdraw' }).click();
    await expect(page.getByText('Accepted: Moved by a float, without load')).toHaveCount(0);
    await page.getByRole('button', { name: /^Undo/ }).first().click();
    await expect(page.getByText('Accepted: Moved by a float, without load')).toBeVisible();
  });

  test('a design with a fault is not released; what is open asks for a reason, which is kept', async ({ page, site }) => {
    const demo = JSON.parse(readFileSync('demo/level-board.json', 'utf8')) as Design;
    const create = async (design: Design): Promise<string> => {
      const r = await page.request.post(`${site.url}api/designs`, { data: { design, save: randomUUID() } });
      return ((await r.json()) as { id: string }).id;
    };
    const dialogOf = async (design: Design): Promise<Locator> => {
      await page.goto(`${site.url}design/${await create(design)}`);
      await page
        .getByRole('button', { name: /^Release/ })
        .first()
        .click();
      await page.getByRole('button', { name: 'Release as A …' }).click();
      return page.getByRole('dialog', { name: 'Release A' });
    };
    const faulty = { ...demo, name: 'With a fault', elements: demo.elements.map((e) => (e.type === 'gear' ? { ...e, module: 7 } : e)) } as Design;
    const shut = await dialogOf(faulty);
    await expect(shut.getByText('A design with a fault is not released.')).toBeVisible({ timeout: 30_000 });
    await expect(shut.getByRole('button', { name: 'Release as A' })).toBeDisabled();
    // A wanted output that is missed.
    const missed = { ...demo, name: '_Ünusual: name/' + 'x'.repeat(100), wanted: demo.wanted.map((w) => ({ ...w, value: 9999 })) };
    const open = await dialogOf(missed);
    await expect(open.getByText(/Wanted outputs are missed/)).toBeVisible({ timeout: 30_000 });
    const release = open.getByRole('button', { name: 'Release as A' });
    await expect(release).toBeDisabled();
    const reason = open.getByRole('textbox', { name: /Reason for releasing/ });
    await reason.focus();
    await reason.blur();
    await expect(open.getByText('Reason is missing')).toBeVisible();
    await reason.fill('Agreed with the keeper');
    for (const name of ['Solids (STEP)', 'Cutting profiles (DXF)', 'Tables (XLSX)']) await open.getByRole('checkbox', { name }).uncheck();
    await release.click();
    await expect(open).toHaveCount(0, { timeout: 60_000 });
    await expect(page.getByText('Agreed with the keeper')).toBeVisible();
    await expect(page.getByRole('button', { name: /^Ünusual namex+ A report\.pdf$/ })).toBeVisible();
  });
});
