import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { choose, deck, expect, member, openCopy, position, test } from './site';

/** The number in a cell of a row that a name stands in. */
async function figure(page: Page, table: string, row: string | RegExp, cell: number): Promise<number> {
  const text = await page.getByRole('table', { name: table, exact: true }).getByRole('row', { name: row }).getByRole('cell').nth(cell).textContent();
  return Number(
    text!
      .replace(/[\s\u202f\u00a0]/g, '')
      .replace('−', '-')
      .replace(/[^\d.e-].*$/, ''),
  );
}

async function ran(page: Page, until: string): Promise<void> {
  await page.getByRole('button', { name: /^Motion/ }).click();
  await choose(page, 'Until', until);
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByText(/^Run, /)).toBeVisible();
  await page.getByRole('button', { name: /^Loads/ }).click();
  // Until the step has been fetched, that of Motion stands with a slider of the same name.
  await expect(page.getByRole('heading', { name: 'At the instant' })).toBeVisible();
}

test.describe('loads', () => {
  test('what a run asks of its source: at an even speed the mean power is the mean torque times the speed', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.getByRole('button', { name: /^Motion/ }).click();
    await choose(page, 'Until', 'one turn');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    const over = 'Figures: Torque of Keeper at the crank';
    const row = /^\s*Torque of/;
    const [greatest, mean, rms] = [await figure(page, over, row, 2), await figure(page, over, row, 3), await figure(page, over, row, 4)];
    await page.getByRole('button', { name: /^Loads/ }).click();
    const duty = 'Required input of the run';
    expect((await figure(page, duty, /Greatest(?! power)/, 1)) / greatest).toBeCloseTo(1, 3);
    expect((await figure(page, duty, /Root mean square/, 1)) / rms).toBeCloseTo(1, 3);
    // 30 rev/min: a turn in two seconds.
    const power = await figure(page, duty, /Mean power/, 1);
    expect(power / (mean * Math.PI)).toBeCloseTo(1, 3);
    // The worst of all is the same torque, and a press goes to its instant.
    const worst = page.getByRole('table', { name: 'Worst instants' });
    await worst.getByRole('button', { name: /^Torque of/ }).click();
    await expect(page.getByText(/^Forces at .* s of the run, inertia counted/)).toBeVisible();
  });

  test('forces of the lift under the hand and in a run: tables, frames, arrows with their scale, and a load sheet that adds up to nothing', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Inspection lift');
    await page.getByRole('button', { name: /^Loads/ }).click();
    await expect(page.getByText('Forces at this pose, in steady motion.')).toBeVisible();
    // Screw and nut: 2π·T·η = F·p, so the thrust follows from the torque and the loss.
    const thrust = await figure(page, 'Couplings at the instant', /Foot screw/, 3);
    const lost = await figure(page, 'Couplings at the instant', /Foot screw/, 4);
    // 120 rev/min: what goes in at the source is thrust times 12 mm/s and the loss.
    const torque = Number((await deck(page).textContent())!.match(/Motor torque\s*([\d.]+)/)![1]);
    expect((thrust * 0.012 + lost) / (torque * 4 * Math.PI)).toBeCloseTo(1, 3);

    await page.getByRole('radio', { name: 'all', exact: true }).click();
    await expect(page.getByText(/longest arrow [\d\s\u202f]+ N/)).toBeVisible();
    // The size of a reaction is the same in every frame; its components are not.
    const size = await figure(page, 'Joint reactions', /Arm A foot pivot/, 4);
    await choose(page, 'Frame of the reactions', 'in the frame of the carried member');
    expect(await figure(page, 'Joint reactions', /Arm A foot pivot/, 4)).toBe(size);
    const inMember = (): Promise<number[]> => Promise.all([1, 2, 3].map((k) => figure(page, 'Joint reactions', /Arm A foot pivot/, k)));
    await expect.poll(async () => Math.hypot(...(await inMember())) / size).toBeCloseTo(1, 3);
    await page
      .getByRole('table', { name: 'Joint reactions' })
      .getByRole('button', { name: /^\|F\|/ })
      .click();
    await expect(page.getByRole('table', { name: 'Joint reactions' }).getByRole('columnheader', { name: /^\|F\|/ })).toHaveAttribute(
      'aria-sort',
      'descending',
    );

    await ran(page, 'the other stop');
    await member(page, 'Lower arm A').click();
    await expect(page.getByText(/Sum of the forces 0 N, of the moments about the origin 0 N·m/)).toBeVisible();
    const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as JSON' }).click()]);
    const sheet = JSON.parse(readFileSync(await file.path(), 'utf8')) as { lines: { point: number[]; force: number[]; moment: number[] }[] };
    const sum = [0, 0, 0, 0, 0, 0];
    let most = 0;
    for (const { point: p, force: f, moment: m } of sheet.lines) {
      most = Math.max(most, Math.hypot(...f));
      for (let k = 0; k < 3; k++) {
        const [i, j] = [(k + 1) % 3, (k + 2) % 3];
        sum[k] += f[k];
        sum[3 + k] += m[k] + (p[i] * f[j] - p[j] * f[i]) * 1e-3;
      }
    }
    expect(sheet.lines.length).toBeGreaterThan(3);
    for (const x of sum) expect(Math.abs(x)).toBeLessThan(1e-6 * most);
    await page.getByRole('button', { name: 'Show it alone with its arrows' }).click();
    await expect(page.getByRole('button', { name: 'Show all again' })).toBeVisible();
  });

  test('turning the crank takes the train over from a run, where it stands', async ({ page, site }) => {
    await openCopy(page, site, 'Inspection lift');
    await ran(page, 'the other stop');
    await page.getByRole('slider', { name: 'Time of the run' }).focus();
    await page.keyboard.press('End');
    await expect(page.getByText(/^Forces at [\d.]+ s of the run/)).toBeVisible();
    await expect(position(page)).toHaveAttribute('aria-valuenow', '100');
    await position(page).focus();
    await page.keyboard.press('Shift+ArrowDown');
    await expect(page.getByText('Forces at this pose, in steady motion.')).toBeVisible();
    await expect(position(page)).toHaveAttribute('aria-valuenow', '99');
  });
});

