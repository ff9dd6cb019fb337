import { expect, openCopy, test } from './site';

test.describe('by keyboard', () => {
  test('the focus never falls to the body: after a deletion, a folded pane, a closed search and the end of a stage being put in', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Paddle winding gear');
    const focused = () => page.evaluate(() => document.activeElement?.tagName ?? 'BODY');
    const kept = async (): Promise<void> => {
      await page.waitForTimeout(400);
      expect(await focused()).not.toBe('BODY');
    };
    await page.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name: /^Duty/ }).click();
    await page.getByRole('button', { name: 'Delete Hand force' }).click();
    await kept();
    await page.keyboard.press('p');
    await kept();
    await page.keyboard.press('Escape');
    await kept();
    await page.getByRole('button', { name: 'Find', exact: true }).click();
    await expect(page.getByRole('dialog', { name: 'Find' })).toBeVisible();
    await page.keyboard.press('Escape');
    await kept();
    await page.keyboard.press('s');
    await kept();
    await page.keyboard.press('s');
  });

  test('digits typed into a list or a field are for it, not for the steps', async ({ page, site }) => {
    await openCopy(page, site, 'Weed rake');
    const duty = page.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name: /^Duty/ });
    await duty.click();
    await page.getByRole('table', { name: 'Sources' }).getByRole('row').nth(1).getByRole('button').first().click();
    const list = page.getByRole('combobox', { name: 'Motion profile' });
    await list.focus();
    for (const key of ['2', '3', 'g', 'm']) await page.keyboard.press(key);
    await expect(duty).toHaveAttribute('aria-current', 'step');
    const field = page.getByLabel('Nominal speed', { exact: true });
    await field.focus();
    await page.keyboard.press('End');
    await page.keyboard.type('5');
    await expect(field).toHaveValue(/5$/);
    await expect(duty).toHaveAttribute('aria-current', 'step');
  });

  test('one table of commands: the search finds stages, tools, exports and names; the menu does what the key does; the guide opens at the step', async ({
    page,
    site,
  }) => {
    await openCopy(page, site, 'Paddle winding gear');
    const find = async (text: string, name: RegExp): Promise<void> => {
      await page.keyboard.press('Control+k');
      await page.getByRole('combobox', { name: /Find/ }).fill(text);
      await page.getByRole('option', { name }).first().click();
    };
    await find('worm drive', /^Insert stage: worm drive/);
    await expect(page.getByRole('complementary', { name: 'Data sheet' })).toContainText('Worm drive');
    await page.keyboard.press('Escape');
    const exported = page.waitForEvent('download');
    await find('ledger csv', /^Export ledger/);
    expect((await exported).suggestedFilename()).toBe('Paddle winding gear copy ledger.csv');
    await find('centre distances', /^Show centre distances/);
    await expect(page.getByRole('main').getByText('a 252')).toBeVisible();
    await find('rename paddle', /^Rename Paddle rename/);
    await expect(page.getByRole('textbox', { name: 'Name', exact: true })).toBeFocused();
    await page.keyboard.press('Escape');
    // A field that is folded away, and one that is a table: unfolded, with the caret in it.
    await find('press fits of pinion', /^Press fits of Pinion shaft/);
    const row = page.getByRole('button', { name: 'Add a row' });
    await expect(row.and(page.locator(':focus'))).toHaveCount(1);
    await page.keyboard.press('Enter');
    const fit = page.getByRole('textbox', { name: 'Fit, row 1' });
    await fit.fill('press');
    await fit.press('Enter');
    await expect(page.getByRole('alert')).toContainText('the hole first, as in H7/s6');
    await fit.fill('H7/s6');
    await fit.press('Enter');
    await expect(page.getByRole('alert')).toHaveCount(0);
    await find('roughness of crank pinion', /^Roughness Rz of Crank pinion/);
    await expect(page.getByRole('textbox', { name: /^Roughness Rz/ })).toBeFocused();
    await page.keyboard.press('Escape');
    // The same commands in the menu.
    await page.getByRole('button', { name: 'Menu' }).click();
    await page.getByRole('menuitem', { name: 'View' }).click();
    // By key: on its way the mouse would cross other groups, which open in turn.
    await page.getByRole('menuitem', { name: /^Fold or unfold the data sheet/ }).press('Enter');
    await expect(page.getByRole('complementary', { name: 'Data sheet' })).toBeHidden();
    await page.getByRole('navigation', { name: 'Work order' }).getByRole('button', { name: /^Duty/ }).click();
    await page.keyboard.press('F1');
    const guide = page.getByRole('complementary', { name: 'Guide' });
    await expect(guide.getByText('A new load acts about or along the axis')).toBeVisible();
    await guide.getByLabel('Search the guide').fill('between the middles ratchet nonsense');
    await expect(guide).toContainText('Nothing in the guide has these words.');
    await guide.getByLabel('Search the guide').fill('distances between their middles');
    await expect(guide.getByRole('button', { name: /Layout/ })).toBeVisible();
    await guide.getByRole('button', { name: 'Close the guide' }).click();
    await expect(guide).toHaveCount(0);
    await page.getByRole('button', { name: 'Keys', exact: true }).click();
    await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Select an element; again, its member');
    await expect(page.getByRole('dialog', { name: 'Keys' })).toContainText('Insert stage');
  });
});
