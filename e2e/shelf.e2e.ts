import { expect, openCopy, test } from './site';

test.describe('pieces that are used again', () => {
  test('what is copied goes through the clipboard into another design: only its connections are asked for', async ({ page, site, context }) => {
    await context.grantPermissions(['clipboard-read', 'clipboard-write']);
    await openCopy(page, site, 'Paddle winding gear');
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Pinion shaft', exact: true }).first().click();
    // In the same design nothing is asked: it is connected again as it was.
    await page.keyboard.press('Control+c');
    await expect(page.getByText(/^Copied: \d+ items/)).toBeVisible();
    const text = await page.evaluate(() => navigator.clipboard.readText());
    expect((JSON.parse(text) as { format: string }).format).toBe('unirota-design');
    await page.keyboard.press('Control+v');
    await expect(page.getByText(/^Pinion shaft is in/)).toBeVisible();
    await page.getByRole('button', { name: /^Undo: Insert Pinion shaft/ }).click();
    // In another one the wheels that it meshed with are asked for.
    await openCopy(page, site, 'Swing footbridge');
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.keyboard.press('Control+v');
    const dialog = page.getByRole('dialog', { name: 'Insert Pinion shaft' });
    await dialog.getByRole('combobox').first().click();
    await page.getByRole('option', { name: 'Sun', exact: true }).click();
    await expect(dialog.getByText(/takes module of Sun/)).toBeVisible();
    await dialog.getByRole('button', { name: 'Insert' }).click();
    await expect(dialog).toHaveCount(0);
    await expect(page.getByText(/^Pinion shaft is in/)).toBeVisible();
    // A text that is no design is said to be none.
    await page.evaluate(() => navigator.clipboard.writeText('nothing of a design'));
    await page.reload();
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.keyboard.press('Control+v');
    await expect(page.getByText('What is on the clipboard is no part of a design')).toBeVisible();
  });

  test('a piece goes onto the shelf, into another design, and is taken over again when it is newer there', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Pinion shaft', exact: true }).first().click();
    await page.getByRole('button', { name: 'Shelf …' }).click();
    const shelf = page.getByRole('dialog', { name: 'Shelf' });
    await shelf.getByRole('textbox', { name: 'Name' }).fill('Wheel and pinion');
    await shelf.getByRole('textbox', { name: 'Name' }).blur();
    await shelf.getByRole('button', { name: 'Save to shelf' }).click();
    const line = shelf.getByRole('listitem').filter({ hasText: 'Wheel and pinion' });
    await expect(line).toContainText('revision 1');
    await shelf.getByRole('button', { name: 'Close' }).click();
    await openCopy(page, site, 'Level board');
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.keyboard.press('q');
    await line.getByRole('button', { name: 'Insert' }).click();
    const dialog = page.getByRole('dialog', { name: 'Insert Wheel and pinion' });
    // Its numbers are open to change before it goes in.
    await dialog.getByRole('button', { name: 'Numbers' }).click();
    await expect(dialog.getByRole('textbox', { name: 'Teeth' }).first()).toBeVisible();
    await dialog.getByRole('button', { name: 'Insert' }).click();
    await expect(page.getByText('from the shelf, revision 1')).toBeVisible();
    await expect(page.getByText('Saved', { exact: true })).toBeVisible({ timeout: 30_000 });
    const here = page.url();
    // The piece is a design: it is opened, changed and saved as one.
    await page.keyboard.press('q');
    await line.getByRole('link', { name: 'Open' }).click();
    await expect(page.getByRole('heading', { name: 'Wheel and pinion' }).or(page.getByText('Wheel and pinion').first())).toBeVisible();
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Pinion shaft', exact: true }).first().click();
    await page.keyboard.press('Control+d');
    const revision = async (): Promise<number> => {
      const r = await page.request.get(`${site.url}api/designs?folder=Shelf`);
      return ((await r.json()) as { designs: { revision: number }[] }).designs[0].revision;
    };
    await expect.poll(revision, { timeout: 30_000 }).toBe(2);
    await page.goto(here);
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.getByRole('button', { name: /^Take over revision/ }).click();
    await expect(page.getByText(/is as the shelf has it/)).toBeVisible();
    await page.getByRole('button', { name: /^Undo: Take over from the shelf/ }).click();
    await expect(page.getByText('from the shelf, revision 1')).toBeVisible();
  });

  test('a standard piece meshes with a wheel of the design, and takes its module', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.keyboard.press('q');
    await page
      .getByRole('dialog', { name: 'Shelf' })
      .getByRole('listitem')
      .filter({ hasText: 'Spur wheel on a shaft' })
      .getByRole('button', { name: 'Insert' })
      .click();
    const dialog = page.getByRole('dialog', { name: 'Insert Spur wheel on a shaft' });
    await dialog.getByRole('combobox').first().click();
    await page.getByRole('option', { name: 'Rack pinion' }).click();
    await expect(dialog.getByText(/takes module.* of Rack pinion/)).toBeVisible();
    await dialog.getByRole('button', { name: 'Insert' }).click();
    await expect(page.getByText(/^Spur wheel on a shaft is in/)).toBeVisible();
  });
});