test('along a shaft: torsion between its wheels is what the ledger gives it, bearings do not sink, and the run has its worst', async ({
  page,
  site,
}) => {
  await openCopy(page, site, 'Paddle winding gear');
  await ran(page, 'the other stop');
  await member(page, 'Pinion shaft').click();
  // Before, that of the source's shaft stands there.
  await expect(page.getByText(/^\s*Pinion shaft, at .* of the run/)).toBeVisible();
  const table = 'At wheels and bearings';
  await expect(page.getByRole('table', { name: table })).toBeVisible();
  const torsion = await figure(page, table, /Spur pair/, 3);
  const rack = await figure(page, 'Couplings at the instant', /Rack mesh/, 1);
  // The rack pinion of 17 teeth and module 6 has its pitch radius at 51 mm;
  // of its torque the rack feels what the mesh's efficiency of 0.95 leaves.
  expect((Math.abs(torsion) * 0.95) / (Math.abs(rack) * 0.051)).toBeCloseTo(1, 2);
  for (const bearing of [/bearing 1/, /bearing 2/]) {
    expect(await figure(page, table, bearing, 4)).toBe(0);
    expect(await figure(page, table, bearing, 2)).toBe(0);
  }
  await page.getByRole('button', { name: 'Go to the worst bending' }).click();
  await expect(page.getByText(/^Forces at .* s of the run/)).toBeVisible();
});

