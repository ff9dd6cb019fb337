import { Page } from '@playwright/test';
import { Hands, MAP, SHEET, choose, dataSheet, deck, expect, layout, openAndRun, openCopy, openNew, test } from './site';

/** What somebody new to it fell into once, each as a job. */
const stepTo = (page: Page, name: string) =>
  page
    .getByRole('navigation', { name: 'Work order' })
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
/** The wanted output's row on Duty. */
const wanted = (page: Page, name: string) => page.getByRole('table', { name: 'Wanted outputs' }).getByRole('row', { name: new RegExp(`^${name}`) });

async function motorWanting(page: Page, h: Hands, speed: string): Promise<void> {
  await h.step('Duty');
  await h.click(/^(add )?Motor$/);
  await h.type('Nominal speed', '1440');
  await stepTo(page, 'Duty');
  await page
    .getByRole('main')
    .getByRole('button', { name: /^(add )?Speed$/ })
    .click();
  await h.type('Wanted value', speed);
  await h.type('Tolerance ±', '1');
}

test.describe('a wanted speed', () => {
  test('stays with the output: a stage moves it along, what is still needed stays until it is met, the input speed follows at a press', async ({
    page,
    site,
  }) => {
    await openNew(page, site, 'Hoist');
    const h = new Hands(page);
    await motorWanting(page, h, '96');
    await expect(wanted(page, 'Speed')).toContainText('missed by');
    await expect(wanted(page, 'Speed')).toContainText('still needed 15 : 1');
    await wanted(page, 'Speed').getByRole('button').first().click();
    await dataSheet(page).getByRole('button', { name: 'Insert stage behind Input shaft' }).click();
    await h.click(/^Spur pair/, SHEET);
    // All of it in one pair is proposed with a warning, and split at a press.
    await expect(dataSheet(page)).toContainText(/is a high ratio for one spur pair/);
    await h.click(/^Split over \d stages/, SHEET);
    await expect(dataSheet(page).getByRole('list', { name: 'Proposed stages' }).getByRole('listitem')).toHaveCount(2);
    await dataSheet(page).getByRole('radio', { name: 'least inertia' }).click();
    await expect(dataSheet(page).getByRole('list', { name: 'Proposed stages' })).toContainText(': 1');
    await dataSheet(page).getByRole('radio', { name: 'evenly' }).click();
    await h.click('Insert', SHEET);
    await expect(deck(page)).toContainText('met');
    await expect(page.getByText(/Wanted output moved along: Speed/)).toBeVisible();
    // Another value is missed again; the motor's speed that meets it is one press away.
    await stepTo(page, 'Duty');
    await wanted(page, 'Speed').getByRole('button').first().click();
    await h.type('Wanted value', '120');
    await expect(dataSheet(page)).toContainText('Still needed:');
    await dataSheet(page)
      .getByRole('button', { name: /^Set speed of Motor to/ })
      .click();
    await expect(dataSheet(page)).toContainText('✓ met: 120 rev/min');
  });
});

test('a planetary stage follows from sun and ring, and refuses a ring that leaves no whole planet', async ({ page, site }) => {
  await openNew(page, site, 'Slewing reducer');
  const h = new Hands(page);
  await h.step('Duty');
  await h.click(/^(add )?Motor$/);
  await h.click('Insert stage after Input shaft', MAP);
  await h.click(/^Planetary set/, SHEET);
  await h.type('Teeth of the sun', '20');
  await h.type('Teeth of the ring', '100');
  await expect(page.getByLabel('Teeth of a planet', { exact: true })).toHaveValue('40');
  await h.type('Teeth of the ring', '99');
  await expect(dataSheet(page).getByRole('alert')).toContainText('must be even');
  await dataSheet(page)
    .getByRole('button', { name: /^Sun \d+, planets/ })
    .first()
    .click();
  await h.click('Insert', SHEET);
  await expect(page.getByRole('button', { name: /Findings: 0 faults/ })).toBeVisible();
});

