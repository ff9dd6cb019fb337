import { dataSheet, expect, idOf, member, openCopy, openNew, test } from './site';

test.describe('what bears its load', () => {
  test('a mesh that fails stands first, with its factors; a fix is tried, applied and undone; the release says what was rated', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Inspection lift');
    const order = page.getByRole('navigation', { name: 'Work order' });
    await expect(order.getByRole('button', { name: /^Rating\s*, trouble/ })).toBeVisible({ timeout: 20_000 });
    await order.getByRole('button', { name: /^Rating/ }).click();
    const table = page.getByRole('table', { name: 'Rating' });
    const worst = table.getByRole('row').nth(1);
    await expect(worst).toContainText('Geared arms');
    await expect(worst).toContainText('✗');
    const how = page.getByRole('region', { name: 'How it was worked out' });
    await expect(how).toContainText('ISO 6336-2:2006');
    await expect(how).toContainText('σH = ZB·ZH·ZE·Zε·Zβ');
    await expect(how).toContainText('Assumptions:');
    // AGMA beside ISO, where it is asked for: a root and a flank of both wheels.
    const agma = page.getByRole('checkbox', { name: /by AGMA 2101 too/ });
    await agma.check();
    await expect(table.getByRole('row', { name: /, AGMA/ })).toHaveCount(4, { timeout: 20_000 });
    await agma.uncheck();
    await expect(table.getByRole('row', { name: /, AGMA/ })).toHaveCount(0, { timeout: 20_000 });
    // Every fix was tried on the whole design; the one that is applied cures it.
    const fixes = how.getByRole('group', { name: 'Fixes' });
    await fixes.getByRole('button', { name: /^Case-hardened steel for/ }).click({ timeout: 30_000 });
    await expect(order.getByRole('button', { name: /^Rating\s*, (in order|in work)/ })).toBeVisible({ timeout: 20_000 });
    await expect(table).not.toContainText('✗');
    await order.getByRole('button', { name: /^Release/ }).click();
    await expect(page.getByText(/^✓ Rating: 10 safeties and lives/)).toBeVisible();
    await page.getByRole('button', { name: /^Undo: Case-hardened/ }).click();
    await expect(order.getByRole('button', { name: /^Rating\s*, trouble/ })).toBeVisible({ timeout: 20_000 });
  });

  test('a mesh that bears more than is wanted: smaller sizes are proposed, applied and undone', async ({ page, site }) => {
    await openCopy(page, site, 'Towpath trolley');
    const order = page.getByRole('navigation', { name: 'Work order' });
    await order.getByRole('button', { name: /^Rating/ }).click();
    const table = page.getByRole('table', { name: 'Rating' });
    await table
      .getByRole('row', { name: /^Cage wheel, Spur pair\s+Tooth root\s/ })
      .first()
      .click({ timeout: 20_000 });
    const how = page.getByRole('region', { name: 'How it was worked out' });
    await how.getByRole('button', { name: 'Propose sizes' }).click();
    await how.getByRole('group', { name: 'Sizes' }).getByRole('button').first().click({ timeout: 60_000 });
    await expect(page.getByRole('button', { name: /^Undo: (Face width|Module|Profile shifts)/ })).toBeVisible();
    // What was proposed bears what is wanted; and it is asked anew of what is there now.
    await expect(how.getByRole('button', { name: 'Propose sizes' })).toBeVisible({ timeout: 20_000 });
    await expect(table.getByRole('row').filter({ hasText: 'Spur pair' }).filter({ hasText: '✗' })).toHaveCount(0);
  });

  test('what is not stated is named, stated for all gears at once, and a wish that cannot be is refused beside its field', async ({ page, site }) => {
    await openNew(page, site, 'Nothing in it');
    const order = page.getByRole('navigation', { name: 'Work order' });
    await order.getByRole('button', { name: /^Rating\s*, empty/ }).click();
    await expect(page.getByText('Nothing is rated yet')).toBeVisible();
    await openCopy(page, site, 'Screw gate');
    await order.getByRole('button', { name: /^Rating/ }).click();
    await expect(page.getByRole('table', { name: 'Rating' })).toContainText('Screw, buckling', { timeout: 20_000 });
    await expect(page.getByRole('table', { name: 'Rating' })).toContainText('Belt, strand force');
    await expect(page.getByText('the steel of the shaft is not stated').first()).toBeVisible();
    await openCopy(page, site, 'Level board');
    await order.getByRole('button', { name: /^Rating/ }).click();
    const factor = page.locator('#rating-applicationFactor');
    await factor.fill('0.5');
    await factor.press('Tab');
    await expect(page.getByText(/at least 1|not less than 1|from 1/).first()).toBeVisible();
    await factor.fill('1.5');
    await factor.press('Tab');
    await expect(page.getByRole('region', { name: 'How it was worked out' })).toContainText('1.5', { timeout: 20_000 });
  });

  test('shafts and keys: a steel for all, a wanted safety that fails, and the steel that cures it', async ({ page, site }) => {
    await openCopy(page, site, 'Weed rake');
    const order = page.getByRole('navigation', { name: 'Work order' });
    await order.getByRole('button', { name: /^Rating/ }).click();
    const table = page.getByRole('table', { name: 'Rating' });
    const drum = table.getByRole('row', { name: /Drum shaft: keyway at 90 mm.*Shaft, fatigue/ });
    await expect(drum).toContainText('✓', { timeout: 20_000 });
    await page.getByRole('button', { name: 'State for all shafts' }).click();
    await expect(page.getByText('no shoulder, groove, fit or key of the shaft is stated').first()).toBeVisible({ timeout: 20_000 });
    const wanted = page.locator('#rating-shaftSafety');
    await wanted.fill('9.5');
    await wanted.press('Tab');
    await expect(drum).toContainText('✗', { timeout: 20_000 });
    await drum.click();
    const how = page.getByRole('region', { name: 'How it was worked out' });
    await expect(how).toContainText('DIN 743-1 and -2');
    await how.getByRole('button', { name: /^Steel C60E .* of Drum shaft$/ }).click({ timeout: 30_000 });
    await expect(drum).toContainText('✓', { timeout: 20_000 });
  });

  test('a V-belt that slips is tightened by a fix that was tried; its limits stand in its data sheet', async ({ page, site }) => {
    await openCopy(page, site, 'Weed rake');
    await page
      .getByRole('navigation', { name: 'Work order' })
      .getByRole('button', { name: /^Rating/ })
      .click();
    const slip = page.getByRole('table', { name: 'Rating' }).getByRole('row', { name: /^V-belt.*Belt, slip/ });
    await expect(slip).toContainText('✓', { timeout: 20_000 });
    await slip.click();
    await expect(page.getByRole('region', { name: 'How it was worked out' })).toContainText('Euler–Eytelwein');
    const sheet = dataSheet(page);
    await sheet.getByRole('button', { name: 'Further values' }).click();
    await expect(sheet.getByLabel('Rated power of one belt')).toHaveValue('600');
    const tight = sheet.getByLabel('Pre-tension of a strand');
    await tight.fill('25');
    await tight.press('Enter');
    await expect(slip).toContainText('✗', { timeout: 20_000 });
    const fix = page.getByRole('group', { name: 'Fixes' }).getByRole('button', { name: /^Pre-tension \d+ N instead of 25 N$/ });
    await fix.click({ timeout: 30_000 });
    await expect(slip).toContainText('✓', { timeout: 20_000 });
  });

  test('natural frequencies: modes with their shapes, sources that stand still, lost motion of the output', async ({ page, site }) => {
    await page.goto(`${site.url}design/${await idOf(page, site, 'Weed rake')}`);
    await expect(page.getByRole('navigation', { name: 'Work order' })).toBeVisible();
    await page.keyboard.press('y');
    const dialog = page.getByRole('dialog', { name: 'Natural frequencies and lost motion' });
    const table = dialog.getByRole('table', { name: 'Natural frequencies' });
    await expect(table.getByRole('row')).toHaveCount(9, { timeout: 30_000 });
    await table.getByRole('row', { name: /^2 .*Chain, strand/ }).click();
    await expect(dialog.getByRole('heading', { name: 'Mode 2' })).toBeVisible();
    await expect(dialog.getByRole('img', { name: /Drum shaft, Rake pinion [−-]?\d/ })).toBeVisible();
    await dialog.getByRole('button', { name: 'Let it swing' }).click();
    await expect(dialog.getByRole('button', { name: 'Let it swing' })).toHaveAttribute('aria-pressed', 'true');
    await expect(dialog.locator('uni-mode-shape g')).toHaveAttribute('transform', /scale\(-?0\.\d/);
    const outputs = dialog.getByRole('table', { name: 'Lost motion and wind-up' });
    await expect(outputs.getByRole('row', { name: /^Rake guide 0\.0449 mm/ })).toBeVisible();
    await expect(dialog).toContainText('Worm drive 0.0449 mm (as stated)');
    await dialog.getByRole('combobox', { name: 'Sources' }).click();
    await page.getByRole('option', { name: 'stand still' }).click();
    await expect(table.getByRole('row', { name: /V-belt, strand/ })).toBeVisible({ timeout: 30_000 });
    await dialog.getByRole('button', { name: 'Close' }).click();
    await expect(dialog).toBeHidden();
  });

  test('forced vibration: what ripple and transmission error add to each part; more damping halves the resonance', async ({ page, site }) => {
    await openCopy(page, site, 'Weed rake');
    await page.keyboard.press('y');
    const dialog = page.getByRole('dialog', { name: 'Natural frequencies and lost motion' });
    const table = dialog.getByRole('table', { name: 'Forced vibration' });
    const chain = table.getByRole('row', { name: /^Chain, strand 1 / });
    await expect(chain).toContainText(/ 20\.3\sN\s+81/, { timeout: 30_000 });
    await expect(dialog).toContainText('Ripple of Rake motor');
    await table.getByRole('row', { name: /^Rake rack / }).click();
    await expect(dialog).toContainText('Greatest at 81 % of the nominal speed, most of it by Rake motor.');
    const damping = dialog.locator('#vi-damping');
    await damping.fill('0.04');
    await damping.press('Tab');
    // At a resonance the damping alone holds it: twice the damping, half of it.
    await expect(chain).toContainText(/ 10\.\d+\sN\s+81/, { timeout: 30_000 });
    await damping.fill('0');
    await damping.press('Tab');
    await expect(dialog.getByText(/0\.001/).first()).toBeVisible();
  });

  test('a key’s cells may be left open, filled, and emptied again', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await member(page, 'Pinion shaft').click();
    const sheet = dataSheet(page);
    await sheet.getByRole('button', { name: 'Further values' }).click();
    const height = sheet.getByLabel('Height h, row 1');
    await expect(height).toHaveValue('');
    await height.fill('10');
    await height.press('Enter');
    await expect(height).toHaveValue('10');
    await height.fill('');
    await height.press('Enter');
    await expect(height).toHaveValue('');
    await expect(sheet.getByRole('alert')).toHaveCount(0);
  });
});