test.describe('variants of a design', () => {
  test('one is stated, compared with the base, and becomes the base', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page.keyboard.press('v');
    const dialog = page.getByRole('dialog', { name: 'Variants' });
    const table = dialog.getByRole('table', { name: 'Variants compared' });
    await expect(table.getByRole('columnheader', { name: 'Base' })).toBeVisible({ timeout: 30_000 });
    await dialog.getByRole('button', { name: 'Add variant' }).click();
    await dialog.getByRole('textbox', { name: 'Name' }).fill('Finer');
    await dialog.getByRole('textbox', { name: 'Name' }).blur();
    await dialog.getByRole('combobox', { name: 'Item', exact: true }).click();
    await page.getByRole('option', { name: 'Spur wheel', exact: true }).click();
    await dialog.getByRole('combobox', { name: 'Field to change' }).click();
    await page.getByRole('option', { name: 'Teeth', exact: true }).click();
    const teeth = dialog
      .getByRole('textbox', { name: /Spur wheel: Teeth/ })
      .or(dialog.getByLabel('Teeth'))
      .first();
    // What cannot be is said beside the field, and nothing is lost.
    await teeth.fill('2.5');
    await teeth.press('Enter');
    await expect(dialog.getByText(/whole number/).first()).toBeVisible();
    await teeth.fill('126');
    await teeth.press('Enter');
    // 18 : 108 is 1/6, 18 : 126 is 1/7.
    const ratio = table.getByRole('row', { name: /Ratio to Pinion bearing/ });
    await expect(ratio.getByRole('cell').nth(1)).toHaveText('-1/6', { timeout: 30_000 });
    await expect(ratio.getByRole('cell').nth(2)).toHaveText('-1/7', { timeout: 30_000 });
    await expect(
      table
        .getByRole('row', { name: /^Findings: faults/ })
        .getByRole('cell')
        .nth(2),
    ).toHaveText('0');
    await dialog.getByRole('button', { name: 'Make base' }).click();
    await expect(dialog.getByRole('list', { name: 'Variants' }).getByRole('button', { name: 'Base before', exact: true })).toBeVisible();
    await expect(ratio.getByRole('cell').nth(1)).toHaveText('-1/7', { timeout: 30_000 });
    await expect(ratio.getByRole('cell').nth(2)).toHaveText('-1/6');
    await dialog.getByRole('button', { name: 'Delete Base before' }).click();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await expect(page.getByText(/18 : 126/).first()).toBeVisible();
  });
});

test.describe('the planner', () => {
  test('finds every train for a ratio and inserts the chosen one; what is wrong is said beside its field', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await page
      .getByRole('button', { name: /^Train/ })
      .first()
      .click();
    await page.getByRole('button', { name: 'Pinion shaft', exact: true }).first().click();
    await page.keyboard.press('r');
    const dialog = page.getByRole('dialog', { name: /^Planner/ });
    const ratio = dialog.getByRole('textbox', { name: 'Ratio, output by input' });
    const search = dialog.getByRole('button', { name: 'Search' });
    await ratio.fill('-3');
    await ratio.blur();
    await expect(dialog.getByText(/must be a number or a fraction above zero/)).toBeVisible();
    await expect(search).toBeDisabled();
    await ratio.fill('1/37.3');
    await dialog.getByRole('textbox', { name: 'Tooth counts' }).fill('12-1');
    await dialog.getByRole('textbox', { name: 'Tooth counts' }).blur();
    await expect(dialog.getByText(/whole numbers from 4 to 2000/)).toBeVisible();
    await dialog.getByRole('textbox', { name: 'Tooth counts' }).fill('12-120');
    await dialog.getByRole('textbox', { name: 'Tooth counts' }).blur();
    await search.click();
    await expect(dialog.getByText(/\d+ trains, all that there are with these teeth/)).toBeVisible({ timeout: 30_000 });
    // 13 · 19 over 83 · 111 is 247/9213, 10.85 ppm off.
    await expect(dialog.getByRole('table', { name: 'Trains found' }).getByRole('row').nth(1)).toContainText('247/9213');
    await dialog.getByRole('button', { name: 'Insert train' }).click();
    await expect(dialog).toHaveCount(0);
    await expect(page.getByText(/2 stages are in and meshed/)).toBeVisible();
    await expect(page.getByRole('table', { name: 'Ratios to the source' })).toContainText('−247/55278');
    await page.keyboard.press('Control+z');
    await expect(page.getByRole('table', { name: 'Ratios to the source' })).not.toContainText('247/55278');
  });
});