test('an inch design begins in inches: diametral pitch, usual sizes, bounds, and what was typed is kept', async ({ page, site }) => {
  await openNew(page, site, 'Sluice hoist');
  const h = new Hands(page);
  await page.getByRole('button', { name: 'Inch', exact: true }).click();
  await h.step('Duty');
  await h.click(/^(add )?Motor$/);
  await h.click('Insert stage after Input shaft', MAP);
  await h.click(/^Spur pair/, SHEET);
  await expect(page.getByLabel('Diametral pitch', { exact: true })).toHaveValue('12');
  await expect(page.getByLabel('Face width', { exact: true })).toHaveValue('0.75');
  await h.type('Face width', '5000');
  await expect(dataSheet(page).getByRole('alert')).toContainText('Face width (in) must be at most 3');
  await h.type('Face width', '7/8');
  // The least of a diametral pitch is the most of a module, 1000 mm.
  await h.type('Diametral pitch', '0.001');
  await expect(dataSheet(page).getByRole('alert')).toContainText('Diametral pitch (1/in) must be at least 0.0254');
  await h.type('Diametral pitch', '2 mm');
  await expect(page.getByLabel('Diametral pitch', { exact: true })).toHaveValue('2 mm');
  await h.type('Diametral pitch', '10');
  await h.click('Insert', SHEET);
  await dataSheet(page).getByRole('button', { name: 'Wheel', exact: true }).first().click();
  await expect(page.getByLabel('Diametral pitch', { exact: true })).toHaveValue('10');
  await expect(page.getByLabel('Face width', { exact: true })).toHaveValue('7/8 in');
  // Nothing of the other system stands beside the fields unless asked for.
  await expect(dataSheet(page)).not.toContainText('mm');
});

test('a motion is stated of the slide where it is wanted; the crank follows through the train, and charts stand over any quantity', async ({
  page,
  site,
}) => {
  await openCopy(page, site, 'Paddle winding gear');
  const h = new Hands(page);
  await h.step('Duty');
  await page.getByRole('table', { name: 'Sources' }).getByRole('row').nth(1).getByRole('button').first().click();
  await choose(page, 'Motion profile', 'to and fro');
  await choose(page, 'Motion of', /Paddle/);
  await h.type('Distance or angle', '120');
  await choose(page, 'Defined by', 'speed and acceleration');
  await h.type('Maximum speed', '30');
  await h.type('Maximum acceleration', '50');
  await h.type('Dwell', '1');
  // 120 mm at 30 mm/s and 50 mm/s²: 120/30 + 30/50 = 4.6 s.
  await expect(dataSheet(page)).toContainText(/travels .* rev, at up to .* rev\/min/);
  await expect(dataSheet(page).getByLabel('Maximum speed').locator('xpath=ancestor::mat-form-field')).toContainText('mm/s');
  await stepTo(page, 'Motion');
  await h.type('Duration', '11.2');
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'instants over' })).toBeVisible();
  await page.getByLabel('Find a quantity').fill('place paddle');
  await page.getByRole('combobox', { name: 'Quantities charted' }).click();
  await page
    .getByRole('option', { name: /^Place of Paddle/ })
    .first()
    .click();
  await page.keyboard.press('Escape');
  const figures = page.getByRole('table', { name: /Figures: Place/ });
  await expect(figures).toContainText('120');
  await page.getByRole('combobox', { name: 'Charted over' }).click();
  await page
    .getByRole('option', { name: /^Place of Paddle/ })
    .first()
    .click();
  // Pressed in the chart, the train goes to the nearest time: from one place of the paddle to another.
  const chart = page
    .getByRole('main')
    .getByRole('img', { name: /^Torque of/ })
    .first();
  const at = async (share: number): Promise<string> => {
    await chart.scrollIntoViewIfNeeded();
    const box = (await chart.boundingBox())!;
    await page.mouse.click(box.x + share * box.width, box.y + box.height / 2);
    return page.getByLabel('Position of the source').inputValue();
  };
  const early = await at(0.3);
  await expect.poll(() => at(0.7)).not.toBe(early);
});

