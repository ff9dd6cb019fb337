import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import DxfParser from 'dxf-parser';
import Excel from 'exceljs';
import { open } from '@unirota/core';
import { assemblyOf } from '@unirota/core/assembly';
import { massOf } from '@unirota/core/solids';
import { createRequire } from 'node:module';
import { loadKernel, volumeIn } from '../solids/index';
import { choose, expect, openCopy, test } from './site';

const exported = async (page: Page): Promise<Buffer> => {
  const [file] = await Promise.all([
    page.waitForEvent('download', { timeout: 120_000 }),
    page.getByRole('dialog').getByRole('button', { name: 'Export', exact: true }).click(),
  ]);
  return readFileSync((await file.path())!);
};
const opened = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: /^Release/ }).click();
  await page.getByRole('button', { name: /^Geometry/ }).click();
};

test.describe('export of geometry', () => {
  test('a STEP file of the whole holds what the design weighs, read back by the kernel', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await opened(page);
    const step = await exported(page);
    await expect(page.getByText('The file is downloaded.')).toBeVisible();
    const read = open(JSON.parse(readFileSync('demo/paddle-winding-gear.json', 'utf8')));
    if (read.problems) throw new Error('demo');
    const { compiled, pose } = read.snapshot();
    const weighed = assemblyOf(compiled, pose)
      .members.flatMap((m) => m.bodies)
      .reduce((v, b) => v + massOf(b.solids, 1e9).mass, 0);
    const oc = await loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });
    expect(volumeIn(oc, step) / weighed).toBeCloseTo(1, 5);
  });

  test('cutting profiles of one member: shown on their sheet, written as DXF, with what the tool does not reach', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await opened(page);
    await choose(page, 'Format', 'DXF: cutting profiles');
    const parts = page.getByRole('table', { name: 'Flat parts' });
    await expect(parts.getByRole('row', { name: /Spur wheel/ })).toBeVisible();
    await page.getByRole('combobox', { name: 'Members' }).click();
    await page.getByRole('option', { name: 'Pinion shaft' }).click();
    await page.keyboard.press('Escape');
    // The pinion shaft's bar is no plate; its two wheels are.
    await expect(parts.getByRole('row')).toHaveCount(3);
    await page.getByLabel('Kerf').fill('6 mm');
    await page.getByLabel('Kerf').press('Enter');
    await expect(page.getByText(/does not reach into its corners/).first()).toBeVisible();
    await page.getByLabel('Kerf').fill('');
    await page.getByLabel('Kerf').press('Enter');
    await expect(page.getByText(/does not reach into its corners/)).toHaveCount(0);
    const dxf = new DxfParser().parseSync((await exported(page)).toString('utf8'))!;
    expect(dxf.entities.map((e) => e.type).sort()).toEqual(['CIRCLE', 'CIRCLE', 'LWPOLYLINE', 'LWPOLYLINE']);
    expect(new Set(dxf.entities.map((e) => e.layer))).toEqual(new Set(['Pinion shaft']));
    // A kerf that is none is refused at its field, and nothing is lost.
    await page.getByLabel('Kerf').fill('wide');
    await page.getByLabel('Kerf').press('Enter');
    await expect(page.getByRole('dialog').locator('mat-error')).toBeVisible();
    await expect(parts.getByRole('row')).toHaveCount(3);
  });

  test('tables of a design as a workbook: figures are those of the ledger', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.getByRole('button', { name: /^Release/ }).click();
    const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Tables (XLSX)' }).click()]);
    const book = new Excel.Workbook();
    await book.xlsx.load(readFileSync((await file.path())!).buffer as ArrayBuffer);
    const sheet = book.getWorksheet('Ledger')!;
    // The crank turns at 30 rev/min against 35.78 N·m.
    expect([sheet.getCell('B2').value, sheet.getCell('C2').value]).toEqual(['Crankshaft', 30]);
    expect(Number(sheet.getCell('E2').value)).toBeCloseTo(35.784, 2);
  });
});