test('for strength analysis: the sheet of an arm of the lift is on the nodes of its mesh, force by force, and the solver finds nothing in the supports', async ({
  page,
  site,
}) => {
  test.slow();
  await openCopy(page, site, 'Inspection lift');
  await page.getByRole('button', { name: /^Loads/ }).click();
  await choose(page, 'Member of the load sheet', 'Upper arm C');
  const [sheetFile] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save as JSON' }).click()]);
  const sheet = JSON.parse(readFileSync(await sheetFile.path(), 'utf8')) as { lines: { name: string; force: number[] }[] };
  const size = page.getByRole('textbox', { name: 'Size of elements' });
  await size.fill('0');
  await size.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: /Size of elements/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Mesh it and put the sheet on it' })).toBeDisabled();
  await size.fill('2.4 cm');
  await size.press('Enter');
  await expect(size).toHaveValue('24');
  await page.getByRole('button', { name: 'Mesh it and put the sheet on it' }).click();
  await expect(page.getByText(/\d+ nodes, \d+ elements/)).toBeVisible({ timeout: 90_000 });
  await expect(page.getByText(/Greatest equivalent stress [\d.]+ MPa.*supports carry 0 N/)).toBeVisible();
  // What was found, as a picture: its scale, the change of shape, a section, the safety, kept with the sheet.
  const picture = page.getByRole('img', { name: /^Stress of Upper arm C .*: none to [\d.]+ MPa/ });
  await expect(picture).toBeVisible();
  await choose(page, 'Change of shape', 'true size');
  await choose(page, 'Section of the member', 'across y');
  await page.getByRole('slider', { name: 'Place of the section through the member' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByText(/^Safety against yielding [\d.]+ at 235 MPa/)).toBeVisible();
  const yielding = page.getByRole('textbox', { name: 'Yield strength' });
  await yielding.fill('355');
  await yielding.press('Enter');
  await expect(page.getByText(/^Safety against yielding [\d.]+ at 355 MPa/)).toBeVisible();
  await page.getByRole('button', { name: 'Save result with the load sheet' }).click();
  await expect(page.getByText(/Saved with the sheet “Upper arm C at this pose”: greatest equivalent stress [\d.]+ MPa/)).toBeVisible();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save the deck' }).click()]);
  expect(file.suggestedFilename()).toMatch(/Upper arm C\.inp$/);
  const deck = readFileSync(await file.path(), 'utf8');
  const blocks = deck.split('\n** AT').slice(1);
  expect(blocks).toHaveLength(sheet.lines.length);
  blocks.forEach((block, k) => {
    const sum = [0, 0, 0];
    const [, forces] = block.split('*CLOAD\n');
    for (const line of forces.split('\n*')[0].split('\n')) {
      const [, direction, force] = line.split(',').map(Number);
      sum[direction - 1] += force;
    }
    const most = Math.hypot(...sheet.lines[k].force);
    sum.forEach((x, i) => expect(Math.abs(x - sheet.lines[k].force[i])).toBeLessThan(1e-6 * most));
  });
  // Moved on, the forces are others, and so would the stress be.
  await page.getByRole('slider', { name: 'Crank of the source' }).focus();
  await page.keyboard.press('Shift+ArrowUp');
  await expect(page.getByText('The position or the instant has changed since')).toBeVisible();
});

test('load sheets are kept under a name: of an instant of a run and of a place under the hand, found again with their figures', async ({
  page,
  site,
}) => {
  await openCopy(page, site, 'Paddle winding gear');
  await ran(page, 'the other stop');
  await choose(page, 'Member of the load sheet', 'Pinion shaft');
  await page.getByRole('slider', { name: 'Time of the run' }).focus();
  await page.keyboard.press('PageUp');
  await expect(page.getByText(/^Forces at [\d.]*[1-9][\d.]* s of the run/)).toBeVisible();
  const rack = async (): Promise<string> =>
    (await page
      .getByRole('table', { name: 'Load sheet', exact: true })
      .getByRole('row', { name: /Rack mesh/ })
      .getByRole('cell')
      .nth(3)
      .textContent())!.trim();
  const inRun = await rack();
  await page.getByRole('button', { name: 'Save load sheet', exact: true }).click();
  const kept = page.getByRole('list', { name: 'Saved load sheets' });
  await expect(kept.getByText(/Pinion shaft, [\d.]+ s into For the loads of Pinion shaft/)).toBeVisible();
  const name = page.getByRole('textbox', { name: 'Name of the sheet', exact: true });
  await name.fill('Raising');
  await name.press('Enter');
  await position(page).focus();
  await page.keyboard.press('Home');
  await expect(page.getByText('Forces at this pose, in steady motion.')).toBeVisible();
  await page.getByRole('button', { name: 'Save load sheet', exact: true }).click();
  const still = await rack();
  expect(still).not.toBe(inRun);
  await position(page).focus();
  await page.keyboard.press('End');
  await kept.getByRole('button', { name: 'Raising', exact: true }).click();
  await expect.poll(rack).toBe(inRun);
  await kept.getByRole('button', { name: 'Pinion shaft at this pose', exact: true }).click();
  await expect.poll(rack).toBe(still);
  // Found by name too.
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /Find/ }).fill('Raising');
  await page.keyboard.press('Enter');
  await expect.poll(rack).toBe(inRun);
  await kept.getByRole('button', { name: 'Delete Raising' }).click();
  await expect(kept.getByRole('button', { name: 'Raising', exact: true })).toHaveCount(0);
});