test('speeds from a file lead the source by speeds, with the unit of their heading', async ({ page, site }) => {
  await openNew(page, site, 'Logged drive');
  const h = new Hands(page);
  await h.step('Duty');
  await h.click(/^(add )?Motor$/);
  await choose(page, 'Motion profile', 'ramps');
  await page.getByLabel('Log or table of motion').setInputFiles({
    name: 'drive.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('time [s];speed [1/min]\n0;0\n1;120\n3;120\n4;0\n'),
  });
  await expect(dataSheet(page).getByRole('combobox', { name: 'Unit of the motion' })).toContainText('1/min');
  await h.click('Lead the source by it', SHEET);
  await expect(
    dataSheet(page)
      .getByRole('img', { name: 'Speed of Motor' })
      .or(dataSheet(page).getByRole('group', { name: 'Speed of Motor' })),
  ).toBeVisible();
  // The area under the speeds: 120 rev/min for (1/2 + 2 + 1/2) s are 6 turns.
  await stepTo(page, 'Motion');
  await h.type('Duration', '4');
  await page.getByRole('button', { name: 'Run', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: 'instants over' })).toBeVisible();
  await page.getByLabel('Find a quantity').fill('place input');
  await page.getByRole('combobox', { name: 'Quantities charted' }).click();
  await page
    .getByRole('option', { name: /^Place of Input/ })
    .first()
    .click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('table', { name: /Figures: Place/ })).toContainText('2160');
});

test('says what was not checked, what each load does, and closes the tools with their step', async ({ page, site }) => {
  await openAndRun(page, site, 'Paddle winding gear');
  await stepTo(page, 'Release');
  await expect(page.getByRole('main')).toContainText(/Not checked/);
  await expect(page.getByRole('main')).toContainText(/[Ss]trength, wear and life/);
  await stepTo(page, 'Duty');
  await expect(page.getByRole('table', { name: 'Loads' })).toContainText('opposes the motion');
  await stepTo(page, 'Layout');
  await page.getByRole('button', { name: 'Tools', exact: true }).click();
  await expect(page.getByLabel('Centre distances')).toBeVisible();
  await stepTo(page, 'Motion');
  await expect(layout(page)).toBeVisible();
  await expect(page.getByLabel('Centre distances')).toHaveCount(0);
});

test('shapes that are no longer in the picture are given back: as many after a hundred changes as after ten', async ({ page, site }) => {
  await openCopy(page, site, 'Paddle winding gear');
  // An element by its name, from the search.
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: /Find/ }).fill('spur wheel');
  await page.getByRole('option', { name: /^Spur wheel element$/ }).click();
  const width = page.getByLabel('Face width', { exact: true });
  const shapes = async (): Promise<number> => Number(await layout(page).getAttribute('data-shapes'));
  const change = async (from: number, to: number): Promise<void> => {
    for (let k = from; k < to; k++) {
      await width.fill(String(40 + k / 10));
      await width.press('Enter');
    }
    await page.waitForTimeout(500);
  };
  await change(0, 10);
  const few = await shapes();
  await change(10, 100);
  expect(await shapes()).toBeLessThanOrEqual(few + 2);
});

test('a list shows what is chosen, also where it takes the place of another with as many entries', async ({ page, site }) => {
  await openNew(page, site, 'First things first');
  const h = new Hands(page);
  await h.step('Duty');
  await h.click(/Linear speed/);
  await h.click(/^(add )?Motor$/);
  await expect(page.getByRole('combobox', { name: 'Drives' })).toContainText('Input shaft bearing');
});

test('what was built while the layout was away is in the picture when it comes back', async ({ page, site }) => {
  await openNew(page, site, 'Rake drive');
  const h = new Hands(page);
  await h.step('Duty');
  await h.click(/^(add )?Motor$/);
  await h.put('Input shaft', /^Spur pair/);
  await h.put('Shaft', /^Rack and pinion/);
  await h.step('Layout');
  await expect(layout(page)).toHaveAttribute('data-whole', 'true');
});
