import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Design } from '@unirota/core/document';
import { dataSheet, expect, layout, openCopy, test } from './site';

test.describe('named quantities', () => {
  test('are stated on Duty, named by fields and by each other, carried through by a new symbol, and not deleted while something uses them', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Paddle winding gear');
    const order = page.getByRole('navigation', { name: 'Work order' });
    await order.getByRole('button', { name: /^Duty/ }).click();
    const table = page.getByRole('table', { name: 'Named quantities' });
    const field = (name: string) => table.getByRole('textbox', { name, exact: true });
    const state = async (name: string, text: string): Promise<void> => {
      await field(name).fill(text);
      await field(name).press('Enter');
    };
    await page.getByRole('button', { name: 'Named quantity' }).click();
    await state('Symbol of Quantity 1', 'z_1');
    await state('Value or formula of z_1', '18');
    await page.getByRole('button', { name: 'Named quantity' }).click();
    await state('Symbol of Quantity 2', 'z_2');
    await state('Value or formula of z_2', '6*z_1');
    await expect(table.getByRole('row', { name: /^z_2|6\*z_1/ }).last()).toContainText('108');
    // What cannot be read, has no end or no right unit is said at its field, and stays there.
    await state('Value or formula of z_1', 'z_2/6');
    await expect(table.getByText(/these need each other: z_1 → z_2 → z_1|these need each other: z_2 → z_1 → z_2/)).toBeVisible();
    await expect(field('Value or formula of z_1')).toHaveValue('z_2/6');
    await state('Value or formula of z_1', '18 mm');
    await expect(table.getByText('a plain number is wanted here')).toBeVisible();
    await state('Value or formula of z_1', '18');
    // A field names one: it says what it comes to, and follows.
    await page.getByRole('button', { name: 'Find', exact: true }).click();
    await page.getByRole('combobox', { name: /Find/ }).fill('Spur wheel');
    await page.keyboard.press('Enter');
    const teeth = dataSheet(page).getByLabel('Teeth', { exact: true });
    await teeth.fill('z_2');
    await teeth.press('Enter');
    await expect(dataSheet(page).getByText('= 108', { exact: true })).toBeVisible();
    await teeth.fill('z_2 + z_9');
    await teeth.press('Enter');
    await expect(dataSheet(page).getByText(/“z_9” is no unit and no named quantity/)).toBeVisible();
    await teeth.press('Escape');
    await state('Value or formula of z_1', '17');
    await expect(dataSheet(page).getByText('= 102', { exact: true })).toBeVisible();
    // A value that the field cannot take is refused where it was typed; nothing changes.
    await state('Value or formula of z_1', '17.25');
    await expect(table.getByText(/Teeth of Spur wheel/).first()).toBeVisible();
    await expect(dataSheet(page).getByText('= 102', { exact: true })).toBeVisible();
    await state('Value or formula of z_1', '18');
    await state('Symbol of Quantity 2', 'z_w');
    await expect(teeth).toHaveValue('z_w');
    await table.getByRole('button', { name: 'Delete z_w' }).click();
    await expect(page.getByText(/“z_w” is used by Teeth of Spur wheel/)).toBeVisible();
    await table.getByRole('button', { name: 'Delete z_1' }).click();
    await expect(page.getByText(/“z_1” is used by z_w/)).toBeVisible();
    // A number in place of the formula, and the quantity is free.
    await teeth.fill('108');
    await teeth.press('Enter');
    await table.getByRole('button', { name: 'Delete z_w' }).click();
    await table.getByRole('button', { name: 'Delete z_1' }).click();
    await expect(page.getByText('A named quantity is a number with a symbol')).toBeVisible();
    await page.keyboard.press('Control+z');
    await expect(field('Symbol of z_1').or(field('Symbol of Quantity 1')).first()).toBeVisible();
    await order.getByRole('button', { name: /^Layout/ }).click();
    await expect(layout(page)).toBeVisible();
  });
});

test.describe('a study', () => {
  test('goes over a quantity, shows curve, table and sensitivities, names the values at which there is no design, and leaves the design as it is', async ({
    page,
    site,
  }) => {
    const demo = JSON.parse(readFileSync('demo/paddle-winding-gear.json', 'utf8')) as Design;
    const pinion = demo.elements.find((e) => e.name === 'Crank pinion')!;
    const design: Design = {
      ...demo,
      name: 'Studied',
      quantities: [{ id: 'q1', name: 'Teeth of the crank pinion', symbol: 'z_1', value: 18 }],
      typed: { ...demo.typed, [`${pinion.id}.teeth`]: 'z_1' },
    };
    const made = await page.request.post(`${site.url}api/designs`, { data: { design, save: randomUUID() } });
    const { id } = (await made.json()) as { id: string };
    await page.goto(`${site.url}design/${id}`);
    await page.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name: /^Duty/ }).click();
    await page.getByRole('button', { name: 'Study …' }).click();
    const dialog = page.getByRole('dialog', { name: 'Study: results over a quantity' });
    const field = (name: RegExp) => dialog.getByRole('textbox', { name });
    await field(/^From/).fill('17');
    await field(/^To/).fill('16');
    await field(/^To/).blur();
    await expect(dialog.getByText('To must not be below From')).toBeVisible();
    await expect(dialog.getByRole('button', { name: 'Compute' })).toBeDisabled();
    await field(/^To/).fill('19');
    await field(/^Step/).fill('1/2');
    await field(/^Step/).blur();
    await dialog.getByRole('button', { name: 'Compute' }).click();
    const table = dialog.getByRole('table', { name: 'Results of the study' });
    // 30 rev/min · 18/108 · 17·6π mm, and in proportion.
    await expect(table.getByRole('row', { name: /^18 / })).toContainText('26.7', { timeout: 30_000 });
    await expect(table.getByRole('row', { name: /^17 / })).toContainText('25.22');
    await expect(table.getByRole('row', { name: /^35\/2 / })).toContainText('✗ no design');
    await expect(dialog.getByText(/^✗ z_1 = 35\/2: Teeth of Crank pinion/)).toBeVisible();
    await expect(dialog.getByText(/^Sensitivities at the present value: Paddle speed 1;/)).toBeVisible();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await expect(page.getByRole('table', { name: 'Named quantities' }).getByRole('textbox', { name: 'Value or formula of z_1' })).toHaveValue('18');
  });
});
