import type { Locator, Page } from '@playwright/test';
import { expect, layout, openCopy, test } from './site';

const panel = (page: Page): Locator => page.getByRole('complementary', { name: 'Remarks' });
const step = (page: Page, name: string): Promise<void> =>
  page
    .getByRole('navigation', { name: 'Work order' })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
async function about(page: Page, option: RegExp): Promise<void> {
  await panel(page).getByRole('combobox', { name: 'What the remark is about' }).click();
  await page.getByRole('option', { name: option }).click();
}
async function add(page: Page, text: string): Promise<void> {
  await panel(page).getByRole('textbox', { name: 'Remark', exact: true }).fill(text);
  await panel(page).getByRole('button', { name: 'Add remark' }).click();
  await expect(panel(page).getByText(text)).toBeVisible();
}

test.describe('remarks of reviewers', () => {
  test('on a field, a place and an instant reach the other page within 2 s; answered, resolved, and asked for by the release', async ({
    page,
    site,
    context,
  }) => {
    const id = await openCopy(page, site, 'Paddle winding gear');
    const other = await context.newPage();
    await other.goto(`${site.url}design/${id}`);
    await expect(page.getByRole('button', { name: /open in another page/ })).toBeVisible();
    // On a field of what is selected.
    await step(page, 'Train');
    await page.getByRole('button', { name: 'Pinion shaft', exact: true }).first().click();
    await page.getByRole('complementary', { name: 'Data sheet' }).getByRole('button', { name: 'Remark …' }).click();
    await panel(page).getByRole('combobox', { name: 'Field that the remark is about' }).click();
    await page.getByRole('option', { name: 'Note' }).click();
    await add(page, 'Which steel?');
    await expect(panel(page).getByRole('button', { name: 'Go to Note of Pinion shaft' })).toBeVisible();
    await expect(other.getByRole('button', { name: 'Remarks, 1 open' })).toBeVisible({ timeout: 2000 });
    // Answered there, seen here; resolved here, seen there.
    await other.getByRole('button', { name: 'Remarks, 1 open' }).click();
    await panel(other).getByRole('button', { name: 'Answer' }).click();
    await panel(other).getByRole('textbox', { name: 'Answer' }).fill('C45, as the crankshaft');
    await panel(other).getByRole('textbox', { name: 'Answer' }).press('Control+Enter');
    await expect(panel(page).getByText('C45, as the crankshaft')).toBeVisible({ timeout: 2000 });
    await panel(page).getByRole('button', { name: 'Resolve' }).click();
    await expect(other.getByRole('button', { name: 'Remarks, 0 open' })).toBeVisible({ timeout: 2000 });
    // On a place: it stands in the layout of both.
    await about(page, /A place in the layout/);
    const box = (await layout(page).boundingBox())!;
    for (const [x, y] of [
      [0.5, 0.55],
      [0.45, 0.62],
      [0.52, 0.45],
      [0.48, 0.7],
    ]) {
      if (await page.getByText('Click the place that the remark is about.').isHidden()) break;
      await page.mouse.click(box.x + x * box.width, box.y + y * box.height);
    }
    await add(page, 'Grease nipple here');
    await expect(page.locator('uni-layout').getByText('❝ Grease nipple here')).toBeAttached();
    await expect(other.locator('uni-layout').getByText('❝ Grease nipple here')).toBeAttached({ timeout: 2000 });
    // On an instant of a run, to which one goes from the remark.
    await step(page, 'Motion');
    await page.getByRole('button', { name: 'Run', exact: true }).click();
    await about(page, /The instant that is shown/);
    await add(page, 'Does it start gently?');
    await panel(page)
      .getByRole('button', { name: /^Go to 0 s in the unsaved run/ })
      .click();
    // The release asks for a reason while remarks are open.
    await step(page, 'Release');
    await page.getByRole('button', { name: 'Release as A …' }).click();
    const dialog = page.getByRole('dialog', { name: 'Release A' });
    await expect(dialog.getByText('2 remarks not resolved.')).toBeVisible({ timeout: 30_000 });
    await dialog.getByRole('button', { name: 'Close' }).click();
    await other.close();
    await expect(page.getByRole('button', { name: /open in another page/ })).toHaveCount(0, { timeout: 5000 });
  });

  test('that cannot be stored stay in their field; what was said meanwhile is there when the server is back', async ({ page, site, context }) => {
    const id = await openCopy(page, site, 'Level board');
    await page.keyboard.press('e');
    await add(page, 'Before');
    await site.kill();
    const field = panel(page).getByRole('textbox', { name: 'Remark', exact: true });
    await field.fill('Said while the server is away');
    await panel(page).getByRole('button', { name: 'Add remark' }).click();
    await expect(panel(page).getByText('The server does not answer')).toBeVisible({ timeout: 20_000 });
    await expect(field).toHaveValue('Said while the server is away');
    await site.start();
    await context.request.post(`${site.url}api/designs/${id}/remarks`, {
      data: { id: crypto.randomUUID(), text: 'Said by somebody else', subject: { kind: 'design' } },
    });
    await expect(panel(page).getByText('Said by somebody else')).toBeVisible({ timeout: 20_000 });
    await panel(page).getByRole('button', { name: 'Add remark' }).click();
    await expect(panel(page).locator('li').filter({ hasText: 'Said while the server is away' })).toHaveCount(1);
    // What is written stays over a reload; what is saved elsewhere is offered.
    await field.fill('Half a thought');
    await page.reload();
    await page.getByRole('button', { name: /^Remarks, \d open/ }).click();
    await expect(panel(page).getByRole('textbox', { name: 'Remark', exact: true })).toHaveValue('Half a thought');
    await field.fill('');
    const { design } = (await (await context.request.get(`${site.url}api/designs/${id}`)).json()) as { design: { name: string } };
    const data = { base: 1, save: crypto.randomUUID(), design: { ...design, name: 'Named elsewhere' } };
    expect((await context.request.put(`${site.url}api/designs/${id}`, { data })).ok()).toBe(true);
    await page.getByRole('button', { name: 'Load revision 2, saved elsewhere' }).click({ timeout: 15_000 });
    await expect(page.getByRole('textbox', { name: 'Name of the design' })).toHaveValue('Named elsewhere');
    // Nothing is asked for again and again, also where a change left no line.
    const asked: string[] = [];
    page.on('request', (r) => r.url().includes('/remarks?') && asked.push(r.url()));
    const twice = { id: crypto.randomUUID(), text: 'Said twice', subject: { kind: 'design' } };
    for (let k = 0; k < 2; k++) await context.request.post(`${site.url}api/designs/${id}/remarks`, { data: twice });
    await expect(panel(page).getByText('Said twice')).toBeVisible();
    const soon = asked.length;
    await page.waitForTimeout(1500);
    expect(asked.length - soon).toBeLessThan(3);
    // Edited, deleted.
    const mine = panel(page).getByRole('listitem').filter({ hasText: 'Before' });
    await mine.getByRole('button', { name: 'Edit' }).click();
    await panel(page).getByRole('textbox', { name: 'Text of the remark' }).fill('Said better');
    await panel(page).getByRole('button', { name: 'Store' }).click();
    await expect(panel(page).getByText('Said better')).toBeVisible();
    await panel(page).getByRole('listitem').filter({ hasText: 'Said better' }).getByRole('button', { name: 'Delete' }).click();
    await expect(panel(page).getByText('Said better')).toHaveCount(0);
  });
});
