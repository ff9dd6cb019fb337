import { expect, member, openCopy, position, test } from './site';

test.describe('runs in time', () => {
  test('a run meets the stop when the closed form says; its instant is shown by the train, and charted quantities have their figures', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Weed rake');
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await expect(page.getByText('Run, 241 instants over 24 s: one thing happens.')).toBeVisible();
    // 720 rev/min · 99/250 · 2/50 · 17/25 · 126π mm / 60 = 51.16 mm/s: the 400 mm to the stop take 7.818 s.
    const happened = page.getByRole('list', { name: 'What happened' });
    await expect(happened).toContainText('7.818 s');
    await expect(happened).toContainText('the upper stop of “Rake guide” holds');
    await happened.getByRole('button', { name: '7.818 s' }).click();
    await member(page, 'Rake carriage').click();
    await expect(page.locator('uni-data-sheet')).toContainText(/Position\s*400\s*mm/);
    // Another quantity, found by name: its greatest is the place of the stop.
    await page.getByLabel('Find a quantity').fill('place rake guide');
    await page.getByRole('combobox', { name: 'Quantities charted' }).click();
    await page.getByRole('option', { name: 'Place of Rake guide' }).click();
    await page.keyboard.press('Escape');
    const figures = page.getByRole('table', { name: 'Figures: Place of Rake guide' }).getByRole('row').nth(1);
    // Least, greatest, and where it stands under the cursor.
    await expect(figures.getByRole('cell').nth(1)).toHaveText('0');
    await expect(figures.getByRole('cell').nth(2)).toHaveText('400');
    await expect(figures.getByRole('cell').nth(5)).toHaveText('400');
    await page.getByRole('button', { name: 'Back to the hand' }).click();
    await expect(page.locator('uni-data-sheet')).toContainText(/Position\s*0\s*mm/);
  });

  test('a change makes a run stale, and it is computed again at a press; a long one is ended and keeps what it has', async ({ page, site }) => {
    await openCopy(page, site, 'Swing footbridge');
    await page.getByRole('button', { name: /^Motion/ }).click();
    const duration = page.getByLabel('Duration', { exact: true });
    await duration.fill('5');
    await duration.press('Enter');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await expect(page.getByText(/instants over 5 s/)).toBeVisible();
    await duration.fill('6');
    await duration.press('Enter');
    await expect(page.getByText('The design has changed since this run.')).toBeVisible();
    await page.getByRole('button', { name: 'Compute it again' }).click();
    await expect(page.getByText(/instants over 6 s/)).toBeVisible();
    // The longest that can be asked for: it is ended as soon as that can be done, and has fewer instants than it would have had.
    const instants = page.getByLabel('Instants', { exact: true });
    await instants.fill('20000');
    await instants.press('Enter');
    await duration.fill('100');
    await duration.press('Enter');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await page.getByRole('button', { name: 'End here' }).click();
    const said = page.getByText(/^Run, \d+ instants over /);
    await expect(page.getByText('The design has changed since this run.')).toBeHidden();
    const got = Number(/^Run, (\d+)/.exec((await said.textContent())!.trim())![1]);
    expect(got).toBeGreaterThan(1);
    expect(got).toBeLessThan(20_000);
  });

  test('let go, the paddle is held by its pawl; with the pawl lifted it runs down to its stop', async ({ page, site }) => {
    await openCopy(page, site, 'Paddle winding gear');
    await position(page).focus();
    for (let k = 0; k < 4; k++) await page.keyboard.press('Shift+ArrowUp');
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Let it go' }).click();
    const happened = page.getByRole('list', { name: 'What happened' });
    await expect(happened).toContainText('“Ratchet and pawl” grips');
    await position(page).focus();
    await page.keyboard.press('Shift+ArrowDown');
    await page.getByRole('button', { name: /^Layout/ }).click();
    await page.getByRole('button', { name: 'Lift it' }).click();
    await page.getByRole('button', { name: /^Motion/ }).click();
    await page.getByRole('button', { name: 'Let it go' }).click();
    await expect(happened).toContainText('the lower stop of “Paddle guide” holds');
  });
});
