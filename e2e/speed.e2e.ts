import { row } from '../core/testing/designs';
import { dataSheet, expect, layout, position, test } from './site';

/**
 * Times in the real page, reported and never asserted: a shared machine's
 * clock is no witness. What must hold is that everything works at this size.
 */
test('a design of 300 wheels opens, is edited and turned; the times are reported', async ({ page, site }) => {
  test.setTimeout(180_000);
  const design = row(Array.from({ length: 150 }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const)))).design;
  design.name = 'Three hundred wheels';
  design.elements.forEach((e, k) => (e.name = `Wheel ${k + 1}`));
  const made = (await (await page.request.post(`${site.url}api/designs`, { data: { save: crypto.randomUUID(), design } })).json()) as { id: string };
  const start = Date.now();
  await page.goto(`${site.url}design/${made.id}`);
  await page.getByRole('group', { name: 'Train map' }).getByRole('button').nth(150).waitFor();
  const opened = Date.now() - start;
  await layout(page).waitFor();
  const drawn = Date.now() - start;
  await page.getByRole('group', { name: 'Train map' }).getByRole('button', { name: /^m1, / }).press('Enter');
  await dataSheet(page).getByRole('button', { name: 'Wheel 1', exact: true }).click();
  const teeth = page.getByLabel('Teeth', { exact: true });
  const times: number[] = [],
    pictures: number[] = [];
  for (const z of ['24', '25', '23', '24', '23']) {
    await teeth.fill(z);
    // Enter validates, saves the step and works everything out before it returns; the picture follows.
    const [worked, shown] = await teeth.evaluate((el) => {
      const t = performance.now();
      el.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
      const now = performance.now() - t;
      return new Promise<[number, number]>((done) => requestAnimationFrame(() => setTimeout(() => done([now, performance.now() - t]))));
    });
    times.push(worked);
    pictures.push(shown);
  }
  await position(page).focus();
  const turning = await position(page).evaluate((el) => {
    const out: number[] = [];
    for (let k = 0; k < 60; k++) {
      const t = performance.now();
      el.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }));
      out.push(performance.now() - t);
    }
    return out.sort((a, b) => a - b)[30];
  });
  expect(Number(await position(page).getAttribute('aria-valuenow'))).toBeGreaterThan(1);
  const middle = (a: number[]): string => [...a].sort((x, y) => x - y)[a.length >> 1].toFixed(0);
  console.log(
    `300 wheels: opened in ${opened} ms, drawn by the software renderer in ${drawn} ms; edit to recomputed ledger and findings ${middle(times)} ms, to the next picture by the software renderer ${middle(pictures)} ms (medians); pose and scene update by hand ${turning.toFixed(2)} ms (median)`,
  );
});
